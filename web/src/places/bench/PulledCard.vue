<script setup lang="ts">
import Button from 'primevue/button'
import { useAcknowledgePull } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'

/** A card left this slot in the middle of its offload: said until somebody knows, or it is put back. */
defineProps<{ pulled: Shapes['PulledOut']; slotName: string }>()
const { may } = useWho()
const acknowledge = useAcknowledgePull()
</script>

<template>
  <div class="pulled" role="alert" :data-slot="slotName" :data-pulled="pulled.label">
    <p class="verdict">PULLED</p>
    <p>
      <strong>{{ pulled.label }}</strong> left in the middle of
      <RouterLink :to="`/tally/${pulled.tag}`">{{ pulled.tag }}</RouterLink>. Put it back into any reader:
      what is missing goes on from there.
    </p>
    <Button
      class="act quiet small"
      label="I know"
      :disabled="!may('offload')"
      data-acknowledge
      @click="acknowledge.mutate(pulled.offload_id)"
    />
    <p v-if="acknowledge.error.value" role="alert">{{ acknowledge.error.value.message }}</p>
  </div>
</template>

<style scoped>
.pulled {
  display: grid;
  gap: var(--space-2);
  align-content: start;
  justify-items: start;
  padding: var(--space-3) var(--space-4);
  border: var(--line-bar) solid var(--trouble);
  border-top: 0;
  background: var(--sheet);
}
.verdict {
  padding: 0 var(--space-2);
  background: var(--trouble);
  color: var(--trouble-ink);
  font: 700 var(--type-slot)/1.2 var(--tag);
}
</style>
