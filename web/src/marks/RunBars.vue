<script setup lang="ts">
import { computed } from 'vue'

/** How fast a card was read, run by run, oldest at the left: a bar each; one that gave errors is notched. */
const props = defineProps<{ runs: readonly { rate: number | null; errors: number }[]; label: string }>()
const WIDTH = 10
const HEIGHT = 48
const most = computed(() => Math.max(1, ...props.runs.map((run) => run.rate ?? 0)))
const bars = computed(() =>
  props.runs.map((run, index) => ({
    x: index * (WIDTH + 4),
    height: run.rate ? Math.max(3, (run.rate / most.value) * HEIGHT) : 3,
    broken: run.errors > 0,
  })),
)
</script>

<template>
  <svg
    v-if="runs.filter((run) => run.rate).length > 1"
    role="img"
    :aria-label="label"
    :width="runs.length * (WIDTH + 4)"
    :height="HEIGHT + 2"
    :viewBox="`0 0 ${runs.length * (WIDTH + 4)} ${HEIGHT + 2}`"
  >
    <g v-for="bar in bars" :key="bar.x">
      <path
        :d="
          bar.broken
            ? `M${bar.x} ${HEIGHT} V${HEIGHT - bar.height} l5 6 l5 -6 V${HEIGHT} Z`
            : `M${bar.x} ${HEIGHT} V${HEIGHT - bar.height} h${WIDTH} V${HEIGHT} Z`
        "
        :class="{ broken: bar.broken }"
      />
    </g>
    <path class="base" :d="`M0 ${HEIGHT + 1} H${runs.length * (WIDTH + 4)}`" />
  </svg>
</template>

<style scoped>
path {
  fill: var(--ink);
}
.broken {
  fill: var(--trouble);
}
.base {
  stroke: var(--ink);
}
</style>
