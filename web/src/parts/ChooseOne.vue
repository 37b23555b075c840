<script setup lang="ts" generic="Value">
import Select from 'primevue/select'
import { useId } from 'vue'

/** A list of which one is chosen, with its label beside it. */
defineProps<{
  label: string
  options: readonly { name: string; value: Value }[]
  disabled?: boolean
  placeholder?: string
}>()
const chosen = defineModel<Value>({ required: true })
const id = useId()
</script>

<template>
  <label :id="id"
    >{{ label }}
    <Select
      v-model="chosen"
      :options="[...options]"
      option-label="name"
      option-value="value"
      scroll-height="26rem"
      :disabled="disabled"
      :placeholder="placeholder"
      :aria-labelledby="id"
  /></label>
</template>
