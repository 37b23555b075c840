<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useCancelRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { useWho } from '../../shell/me'

/** A check of a copy, or bringing it what it lacks: how far it is, and a way to stop it. */
const props = defineProps<{ work: Shapes['WorkOut'] }>()
const { may } = useWho()
const isCheck = computed(() => props.work.kind === 'check')
const words = computed(() => {
  const { state, run_id } = props.work
  if (state === 'waiting') return isCheck.value ? 'waits to be checked' : 'waits to be brought what it lacks'
  if (state === 'paused') return 'paused'
  if (state === 'stopping') return 'stopping'
  const now = runProgress.get(run_id)
  if (!now?.total) return isCheck.value ? 'being checked' : 'being brought what it lacks'
  const done = isCheck.value ? now.read : (now.stores[0]?.verified ?? 0)
  return `${Math.floor((100 * done) / now.total)} % ${isCheck.value ? 'read' : 'read back'}`
})
const cancel = useCancelRun()
</script>

<template>
  <span class="under-way" :data-work="work.store">
    <span role="status">{{ words }}</span>
    <Button
      class="act quiet small"
      :label="isCheck ? `Stop checking ${work.store}` : `Stop bringing it to ${work.store}`"
      :disabled="!may('offload') || work.state === 'stopping'"
      @click="cancel.mutate(work.run_id)"
    />
    <span v-if="cancel.error.value" role="alert" class="trouble">{{ cancel.error.value.message }}</span>
  </span>
</template>

<style scoped>
.under-way {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
}
</style>
