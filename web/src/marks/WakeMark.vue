<script setup lang="ts">
import { computed } from 'vue'

/** How fast it went of late, newest at the right: a wake, as wide as the work was fast, and none where it stood still. */
const props = defineProps<{ rates: readonly number[]; label: string }>()
const WIDTH = 120
const HEIGHT = 22
const MIDDLE = HEIGHT / 2
const top = computed(() => Math.max(1, ...props.rates))
const shape = computed(() => {
  const last = props.rates.length - 1
  const sides = props.rates.map((rate, n) => ({
    x: WIDTH - (last - n),
    half: (rate / top.value) * (MIDDLE - 1),
  }))
  const port = sides.map(({ x, half }) => `${x} ${(MIDDLE - half).toFixed(1)}`)
  const starboard = sides.toReversed().map(({ x, half }) => `${x} ${(MIDDLE + half).toFixed(1)}`)
  return `M${[...port, ...starboard].join('L')}Z`
})
</script>

<template>
  <svg
    class="wake"
    :viewBox="`0 0 ${WIDTH} ${HEIGHT}`"
    :width="WIDTH"
    :height="HEIGHT"
    role="img"
    :aria-label="label"
  >
    <path :d="`M0 ${MIDDLE}H${WIDTH}`" class="course" />
    <path v-if="rates.length > 1" :d="shape" />
  </svg>
</template>

<style scoped>
.wake {
  flex: none;
  fill: var(--ink);
}
.course {
  fill: none;
  stroke: var(--hair);
}
</style>
