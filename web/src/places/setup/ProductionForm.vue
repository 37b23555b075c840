<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { answered, client, type Shapes } from '../../api/client'
import { HERE } from '../../api/here'
import { useAct } from '../../api/queries'
import { useWho } from '../../shell/me'

const props = defineProps<{ setup: Shapes['SetUpOut'] }>()
const { may } = useWho()
const zone = ref(props.setup.time_zone)
const first = ref(props.setup.first_day)
const hour = ref(String(props.setup.day_starts_at))
const save = useAct(
  () =>
    answered(
      client.PUT('/api/productions/{production}/setup/production', {
        params: { path: { production: HERE } },
        body: { time_zone: zone.value, first_day: first.value, day_starts_at: Number(hour.value) },
      }),
    ),
  'setup',
)
</script>

<template>
  <form class="line" data-production @submit.prevent="save.mutate(undefined)">
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
  width: 200px;
}
.day {
  width: 140px;
}
.hour {
  width: 64px;
}
</style>
