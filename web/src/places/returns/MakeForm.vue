<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref } from 'vue'
import { useMakeWorking } from '../../api/acts/returns'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { CODECS, HEIGHTS } from './recipes'
import FolderField from './FolderField.vue'

/** Copies to work with, of a roll's recordings or of a day's, made by a recipe. */
const props = defineProps<{ tag?: string | undefined; day?: string | undefined }>()
const { whyNot } = useWho()
const station = ref('')
const folder = ref('')
const codec = ref<Shapes['Codec']>('prores_proxy')
const height = ref(0)
const burnIn = ref(false)
const make = useMakeWorking()
const what = computed(() => (props.day ? t('returns.ofDay', { day: props.day }) : (props.tag ?? '')))
const lacks = computed(() => (folder.value.trim() ? undefined : t('returns.lacksFolder')))
const go = () => {
  if (lacks.value) return
  make.mutate({
    station: station.value,
    folder: folder.value.trim(),
    tags: props.tag ? [props.tag] : [],
    day: props.day ?? null,
    codec: codec.value,
    height: height.value,
    burn_in: burnIn.value,
  })
}
</script>

<template>
  <section class="chapter" data-make>
    <h2>{{ t('making.title', { what }) }}</h2>
    <p class="soft">{{ t('making.says') }}</p>
    <form class="line" @submit.prevent="go()">
      <FolderField v-model:station="station" v-model:folder="folder" />
      <ChooseOne v-model="codec" :label="t('making.pictures')" :options="CODECS" data-codec />
      <ChooseOne v-model="height" :label="t('making.size')" :options="HEIGHTS" data-height />
      <label class="ticked"><Checkbox v-model="burnIn" binary /> {{ t('making.burnIn') }}</label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('making.make')"
        :why-not="whyNot('offload') ?? lacks"
        :busy="make.isPending.value"
        data-make-go
      />
      <SaidNo :error="make.error.value" />
    </form>
  </section>
</template>
