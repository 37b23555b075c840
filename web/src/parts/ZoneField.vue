<script setup lang="ts">
import AutoComplete from 'primevue/autocomplete'
import { ref, useId } from 'vue'

/** A time zone by its name in the time zone database; part of it finds it. */
defineProps<{ label: string; disabled?: boolean }>()
const zone = defineModel<string>({ required: true })
const id = useId()
const ZONES = ['UTC', ...Intl.supportedValuesOf('timeZone')]
const found = ref<string[]>([])
function find({ query }: { query: string }) {
  const wanted = query.trim().toLowerCase().replaceAll(' ', '_')
  found.value = ZONES.filter((one) => one.toLowerCase().includes(wanted)).slice(0, 50)
}
</script>

<template>
  <span class="labelled">
    <label :for="id">{{ label }}</label>
    <AutoComplete
      v-model="zone"
      :input-id="id"
      :suggestions="found"
      :disabled="disabled"
      :delay="0"
      scroll-height="16rem"
      @complete="find"
    />
  </span>
</template>
