<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref } from 'vue'
import { useChangeRule } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import RuleEffect from './RuleEffect.vue'
import RuleExceptions from './RuleExceptions.vue'
import RuleHistory from './RuleHistory.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { sayWhy, useWho } from '../../shell/me'
import { EVIDENCE } from '../../words/evidence'
import { t } from '../../words/say'

/** What a roll needs before its card may be reused. Every verdict follows it from the moment it is changed. */
const props = defineProps<{ rule: Shapes['RuleNow'] }>()
const { whyNot } = useWho()
const NUMBERS = ['copies', 'devices', 'locations', 'offsite', 'media', 'signers'] as const
const LABELS = {
  copies: 'ruleForm.copies',
  devices: 'ruleForm.devices',
  locations: 'ruleForm.locations',
  offsite: 'ruleForm.offsite',
  media: 'ruleForm.media',
  signers: 'ruleForm.signers',
} as const
const draft = reactive({
  copies: props.rule.copies,
  devices: props.rule.devices,
  locations: props.rule.locations,
  offsite: props.rule.offsite,
  media: props.rule.media,
  signers: props.rule.signers,
  level: props.rule.level,
  looked_at_percent: props.rule.looked_at_percent,
  fresh_days: props.rule.fresh_days ?? 0,
  shelf_days: props.rule.shelf_days ?? 0,
  keep_doubles: props.rule.keep_doubles,
  chosen_only: props.rule.chosen_only,
})
/** No limit is written as none, and typed as 0. */
const DAYS = ['fresh_days', 'shelf_days'] as const
const asSaid = (name: string, value: number | boolean) =>
  (DAYS as readonly string[]).includes(name) && value === 0 ? null : value
const DAY_LABELS = { fresh_days: 'ruleForm.fresh', shelf_days: 'ruleForm.shelf' } as const
const levels = Object.values(EVIDENCE).map((name, value) => ({ name, value }))
const reason = ref('')
const save = useChangeRule()
const changed = computed(() =>
  Object.fromEntries(
    Object.entries(draft)
      .map(([name, value]) => [name, asSaid(name, value)] as const)
      .filter(([name, value]) => props.rule[name as keyof typeof draft] !== value),
  ),
)
const lacking = computed(() =>
  Object.keys(changed.value).length ? sayWhy(reason.value) : t('ruleForm.nothingChanged'),
)
const go = () => save.mutate({ ...changed.value, reason: reason.value })
</script>

<template>
  <form class="line" data-rule-form @submit.prevent="go">
    <NumberField
      v-for="name in NUMBERS"
      :key="name"
      v-model="draft[name]"
      :label="t(LABELS[name])"
      :min="name === 'offsite' ? 0 : 1"
      :max="9"
      :data-rule-part="name"
    />
    <ChooseOne v-model="draft.level" :label="t('ruleForm.level')" :options="levels" />
    <NumberField
      v-model="draft.looked_at_percent"
      :label="t('ruleForm.lookedAt')"
      :max="100"
      data-rule-part="looked_at_percent"
    />
    <NumberField
      v-for="name in DAYS"
      :key="name"
      v-model="draft[name]"
      :label="t(DAY_LABELS[name])"
      :max="999"
    />
    <label class="ticked"
      ><Checkbox v-model="draft.keep_doubles" binary /> {{ t('ruleForm.keepDoubles') }}</label
    >
    <label class="ticked"
      ><Checkbox v-model="draft.chosen_only" binary /> {{ t('ruleForm.chosenOnly') }}</label
    >
    <label class="why"
      >{{ t('ruleForm.why') }} <InputText v-model="reason" class="field" data-rule-reason
    /></label>
    <ActButton
      type="submit"
      class="quiet small"
      :label="t('ruleForm.change')"
      :why-not="whyNot('set_up') ?? lacking"
      :busy="save.isPending.value"
    />
    <RuleEffect :wanted="changed" />
    <p class="soft all">{{ t('ruleForm.whatItDoes') }}</p>
    <SaidNo :error="save.error.value" />
  </form>
  <RuleExceptions :rule="rule" />
  <RuleHistory />
</template>

<style scoped>
.all {
  flex-basis: 100%;
}
.why .field {
  width: 24rem;
  max-width: 70vw;
}
</style>
