<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { roughly } from '../../words/times'
import { bytes } from '../../words/units'

/** One line above the planks of a run: how long it will take from here, and what sets the pace. */
const props = defineProps<{ run: Shapes['OffloadOut'] }>()
const now = computed(() => runProgress.get(props.run.id))
const left = computed(() => {
  const seconds = now.value?.left_s
  if (seconds == null) return 'Time left: not known yet'
  return `${roughly(seconds).replace(/^a/, 'A')} left`
})
const held = computed(() => {
  const by = now.value?.held_by
  if (!by) return ''
  return by === 'the reader' ? 'held by the reader' : `held by '${by}'`
})
const again = computed(() => (now.value?.read_again ? `, ${bytes(now.value.read_again)} a second time` : ''))
</script>

<template>
  <p v-if="run.worker_lost" class="trouble" role="status" data-worker-lost>
    Nobody is working at this run: the station's worker has stopped. Nothing is claimed and nothing is lost;
    it goes on by itself as soon as the station runs again.
  </p>
  <p v-else-if="now" class="pace" data-pace>
    <span class="left" data-left>{{ left }}</span>
    <span class="soft">{{ bytes(now.read) }} read off the card{{ again }}, {{ bytes(now.rate) }}/s</span>
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
