<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref } from 'vue'
import { useChangeProduction } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import DayField from '../../parts/DayField.vue'
import NumberField from '../../parts/NumberField.vue'
import ZoneField from '../../parts/ZoneField.vue'
import { useWho } from '../../shell/me'
import { shortDay } from '../../words/times'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

const props = defineProps<{ setup: Shapes['SetUpOut'] }>()
const { may, whyNot } = useWho()
const zone = ref(props.setup.time_zone)
const first = ref(props.setup.first_day)
const hour = ref(props.setup.day_starts_at)
const save = useChangeProduction()
const removal = ref(props.setup.removal_allowed ?? false)
/** Whether files may be taken off cards is a supervisor's to say: left alone, nothing is said of it. */
const go = () =>
  save.mutate({
    time_zone: zone.value,
    first_day: first.value,
    day_starts_at: hour.value,
    ...(removal.value === props.setup.removal_allowed ? {} : { removal_allowed: removal.value }),
  })
const changed = computed(
  () =>
    zone.value !== props.setup.time_zone ||
    first.value !== props.setup.first_day ||
    hour.value !== props.setup.day_starts_at ||
    removal.value !== props.setup.removal_allowed,
)
/** What the fields mean, on the second day. */
const example = computed(() => {
  const begins = hour.value
  const day = new Date(`${first.value}T00:00:00Z`)
  if (Number.isNaN(day.getTime())) return ''
  day.setUTCDate(day.getUTCDate() + 1)
  const next = shortDay(day.toISOString().slice(0, 10))
  const clock = `${String(Math.floor(begins)).padStart(2, '0')}:00`
  return begins
    ? t('productionForm.whatIsShotOnBefore', { next, clock })
    : t('productionForm.whatIsShotOnIs', { next })
})
</script>

<template>
  <form class="line" data-production @submit.prevent="go()">
    <ZoneField v-model="zone" :label="t('productionForm.timeZone')" data-zone />
    <DayField v-model="first" :label="t('productionForm.firstDay')" data-first-day />
    <NumberField
      v-model="hour"
      :label="t('productionForm.aShootDayBeginsAt')"
      :min="0"
      :max="12"
      data-day-starts
    />
    {{ t('productionForm.oclock') }}
    <label class="ticked"
      ><Checkbox v-model="removal" binary :disabled="!may('set_up')" data-removal-allowed />
      {{ t('productionForm.removalAllowed') }}</label
    >
    <ActButton
      class="quiet small"
      type="submit"
      :label="t('productionForm.save')"
      :why-not="whyNot('plan')"
      :busy="save.isPending.value"
    />
    <p class="soft example" data-day-example>{{ example }}</p>
    <p v-if="save.isSuccess.value && !changed" role="status" class="soft">{{ t('productionForm.saved') }}</p>
    <SaidNo :error="save.error.value" />
  </form>
</template>

<style scoped>
.example {
  width: 100%;
}
</style>
