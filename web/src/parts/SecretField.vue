<script setup lang="ts">
import InputText from 'primevue/inputtext'

/** Something that nobody reads over a shoulder: a password or a PIN. What else is given goes to the field itself. */
defineOptions({ inheritAttrs: false })
defineProps<{ label: string; autocomplete: 'current-password' | 'new-password' | 'off'; digits?: boolean }>()
const secret = defineModel<string>({ required: true })
</script>

<template>
  <label
    >{{ label }}
    <InputText
      v-model="secret"
      class="field"
      type="password"
      :autocomplete="autocomplete"
      :inputmode="digits ? 'numeric' : undefined"
      :maxlength="digits ? 8 : undefined"
      v-bind="$attrs"
  /></label>
</template>
