<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { MARK_WORDS } from '../../parts/look/markWords'
import { t } from '../../words/say'
import { age } from '../../words/times'

/** What somebody wrote down, where, and a way to what it is about. */
const props = defineProps<{ said: Shapes['SaidOut'] }>()
const about = computed(() => {
  const { name, clip, timecode } = props.said
  return [name, clip.split('/').at(-1), timecode].filter(Boolean).join(', ')
})
const path = computed(() => {
  const { where, on, name } = props.said
  if (where === 'report') return '/reports'
  if (on === 'store') return { path: '/stores', query: { store: name } }
  if (on === 'day') return `/days/${name}`
  return `/${on === 'card' ? 'cards' : 'tally'}/${encodeURIComponent(name)}`
})
const source = computed(() => {
  const { where, by, at } = props.said
  const said = { by, age: age(at) }
  if (where === 'report') return t('find.inReport', said)
  return where === 'mark' ? t('find.marked', said) : t('find.noted', said)
})
</script>

<template>
  <p class="line" data-said-line>
    <RouterLink class="tag" :to="path">{{ about }}</RouterLink>
    <span>
      <strong v-if="said.mark">{{ MARK_WORDS[said.mark] }}</strong> <q v-if="said.words">{{ said.words }}</q>
      <span class="soft"> {{ source }}</span>
    </span>
  </p>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 14rem 1fr;
  gap: var(--space-3);
  align-items: baseline;
  margin: 0;
  padding: var(--space-1h) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.tag {
  overflow-wrap: anywhere;
}
@media (--phone) {
  .line {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
</style>
