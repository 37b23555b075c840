<script setup lang="ts">
import { computed, ref } from 'vue'
import { t } from '../../words/say'
import FolderField from './FolderField.vue'
import MakeForm from './MakeForm.vue'
import RestoreForm from './RestoreForm.vue'
import TakeAwayForm from './TakeAwayForm.vue'
import type { Target } from './target'

/** A roll, one clip of it, or a day: which folder is said once, for whatever is to come there. */
const props = defineProps<{ tag?: string | undefined; clip?: string | undefined; day?: string | undefined }>()
const station = ref('')
const folder = ref('')
const target = computed<Target>(() => ({
  station: station.value,
  folder: folder.value.trim(),
  tags: props.tag ? [props.tag] : [],
  day: props.day ?? null,
}))
const lacks = computed(() => (target.value.folder ? undefined : t('returns.lacksFolder')))
const what = computed(() => {
  if (props.day) return t('returns.ofDay', { day: props.day })
  const clip = props.clip?.split('/').at(-1)
  return clip ? t('returns.ofClip', { clip, tag: props.tag ?? '' }) : (props.tag ?? '')
})
</script>

<template>
  <section class="chapter" data-to-folder>
    <h2>{{ t('returns.toFolder', { what }) }}</h2>
    <p class="line"><FolderField v-model:station="station" v-model:folder="folder" /></p>
    <RestoreForm :target="target" :clip="clip" :lacks="lacks" />
    <template v-if="!clip">
      <MakeForm :target="target" :lacks="lacks" />
      <TakeAwayForm :target="target" :lacks="lacks" />
    </template>
  </section>
</template>

<style scoped>
section > :deep(form) {
  margin-top: var(--space-5);
}
</style>
