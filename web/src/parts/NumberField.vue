<script setup lang="ts">
import InputNumber from 'primevue/inputnumber'
import { language } from '../words/say'

/** A whole number within bounds; arrow keys step through it. */
defineProps<{ label: string; min?: number; max?: number; disabled?: boolean }>()
const value = defineModel<number>({ required: true })
</script>

<template>
  <label
    >{{ label }}
    <InputNumber
      :model-value="value"
      :locale="language"
      :use-grouping="false"
      :min="min ?? 0"
      :max="max"
      :allow-empty="false"
      :disabled="disabled"
      @input="value = Number($event.value ?? 0)"
      @update:model-value="value = Number($event ?? 0)"
  /></label>
</template>
