<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { roughly } from '../../words/times'
import { bytes, rate } from '../../words/units'
import { t } from '../../words/say'

/** One line above the planks of a run: how long it will take from here, and what sets the pace. */
const props = defineProps<{ run: Shapes['OffloadOut'] }>()
const now = computed(() => runProgress.get(props.run.id))
const left = computed(() => {
  const seconds = now.value?.left_s
  if (seconds == null) return t('runPace.timeLeftNotKnownYet')
  return t('runPace.left', { time: roughly(seconds) })
})
const held = computed(() => {
  const by = now.value?.held_by
  if (!by) return ''
  return by === 'the reader' ? t('runPace.heldByTheReader') : t('runPace.heldBy', { by })
})
const again = computed(() =>
  now.value?.read_again ? t('runPace.aSecondTime', { bytes: bytes(now.value.read_again) }) : '',
)
</script>

<template>
  <p v-if="run.worker_lost" class="trouble" role="status" data-worker-lost>
    {{ t('runPace.nobodyIsWorkingAtThis') }}
  </p>
  <p v-else-if="now" class="pace" data-pace>
    <span class="left" data-left>{{ left }}</span>
    <span class="soft">{{
      t('runPace.readOffTheCardS', { read: bytes(now.read), again, rate: rate(now.rate) })
    }}</span>
    <span v-if="held" data-held-by>{{ held }}</span>
  </p>
</template>

<style scoped>
.pace {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: var(--space-half) var(--space-5);
  min-height: 2rem;
  margin-bottom: var(--space-2);
  font-variant-numeric: tabular-nums;
}
.left {
  font: 700 var(--type-title)/1.2 var(--tag);
}
.trouble {
  margin-bottom: var(--space-2);
}
</style>
