<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { t } from '../../words/say'

/** What opens a WebDAV server. It never comes back from ours. */
const user = defineModel<string>('user', { required: true })
const password = defineModel<string>('password', { required: true })
</script>

<template>
  <label
    >{{ t('serverForm.user') }} <InputText v-model="user" class="field" autocomplete="off" data-user
  /></label>
  <label
    >{{ t('secretFields.password') }}
    <InputText v-model="password" class="field" type="password" autocomplete="new-password" data-password
  /></label>
</template>
