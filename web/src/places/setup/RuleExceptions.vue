<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useChangeException } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { useExceptionEffect } from '../../api/queries/useRuleEffect'
import { useSetUp } from '../../api/queries/useSetUp'
import ChooseOne from '../../parts/ChooseOne.vue'
import NumberField from '../../parts/NumberField.vue'
import SayIt from '../../parts/SayIt.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import EffectSaid from './EffectSaid.vue'

/** Cameras, plans and rolls of which something else is asked than of every roll. */
const props = defineProps<{ rule: Shapes['RuleNow'] }>()
const { whyNot } = useWho()
const setUp = useSetUp()
const change = useChangeException()
const kind = ref<Shapes['RuledThing']>('camera')
const name = ref('')
const NUMBERS = ['copies', 'devices', 'offsite', 'signers'] as const
const LABELS = {
  copies: 'ruleForm.copies',
  devices: 'ruleForm.devices',
  offsite: 'ruleForm.offsite',
  signers: 'ruleForm.signers',
} as const
const draft = reactive({
  copies: props.rule.copies,
  devices: props.rule.devices,
  offsite: props.rule.offsite,
  signers: props.rule.signers,
})
const KINDS: { name: string; value: Shapes['RuledThing'] }[] = [
  { name: t('ruleExceptions.camera'), value: 'camera' },
  { name: t('ruleExceptions.plan'), value: 'plan' },
  { name: t('ruleExceptions.roll'), value: 'roll' },
]
const OF = {
  camera: 'ruleExceptions.ofCamera',
  plan: 'ruleExceptions.ofPlan',
  roll: 'ruleExceptions.ofRoll',
} as const
const names = computed(() => {
  const now = setUp.data.value
  if (kind.value === 'camera') return now?.cameras.map(({ letter }) => letter) ?? []
  return kind.value === 'plan' ? (now?.plans.map((plan) => plan.name) ?? []) : []
})
const options = computed(() => names.value.map((one) => ({ name: one, value: one })))
const parts = computed(() =>
  Object.fromEntries(
    Object.entries(draft).filter(([part, value]) => props.rule[part as keyof typeof draft] !== value),
  ),
)
const on = computed(() => ({ kind: kind.value, name: name.value.trim() }))
const whole = computed(() => Boolean(on.value.name) && Object.keys(parts.value).length > 0)
const effect = useExceptionEffect(() => (whole.value ? { on: on.value, parts: parts.value } : undefined))
const lacking = computed(
  () => whyNot('set_up') ?? (whole.value ? undefined : t('ruleExceptions.chooseWhatDiffers')),
)
</script>

<template>
  <div data-rule-exceptions>
    <h3>{{ t('ruleExceptions.title') }}</h3>
    <p v-if="!rule.exceptions.length" class="soft">{{ t('ruleExceptions.none') }}</p>
    <ul>
      <li v-for="one in rule.exceptions" :key="one.kind + one.name" :data-exception="one.name">
        <span class="tag">{{ t(OF[one.kind], { name: one.name }) }}</span>
        {{ one.sentence }}
        <SayIt
          name="no-exception"
          :act="t('ruleExceptions.end')"
          :ask="t('ruleForm.why')"
          :go="t('ruleExceptions.asEveryRoll')"
          :why-not="whyNot('set_up')"
          :busy="change.isPending.value"
          :error="change.error.value"
          @say="
            (reason, done) =>
              change.mutate(
                { on: { kind: one.kind, name: one.name }, parts: null, reason },
                { onSuccess: done },
              )
          "
        />
      </li>
    </ul>
    <div class="line">
      <ChooseOne v-model="kind" :label="t('ruleExceptions.for')" :options="KINDS" data-exception-kind />
      <ChooseOne
        v-if="kind !== 'roll'"
        v-model="name"
        :label="t('ruleExceptions.which')"
        :options="options"
        data-exception-name
      />
      <label v-else>{{ t('ruleExceptions.tag') }} <input v-model="name" class="field tag-field" /></label>
      <NumberField
        v-for="part in NUMBERS"
        :key="part"
        v-model="draft[part]"
        :label="t(LABELS[part])"
        :min="part === 'offsite' ? 0 : 1"
        :max="9"
        :data-exception-part="part"
      />
      <SayIt
        name="exception"
        :act="t('ruleExceptions.askThis')"
        :ask="t('ruleForm.why')"
        :go="t('ruleExceptions.ask')"
        :why-not="lacking"
        :busy="change.isPending.value"
        :error="change.error.value"
        @say="(reason, done) => change.mutate({ on, parts, reason }, { onSuccess: done })"
      />
    </div>
    <EffectSaid v-if="whole" :effect="effect.data.value" :error="effect.error.value" />
  </div>
</template>

<style scoped>
h3 {
  margin: var(--space-4) 0 var(--space-1);
}
.tag-field {
  width: 8rem;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-3);
  align-items: baseline;
}
</style>
