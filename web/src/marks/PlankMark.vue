<script setup lang="ts">
import { computed } from 'vue'
import { PLANK_WORDS, type PlankShares, type PlankState } from './plank'
import PlankShape from './PlankShape.vue'
import { t } from '../words/say'

const props = defineProps<{ state: PlankState; half?: boolean; shares?: PlankShares; size?: number }>()
const words = computed(() => PLANK_WORDS[props.state] + (props.half ? t('plankMark.onTheSameDeviceAs') : ''))
</script>

<template>
  <svg viewBox="0 0 96 24" :height="size ?? 24" :width="(size ?? 24) * 4" role="img" :aria-label="words">
    <PlankShape :state="state" :half="half" :shares="shares" />
  </svg>
</template>
