<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useBringRoll, useCheckCopy } from '../api/acts/copies'
import type { Shapes } from '../api/client'
import { useWho } from '../shell/me'

/** What would make a roll safe: each step is a button, and what is under way says so in its place. */
defineProps<{ steps: readonly Shapes['StepOut'][] }>()
const { may } = useWho()
const bring = useBringRoll()
const check = useCheckCopy()
const refusal = computed(() => bring.error.value ?? check.error.value)

const VERBS: Record<Shapes['StepKind'], string> = { copy: 'Copy', mend: 'Mend', check: 'Check' }
const UNDER_WAY: Record<Shapes['StepKind'], string> = {
  copy: 'is being copied to',
  mend: 'is being mended on',
  check: 'is being checked on',
}
const label = ({ act, tag, store }: Shapes['StepOut']) =>
  `${VERBS[act]} ${tag} ${act === 'copy' ? 'to' : 'on'} ${store}`
const allowed = (step: Shapes['StepOut']) => may(step.act === 'check' ? 'check' : 'offload')
function go(step: Shapes['StepOut']) {
  if (step.act !== 'check') bring.mutate({ roll: step.roll_id, store: step.store })
  else if (step.copy_id !== null) check.mutate(step.copy_id)
}
</script>

<template>
  <div v-if="steps.length" class="steps">
    <template v-for="step in steps" :key="step.act + step.tag + step.store">
      <p v-if="step.under_way" role="status" :data-step="step.act">
        {{ step.tag }} {{ UNDER_WAY[step.act] }} {{ step.store }}
      </p>
      <Button
        v-else
        class="act quiet small"
        :label="label(step)"
        :title="step.sentence"
        :disabled="!allowed(step)"
        :data-step="step.act"
        @click="go(step)"
      />
    </template>
    <p v-if="refusal" role="alert" class="trouble">{{ refusal.message }}</p>
  </div>
</template>

<style scoped>
.steps {
  display: grid;
  gap: var(--space-2);
  justify-items: stretch;
}
</style>
