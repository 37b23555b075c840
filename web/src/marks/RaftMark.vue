<script setup lang="ts">
import { computed } from 'vue'
import { PLANK_WORDS, type PlankShares, type PlankState } from './plank'
import PlankShape from './PlankShape.vue'
import { t } from '../words/say'

export interface RaftPlank {
  store: string
  state: PlankState
  same_device: boolean
  shares?: PlankShares
}

/** A roll: a plank a copy, outlines for copies the rule still wants, lashings when the whole rule is met. */
const props = defineProps<{ planks: readonly RaftPlank[]; needed: number; met: boolean; size?: number }>()

const PITCH = 22
interface Shown {
  state: PlankState
  half: boolean
  shares?: PlankShares
}
const shown = computed<Shown[]>(() => {
  const there = props.planks.map((p) => ({
    state: p.state,
    half: p.same_device,
    shares: p.shares,
  }))
  const wanted = Math.max(0, props.needed - there.filter((plank) => plank.state !== 'lost').length)
  return [...there, ...Array.from({ length: wanted }, () => ({ state: 'wanted' as const, half: false }))]
})
const height = computed(() => Math.max(1, shown.value.length) * PITCH + 4)
const words = computed(() => {
  const parts = props.planks.map((p) => `${p.store}: ${PLANK_WORDS[p.state]}`)
  return `${props.met ? t('raftMark.ruleMet') : t('raftMark.ruleNotMet')}. ${parts.join('; ')}`
})
</script>

<template>
  <svg :viewBox="`0 0 96 ${height}`" :width="size ?? 64" role="img" :aria-label="words">
    <PlankShape
      v-for="(plank, index) in shown"
      :key="index"
      :state="plank.state"
      :half="plank.half"
      :shares="plank.shares"
      :y="index * PITCH + 1"
    />
    <g v-if="met" class="lashings">
      <path v-for="x in [20, 76]" :key="x" :d="`M${x - 4} 0V${height}M${x + 4} 0V${height}`" />
    </g>
  </svg>
</template>

<style scoped>
.lashings {
  fill: none;
  stroke: var(--ink);
  stroke-width: 3.5;
  paint-order: stroke;
  filter: drop-shadow(0 0 var(--line-hair) var(--sheet)) drop-shadow(0 0 var(--line-hair) var(--sheet));
}
</style>
