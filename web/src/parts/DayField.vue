<script setup lang="ts">
import DatePicker from 'primevue/datepicker'
import { computed, useId } from 'vue'
import { t } from '../words/say'

/** A day, typed as YYYY-MM-DD or chosen from a calendar. It is no moment and has no time zone. */
defineProps<{ label: string; disabled?: boolean }>()
const day = defineModel<string>({ required: true })
const id = useId()

/** The calendar speaks of midnight where the screen stands. */
const date = computed({
  get: () => (/^\d{4}-\d\d-\d\d$/.test(day.value) ? new Date(`${day.value}T00:00:00`) : null),
  set: (at) => {
    if (!(at instanceof Date) || Number.isNaN(at.getTime())) return
    const parts = [at.getFullYear(), at.getMonth() + 1, at.getDate()]
    day.value = parts.map((part, n) => String(part).padStart(n ? 2 : 4, '0')).join('-')
  },
})
</script>

<template>
  <span class="labelled">
    <label :for="id">{{ label }}</label>
    <DatePicker
      v-model="date"
      :input-id="id"
      date-format="yy-mm-dd"
      :show-on-focus="false"
      :disabled="disabled"
      show-icon
      :pt="{ dropdown: { 'aria-label': t('dayField.chooseFromACalendar') } }"
    />
  </span>
</template>
