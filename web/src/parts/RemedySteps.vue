<script setup lang="ts">
import { computed } from 'vue'
import { useBringRoll, useCheckCopy } from '../api/acts/copies'
import type { Shapes } from '../api/client'
import { useWho } from '../shell/me'
import { t } from '../words/say'
import SaidNo from './SaidNo.vue'
import ActButton from './ActButton.vue'

/** What would make a roll safe: each step is a button, and what is under way says so in its place. */
defineProps<{ steps: readonly Shapes['StepOut'][] }>()
const { whyNot } = useWho()
const bring = useBringRoll()
const check = useCheckCopy()
const refusal = computed(() => bring.error.value ?? check.error.value)

const ACTS = { copy: 'remedySteps.copy', mend: 'remedySteps.mend', check: 'remedySteps.check' } as const
const UNDER_WAY = {
  copy: 'remedySteps.isBeingCopied',
  mend: 'remedySteps.isBeingMended',
  check: 'remedySteps.isBeingChecked',
} as const
const THEN_CHECK = {
  copy: 'remedySteps.copyThenCheck',
  mend: 'remedySteps.mendThenCheck',
  check: 'remedySteps.check',
} as const
const label = ({ act, tag, store, then_check }: Shapes['StepOut']) =>
  t((then_check ? THEN_CHECK : ACTS)[act], { tag, store })
function go(step: Shapes['StepOut']) {
  if (step.act !== 'check') bring.mutate({ roll: step.roll_id, store: step.store })
  else if (step.copy_id !== null) check.mutate(step.copy_id)
}
</script>

<template>
  <div v-if="steps.length" class="steps">
    <template v-for="step in steps" :key="step.act + step.tag + step.store">
      <p v-if="step.under_way" role="status" :data-step="step.act">
        {{ t(UNDER_WAY[step.act], { tag: step.tag, store: step.store }) }}
      </p>
      <ActButton
        v-else
        type="button"
        class="quiet small"
        :label="label(step)"
        :title="step.sentence"
        :data-step="step.act"
        :why-not="whyNot(step.act === 'check' ? 'check' : 'offload')"
        @press="go(step)"
      />
    </template>
    <SaidNo :error="refusal" />
  </div>
</template>

<style scoped>
.steps {
  display: grid;
  gap: var(--space-2);
  justify-items: stretch;
}
</style>
