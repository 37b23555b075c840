<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import VerdictMark from '../../marks/VerdictMark.vue'
import NoteSign from '../../parts/NoteSign.vue'
import { age } from '../../words/times'
import { t } from '../../words/say'
import { bytes, counted, rate } from '../../words/units'
import { VERDICTS } from '../../words/verdicts'
import { LIVES } from './lives'

/** A card in the list of all. */
const props = defineProps<{ card: Shapes['CardOut'] }>()
const onIt = computed(() => {
  const card = props.card
  if (!card.read_at) return t('cardLine.notKnown')
  const what = card.files
    ? `${card.tag ? `${card.tag}, ` : ''}${counted(card.files, 'file')}, ${bytes(card.bytes)}`
    : t('cardLine.nothing')
  return t('cardLine.asRead', { what, age: age(card.read_at) })
})
const behaved = computed(() => {
  const card = props.card
  const parts = [t('cardLine.filled', {}, card.cycles)]
  if (card.rate) parts.push(rate(card.rate))
  if (card.errors) parts.push(t('cardLine.errors', {}, card.errors))
  return parts.join(', ')
})
const against = computed(() => props.card.out_of_use || props.card.doubts[0] || '')
</script>

<template>
  <li :data-card="card.label" :data-life="card.life">
    <PennantMark :letter="card.camera.letter" :size="28" />
    <RouterLink class="tag label" :to="`/cards/${encodeURIComponent(card.label)}`">{{
      card.label
    }}</RouterLink>
    <VerdictMark class="small" :verdict="VERDICTS[card.standing]" />
    <span>
      <strong>{{ LIVES[card.life] }}</strong>, {{ card.whereabouts }}
      <span v-if="against" class="trouble">{{ against }}</span>
    </span>
    <span>{{ onIt }}<NoteSign on="card" :name="card.label" /></span>
    <span class="soft">{{ behaved }}</span>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 2.25rem 6rem 7.5rem 1.4fr 1.3fr 1fr;
  gap: var(--space-1) var(--space-4);
  align-items: center;
  min-height: 3.25rem;
  padding: var(--space-1) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.label {
  font-size: var(--type-head);
}
.small :deep(*),
.small.verdict {
  font-size: var(--type-tag);
}
@media (--tablet) {
  li {
    grid-template-columns: 2.25rem 1fr auto;
  }
  li > span:not(.verdict) {
    grid-column: 1 / -1;
  }
}
</style>
