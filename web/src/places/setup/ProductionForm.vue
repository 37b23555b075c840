<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useChangeProduction } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'

const props = defineProps<{ setup: Shapes['SetUpOut'] }>()
const { may } = useWho()
const zone = ref(props.setup.time_zone)
const first = ref(props.setup.first_day)
const hour = ref(String(props.setup.day_starts_at))
const save = useChangeProduction()
const go = () =>
  save.mutate({ time_zone: zone.value, first_day: first.value, day_starts_at: Number(hour.value) })
</script>

<template>
  <form class="line" data-production @submit.prevent="go()">
    <label>Time zone <InputText v-model="zone" class="field zone" /></label>
    <label>First day <InputText v-model="first" class="field day" placeholder="YYYY-MM-DD" /></label>
    <label>
      A shoot day begins at
      <InputText v-model="hour" class="field hour" inputmode="numeric" data-day-starts />
    </label>
    o’clock
    <Button class="act quiet small" type="submit" label="Save" :disabled="!may('plan')" />
    <p v-if="save.error.value" role="alert" class="trouble">{{ save.error.value.message }}</p>
  </form>
</template>

<style scoped>
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
