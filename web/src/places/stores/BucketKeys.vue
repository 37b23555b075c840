<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { t } from '../../words/say'

/** What opens a bucket. Neither ever comes back from ours. */
const access = defineModel<string>('accessKey', { required: true })
const secret = defineModel<string>('secretKey', { required: true })
</script>

<template>
  <label
    >{{ t('bucketKeys.access') }}
    <InputText v-model="access" class="field" autocomplete="off" data-access-key
  /></label>
  <label
    >{{ t('bucketKeys.secret') }}
    <InputText v-model="secret" class="field" type="password" autocomplete="new-password" data-secret-key
  /></label>
</template>
