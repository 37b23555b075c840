<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useChangeProduction } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import MaskedField from '../../parts/MaskedField.vue'
import { useWho } from '../../shell/me'
import { shortDay } from '../../words/times'

const props = defineProps<{ setup: Shapes['SetUpOut'] }>()
const { may } = useWho()
const zone = ref(props.setup.time_zone)
const first = ref(props.setup.first_day)
const hour = ref(String(props.setup.day_starts_at))
const save = useChangeProduction()
const go = () =>
  save.mutate({ time_zone: zone.value, first_day: first.value, day_starts_at: Number(hour.value) })
const changed = computed(
  () =>
    zone.value !== props.setup.time_zone ||
    first.value !== props.setup.first_day ||
    Number(hour.value) !== props.setup.day_starts_at,
)
/** What the fields mean, on the second day. */
const example = computed(() => {
  const begins = Number(hour.value)
  const day = new Date(`${first.value}T00:00:00Z`)
  if (Number.isNaN(day.getTime()) || !(begins >= 0 && begins < 24) || !hour.value.trim()) return ''
  day.setUTCDate(day.getUTCDate() + 1)
  const next = shortDay(day.toISOString().slice(0, 10))
  const clock = `${String(Math.floor(begins)).padStart(2, '0')}:00`
  return begins
    ? `What is shot on ${next} before ${clock} still belongs to day 1; from ${clock} on it is day 2.`
    : `What is shot on ${next} is day 2.`
})
</script>

<template>
  <form class="line" data-production @submit.prevent="go()">
    <label>Time zone <InputText v-model="zone" class="field zone" /></label>
    <label
      >First day <MaskedField v-model="first" class="day" mask="9999-99-99" placeholder="2026-05-14"
    /></label>
    <label>
      A shoot day begins at
      <InputText v-model="hour" class="field hour" inputmode="numeric" data-day-starts />
    </label>
    o’clock
    <Button class="act quiet small" type="submit" label="Save" :disabled="!may('plan')" />
    <p class="soft example" data-day-example>{{ example }}</p>
    <p v-if="save.isSuccess.value && !changed" role="status" class="soft">Saved.</p>
    <p v-if="save.error.value" role="alert" class="trouble">{{ save.error.value.message }}</p>
  </form>
</template>

<style scoped>
.example {
  width: 100%;
}
.zone {
  width: 12.5rem;
}
.day {
  width: 8.75rem;
}
.hour {
  width: 4rem;
}
</style>
