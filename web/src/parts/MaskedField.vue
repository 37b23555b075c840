<script setup lang="ts">
import InputMask from 'primevue/inputmask'

/** A field for something of fixed form, such as a day. Enter does in it what it does in any field of a form. */
defineProps<{ mask: string; placeholder?: string }>()
const text = defineModel<string>({ required: true })

/** The part itself leaves the field on Enter, so that nothing is submitted any more. */
function submit(event: Event) {
  if (!(event instanceof KeyboardEvent) || event.key !== 'Enter') return
  if (!(event.target instanceof HTMLInputElement)) return
  event.target.focus()
  event.target.form?.requestSubmit()
}
</script>

<template>
  <InputMask v-model="text" class="field" :mask="mask" :placeholder="placeholder" @keydown="submit" />
</template>
