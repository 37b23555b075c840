<script setup lang="ts">
import { computed } from 'vue'
import outlines from './outlines.json'
import { t } from '../words/say'

/** A camera: an outline of its own and its letter. The outline follows from the letter, so it never changes. */
const props = defineProps<{ letter: string; size?: number }>()

const outline = computed(() => {
  const sum = [...props.letter].reduce((total, sign) => total + (sign.codePointAt(0) ?? 0), 0)
  return outlines[sum % outlines.length]
})
</script>

<template>
  <svg
    viewBox="0 0 64 48"
    :width="((size ?? 36) * 4) / 3"
    :height="size ?? 36"
    role="img"
    :aria-label="t('pennantMark.camera', { letter })"
  >
    <path :d="outline" fill="none" stroke="currentColor" stroke-width="3" stroke-linejoin="round" />
    <path d="M4 1V47" stroke="currentColor" stroke-width="4" />
    <text x="25" y="33" text-anchor="middle" fill="currentColor" :class="{ narrow: letter.length > 1 }">
      {{ letter }}
    </text>
  </svg>
</template>

<style scoped>
text {
  font: 700 var(--type-title)/1 var(--tag);
}
.narrow {
  font-size: var(--type-tag);
}
</style>
