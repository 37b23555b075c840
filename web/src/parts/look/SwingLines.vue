<script setup lang="ts">
import { computed, watch } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { t } from '../../words/say'

/** How far each channel of a recording's sound swings, over its length. */
const props = defineProps<{ from: string }>()
const emit = defineEmits<{ drawn: [] }>()
interface Swings {
  channels: number[][]
}
const HIGH = 28
const heard = useQuery({
  queryKey: ['swings', () => props.from],
  queryFn: async () => (await (await fetch(props.from)).json()) as Swings,
  staleTime: Infinity,
})
const channels = computed(() =>
  (heard.data.value?.channels ?? []).map((swings) => ({
    length: swings.length,
    loudest: Math.max(0, ...swings),
    path: swings
      .map((swing, n) => `M${String(n)} ${String(-swing * HIGH)}h1V${String(swing * HIGH)}h-1z`)
      .join(''),
  })),
)
watch(channels, (now) => now.length && emit('drawn'), { immediate: true, flush: 'post' })
/** In decibels below full scale, as sound people read it. */
function level(swing: number): string {
  return swing > 0
    ? t('swingLines.decibels', { level: (20 * Math.log10(swing)).toFixed(0) })
    : t('swingLines.silent')
}
</script>

<template>
  <ol v-if="channels.length" class="channels" data-swings>
    <li v-for="(one, n) in channels" :key="n" :data-silent="one.loudest === 0 || undefined">
      <span>{{ t('swingLines.channel', { channel: n + 1, level: level(one.loudest) }) }}</span>
      <svg
        :viewBox="`0 ${-HIGH} ${Math.max(1, one.length)} ${2 * HIGH}`"
        preserveAspectRatio="none"
        aria-hidden="true"
      >
        <path d="M0 0H10000" class="middle" />
        <path :d="one.path" />
      </svg>
    </li>
  </ol>
</template>

<style scoped>
.channels {
  display: grid;
  gap: var(--space-1);
}
li {
  display: grid;
  grid-template-columns: 10rem 1fr;
  gap: var(--space-2);
  align-items: center;
}
svg {
  width: 100%;
  height: 2rem;
  background: var(--paper);
}
path {
  fill: var(--ink);
}
.middle {
  stroke: var(--hair);
  vector-effect: non-scaling-stroke;
}
</style>
