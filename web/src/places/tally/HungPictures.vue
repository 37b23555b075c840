<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Shapes } from '../../api/client'
import { pictureOf } from '../../api/queries/useClips'
import { useChoosing } from '../../api/queries/useChoosing'
import { MARK_WORDS } from '../../parts/look/markWords'
import LookThrough from '../../parts/look/LookThrough.vue'
import { t } from '../../words/say'
import ChoiceLine from './ChoiceLine.vue'
import SpotCheck from './SpotCheck.vue'

/** A roll's clips on one line, in the order of their files; one that is opened comes up large. */
const props = defineProps<{
  clips: readonly Shapes['RollClip'][]
  tag: string
  /** Brings in further clips, where there are any. */
  more?: (() => Promise<unknown>) | undefined
}>()
const at = ref<number>()
const choosing = useChoosing(() => props.tag)
const said = computed(() => {
  const found = new Map<string, Set<string>>()
  for (const one of choosing.data.value?.marks ?? [])
    found.set(one.path, (found.get(one.path) ?? new Set()).add(MARK_WORDS[one.kind]))
  return found
})
const saidOf = (path: string) => [...(said.value.get(path) ?? [])].join(', ')

async function open(path: string) {
  const found = () => props.clips.findIndex((one) => one.path === path)
  while (found() < 0 && props.more) await props.more()
  if (found() >= 0) at.value = found()
}
const nameOf = (clip: Shapes['RollClip']) => clip.path.split('/').at(-1) ?? clip.path
</script>

<template>
  <ul class="hanging" tabindex="0" role="list" :aria-label="t('hungPictures.picturesOfThisRoll')" data-hung>
    <li v-for="(clip, n) in clips" :key="clip.id">
      <button type="button" :aria-label="t('hungPictures.open', { name: nameOf(clip) })" @click="at = n">
        <img
          v-if="pictureOf(tag, clip, 'small')"
          :src="pictureOf(tag, clip, 'small')"
          alt=""
          loading="lazy"
        />
        <span v-else class="blank" />
      </button>
      <span class="tag">{{ nameOf(clip) }}</span>
      <span v-if="saidOf(clip.path)" class="said">{{ saidOf(clip.path) }}</span>
    </li>
  </ul>
  <SpotCheck :tag="tag" @open="open" />
  <ChoiceLine :tag="tag" @open="open" />
  <LookThrough v-model:at="at" :clips="clips" :tag="tag" />
</template>

<style scoped>
.hanging {
  display: flex;
  margin-top: var(--space-4);
  border-top: var(--line) solid var(--ink-soft);
  overflow-x: auto;
}
li {
  display: grid;
  flex: none;
  justify-items: center;
  padding: 0 var(--space-2) var(--space-1);
}
/* The peg that holds it. */
li::before {
  content: '';
  width: 0.5rem;
  height: 0.75rem;
  margin-top: calc(-1 * var(--space-1));
  background: var(--ink);
}
button {
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
.said {
  max-width: 10rem;
  font-size: var(--type-small);
  text-align: center;
}
li img {
  height: 6rem;
}
.blank {
  display: block;
  width: 9rem;
  height: 6rem;
  background: var(--sheet);
  border: var(--line) solid var(--hair);
}
</style>
