<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { useId } from 'vue'

/** Several words, each entered with Enter, and taken away with Backspace. */
defineProps<{ label: string; disabled?: boolean }>()
const words = defineModel<string[]>({ required: true })
const id = useId()
</script>

<template>
  <span class="labelled">
    <label :for="id">{{ label }}</label>
    <AutoComplete v-model="words" :input-id="id" multiple :typeahead="false" :disabled="disabled" />
  </span>
</template>
