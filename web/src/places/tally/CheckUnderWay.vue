<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useCancelRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { useWho } from '../../shell/me'

/** A check that waits or is under way: how much of the copy has been read, and a way to stop it. */
const props = defineProps<{ check: Shapes['CheckingOut'] }>()
const { may } = useWho()
const words = computed(() => {
  if (props.check.state === 'waiting') return 'waits to be checked'
  if (props.check.state === 'paused') return 'its check is paused'
  if (props.check.state === 'stopping') return 'stopping'
  const now = runProgress.get(props.check.run_id)
  return now?.total ? `${Math.floor((100 * now.read) / now.total)} % read` : 'being checked'
})
const cancel = useCancelRun()
</script>

<template>
  <span class="under-way" :data-checking="check.store">
    <span role="status">{{ words }}</span>
    <Button
      class="act quiet small"
      :label="`Stop checking ${check.store}`"
      :disabled="!may('offload') || check.state === 'stopping'"
      @click="cancel.mutate(check.run_id)"
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
