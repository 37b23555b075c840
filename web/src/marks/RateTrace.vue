<script setup lang="ts">
import { computed } from 'vue'

/** How fast it went of late, newest at the right: a line in the ink of its place, on a floor of zero. */
const props = defineProps<{ rates: readonly number[]; label: string }>()
const WIDTH = 120
const HEIGHT = 22
const top = computed(() => Math.max(1, ...props.rates))
const points = computed(() =>
  props.rates
    .map((rate, n) => {
      const x = WIDTH - (props.rates.length - 1 - n)
      return `${x},${(HEIGHT - 1 - (rate / top.value) * (HEIGHT - 3)).toFixed(1)}`
    })
    .join(' '),
)
</script>

<template>
  <svg
    class="trace"
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    :width="WIDTH"
    :height="HEIGHT"
    role="img"
    :aria-label="label"
  >
    <line x1="0" :x2="WIDTH" :y1="HEIGHT - 0.5" :y2="HEIGHT - 0.5" class="floor" />
    <polyline v-if="rates.length > 1" :points="points" />
  </svg>
</template>

<style scoped>
.trace {
  flex: none;
}
polyline {
  fill: none;
  stroke: var(--ink);
  stroke-width: 1.6;
}
.floor {
  stroke: var(--hair);
}
</style>
