<script setup lang="ts">
import { computed, useId } from 'vue'
import type { PlankShares, PlankState } from './plank'

/** One plank inside somebody's SVG, 96 wide and 24 high, at (0, `y`). */
const props = withDefaults(
  defineProps<{ state: PlankState; half?: boolean; shares?: PlankShares; y?: number }>(),
  { half: false, shares: () => ({ written: 0.6, verified: 0.4 }), y: 0 },
)

const id = useId()
const hatch = `hatch-${id}`
const dots = `dots-${id}`
const height = computed(() => (props.half ? 9 : 18))
const top = computed(() => props.y + (props.half ? 12 : 3))
const bottom = computed(() => top.value + height.value)
const WIDTH = 92
const written = computed(() =>
  props.state === 'weak' || props.state === 'reading' ? 1 : props.shares.written,
)
</script>

<template>
  <g :class="['plank', state]">
    <defs>
      <pattern :id="hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="2.4" height="6" fill="currentColor" />
      </pattern>
      <pattern :id="dots" width="7" height="7" patternUnits="userSpaceOnUse">
        <circle cx="3" cy="3" r="1.3" fill="currentColor" />
      </pattern>
    </defs>
    <rect
      v-if="state === 'writing' || state === 'reading' || state === 'weak'"
      x="2"
      :y="top"
      :width="WIDTH * written"
      :height="height"
      :fill="`url(#${hatch})`"
    />
    <rect
      v-if="state === 'reading'"
      x="2"
      :y="top"
      :width="WIDTH * shares.verified"
      :height="height"
      fill="currentColor"
    />
    <path
      v-if="state === 'partial'"
      :d="`M2 ${top}H${2 + WIDTH * 0.45}L${WIDTH * 0.38} ${bottom}H2Z`"
      fill="currentColor"
    />
    <rect v-if="state === 'verified'" x="2" :y="top" :width="WIDTH" :height="height" fill="currentColor" />
    <rect
      v-else-if="state === 'stale'"
      x="2"
      :y="top"
      :width="WIDTH"
      :height="height"
      :fill="`url(#${dots})`"
      stroke="currentColor"
      stroke-width="3"
      stroke-dasharray="0.1 6"
      stroke-linecap="round"
    />
    <g v-else-if="state === 'broken'" fill="currentColor">
      <path :d="`M2 ${top}H46L40 ${top + height / 3}L48 ${top + (2 * height) / 3}L41 ${bottom}H2Z`" />
      <path :d="`M94 ${top}H56L50 ${top + height / 3}L58 ${top + (2 * height) / 3}L51 ${bottom}H94Z`" />
    </g>
    <rect
      v-if="state !== 'verified' && state !== 'stale' && state !== 'broken'"
      x="2"
      :y="top"
      :width="WIDTH"
      :height="height"
      fill="none"
      stroke="currentColor"
      stroke-width="2"
    />
    <path
      v-if="state === 'lost'"
      :d="`M2 ${top}L94 ${bottom}M94 ${top}L2 ${bottom}`"
      stroke="currentColor"
      stroke-width="3"
    />
  </g>
</template>

<style scoped>
.plank {
  color: var(--ink);
}
.verified {
  color: var(--safe);
}
.broken,
.lost {
  color: var(--trouble);
}
.stale,
.partial,
.weak {
  color: var(--care);
}
</style>
