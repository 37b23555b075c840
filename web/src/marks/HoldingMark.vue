<script setup lang="ts">
import { HOLDING_WORDS, type Holding } from './holding'
import { t } from '../words/say'

/** A clip by what is held of it: low and solid lies safe, tall and hollow is new, parted is changed. A flag: look here. */
defineProps<{ holding: Holding; odd?: boolean; size?: number }>()
</script>

<template>
  <svg
    viewBox="0 0 24 24"
    :width="size ?? 20"
    :height="size ?? 20"
    role="img"
    :aria-label="HOLDING_WORDS[holding] + (odd ? t('holdingMark.somethingIsOdd') : '')"
  >
    <g fill="none" stroke="currentColor" stroke-width="2.5">
      <rect v-if="holding === 'held'" x="5" y="14" width="14" height="8" fill="currentColor" />
      <rect v-else-if="holding === 'new'" x="5" y="5" width="14" height="17" />
      <template v-else-if="holding === 'changed'">
        <path d="M5 13V5H19V9Z" fill="currentColor" />
        <path d="M5 18V22H19V14Z" fill="currentColor" />
      </template>
      <path v-else-if="holding === 'left'" d="M4 21H20" />
      <path v-else-if="holding === 'unsure'" d="M5 22V14H19V22M9 9H15" stroke-dasharray="3.4 3" />
      <rect v-else x="5" y="5" width="14" height="17" stroke-dasharray="3.4 3" />
      <path v-if="odd" d="M2 1H12L7 9Z" fill="var(--sheet)" stroke-width="2" class="flag" />
    </g>
  </svg>
</template>

<style scoped>
.flag {
  stroke: var(--trouble);
  fill: var(--trouble);
}
</style>
