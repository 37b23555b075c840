<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useMakeVolume, useSayShelf } from '../../api/acts/sets'
import type { Shapes } from '../../api/client'
import { useWaterline } from '../../api/queries/useWaterline'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { dayAndClock } from '../../words/times'
import { bytes, counted } from '../../words/units'
import FolderField from '../returns/FolderField.vue'

/** One medium: what goes onto it, how full it gets, its folder, and its shelf. */
const props = defineProps<{ number: number; volume: Shapes['VolumeOfSetOut'] }>()
const { whyNot } = useWho()
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const open = ref(false)
const station = ref('')
const folder = ref('')
const shelf = ref('')
const make = useMakeVolume()
const say = useSayShelf()
const full = computed(() => Math.min(100, Math.floor((props.volume.takes / props.volume.room) * 100)))
const rolls = computed(() =>
  props.volume.rolls.map((one) => `${one.tag} (${counted(one.files, 'file')})`).join(', '),
)
const here = () => ({ number: props.number, volume: props.volume.number })
const go = () =>
  make.mutate(
    { ...here(), station: station.value, folder: folder.value.trim(), system_disk_reason: '' },
    { onSuccess: () => (open.value = false) },
  )
</script>

<template>
  <li :data-volume="volume.name">
    <p class="line">
      <strong class="tag">{{ volume.name }}</strong>
      <span>{{ rolls || t('sets.nothingOnIt') }}</span>
      <span class="soft">{{ t('sets.fills', { bytes: bytes(volume.bytes), full }) }}</span>
      <span v-if="volume.closed_at" data-closed>{{
        t('sets.closed', { at: dayAndClock(volume.closed_at, zone) })
      }}</span>
      <span v-if="volume.shelf" data-shelf>{{ t('sets.kept', { shelf: volume.shelf }) }}</span>
      <ActButton
        type="button"
        link
        :label="t('sets.more')"
        :aria-expanded="open"
        :why-not="whyNot('offload')"
        :data-open-volume="volume.name"
        @press="open = !open"
      />
    </p>
    <template v-if="open">
      <form class="line" @submit.prevent="folder.trim() && go()">
        <FolderField v-model:station="station" v-model:folder="folder" />
        <ActButton
          type="submit"
          class="quiet small"
          :label="t('sets.makeFolder', { name: volume.name })"
          :why-not="folder.trim() ? undefined : t('returns.lacksFolder')"
          :busy="make.isPending.value"
          data-make-folder
        />
      </form>
      <form class="line" @submit.prevent="shelf.trim() && say.mutate({ ...here(), shelf })">
        <label
          >{{ t('sets.where') }} <InputText v-model="shelf" class="field" maxlength="80" data-shelf-field
        /></label>
        <ActButton
          type="submit"
          class="quiet small"
          :label="t('sets.keep')"
          :why-not="shelf.trim() ? undefined : t('sets.sayWhere')"
          :busy="say.isPending.value"
        />
      </form>
    </template>
    <p v-if="make.isSuccess.value" role="status" data-made>
      <RouterLink to="/returns">{{ t('sets.comes') }}</RouterLink>
    </p>
    <SaidNo :error="make.error.value ?? say.error.value" />
  </li>
</template>

<style scoped>
li {
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.line {
  align-items: baseline;
}
</style>
