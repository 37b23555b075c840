<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useSayReader, useUseDrive } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { bytes } from '../../words/units'

/** Something plugged in that is no store of ours yet, with what speaks against it. */
const props = defineProps<{ volume: Shapes['VolumeOut'] }>()
const { whyNot } = useWho()
const open = ref(false)
const name = ref(props.volume.label)
const place = ref(t('firstDrive.here'))
const use = useUseDrive()
const say = useSayReader()
/** It is marked as a store, and not of this ledger: another one was lost, or still has it. */
const theirs = computed(() => props.volume.stored && !props.volume.store)
const go = () =>
  use.mutate({
    station: props.volume.station,
    path: props.volume.path,
    name: name.value,
    medium: props.volume.medium,
    place: place.value,
    reason: '',
    take_over: theirs.value,
  })
</script>

<template>
  <li :data-volume="volume.path">
    <span class="tag">{{
      volume.own_disk ? t(volume.station ? 'driveRow.itsOwnDisk' : 'firstDrive.ownDisk') : volume.label
    }}</span>
    <span>
      <code>{{ volume.path }}</code>
      <template v-if="volume.station">{{ t('driveRow.atStation', { station: volume.station }) }}</template>
      <strong v-if="volume.card">{{ t('driveRow.hangsOnTheBench') }}</strong>
      {{ t('firstDrive.room', { free: bytes(volume.free), total: bytes(volume.total) }) }}
      <span v-for="sentence in volume.against" :key="sentence" class="against">{{ sentence }}</span>
    </span>
    <ActButton
      type="button"
      class="quiet small"
      :label="t(theirs ? 'driveRow.takeItOver' : 'driveRow.useIt')"
      :why-not="
        whyNot('keep_stores') ??
        (volume.usable || theirs ? undefined : (volume.against[0] ?? t('driveRow.itIsACard')))
      "
      :data-use="volume.path"
      @press="open = !open"
    />
    <ActButton
      v-if="!volume.own_disk"
      type="button"
      link
      :label="volume.card ? t('driveRow.isNoCard') : t('driveRow.isACard')"
      :why-not="whyNot('keep_stores')"
      :busy="say.isPending.value"
      :data-card-at="volume.path"
      @press="say.mutate({ station: volume.station, path: volume.path, is_reader: !volume.card })"
    />
    <form v-if="open && (volume.usable || theirs)" class="line wide" @submit.prevent="go">
      <label>{{ t('firstDrive.called') }} <InputText v-model="name" class="field" data-called /></label>
      <label>{{ t('firstDrive.place') }} <InputText v-model="place" class="field" /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('driveRow.copiesGoTo', { name })"
        :busy="use.isPending.value"
      />
      <p class="soft">{{ t(theirs ? 'driveRow.whatTakingOverDoes' : 'driveRow.whatHappens') }}</p>
    </form>
    <SaidNo class="wide" :error="use.error.value ?? say.error.value" />
  </li>
</template>

<style scoped>
.against {
  display: block;
}
</style>
