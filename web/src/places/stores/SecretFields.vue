<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Textarea from 'primevue/textarea'
import { t } from '../../words/say'

/** What opens a server: a private key or a password. Neither ever comes back from ours. */
const key = defineModel<string>('secretKey', { required: true })
const password = defineModel<string>('password', { required: true })
</script>

<template>
  <label class="key"
    >{{ t('secretFields.key') }}
    <Textarea
      v-model="key"
      class="field"
      rows="3"
      spellcheck="false"
      autocomplete="off"
      :disabled="Boolean(password)"
      data-key
  /></label>
  <label
    >{{ t('secretFields.password') }}
    <InputText
      v-model="password"
      class="field"
      type="password"
      autocomplete="new-password"
      :disabled="Boolean(key)"
      data-password
  /></label>
</template>

<style scoped>
.key {
  width: 100%;
}
.key .field {
  display: block;
  width: 100%;
  font-family: var(--mono);
}
</style>
