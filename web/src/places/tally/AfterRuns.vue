<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { useAfter } from '../../api/queries/useAfter'
import { number, t } from '../../words/say'
import { age } from '../../words/times'

/** What stations started after this roll's offloads: no part of them, whatever became of it. */
const props = defineProps<{ tag: string }>()
const asked = useAfter(() => props.tag)
function stands(one: Shapes['AfterOut']): string {
  if (one.trouble) return one.trouble
  if (!one.ended_at) return t('afterRuns.goesOn')
  return one.code === 0 ? t('afterRuns.well') : t('afterRuns.code', { code: number(one.code ?? 0) })
}
const bad = (one: Shapes['AfterOut']) => Boolean(one.trouble) || (one.ended_at !== null && one.code !== 0)
</script>

<template>
  <ul v-if="asked.data.value?.length">
    <li v-for="one in asked.data.value" :key="one.started_at" :data-after-run="one.program">
      <span :class="{ trouble: bad(one) }">{{
        t('afterRuns.after', { program: one.program, station: one.station, stands: stands(one) })
      }}</span>
      {{ ' ' }}<span class="soft">{{ age(one.started_at) }}</span>
      <details v-if="one.output">
        <summary>{{ t('afterRuns.output') }}</summary>
        <pre>{{ one.output }}</pre>
      </details>
    </li>
  </ul>
</template>

<style scoped>
pre {
  overflow: auto;
  max-height: 20rem;
  font-family: var(--mono);
  white-space: pre-wrap;
}
</style>
