<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { asking } from '../api/asking'
import { usePeople } from '../api/queries/usePeople'
import ActButton from '../parts/ActButton.vue'
import SecretField from '../parts/SecretField.vue'
import ChooseOne from '../parts/ChooseOne.vue'
import { t } from '../words/say'
import BoxDialog from './BoxDialog.vue'

/** At a shared screen, before each act: who does it. What was given is forgotten with the answer. */
const people = usePeople()
const username = ref('')
const pin = ref('')
const names = computed(() =>
  (people.data.value?.people ?? [])
    .filter((one) => one.active)
    .map((one) => ({ name: one.name, value: one.username })),
)
const visible = computed({
  get: () => asking.value !== undefined,
  set: (shown) => {
    if (!shown) asking.value?.answer(undefined)
  },
})
watch(asking, () => (pin.value = ''))
const lacks = computed(() => (username.value && pin.value ? undefined : t('whoActs.lacks')))
function tell() {
  if (!lacks.value) asking.value?.answer({ username: username.value, pin: pin.value })
}
</script>

<template>
  <BoxDialog v-model:visible="visible" :title="t('whoActs.title')">
    <form data-who-acts @submit.prevent="tell">
      <p class="soft">{{ t('whoActs.what') }}</p>
      <ChooseOne v-model="username" :label="t('whoActs.name')" :options="names" data-acting />
      <SecretField v-model="pin" :label="t('whoActs.pin')" autocomplete="off" digits data-acting-pin />
      <p v-if="asking?.refused" role="alert" class="trouble" data-refused>{{ asking.refused }}</p>
      <p class="line">
        <ActButton type="submit" :label="t('whoActs.go')" :why-not="lacks" data-it-is-me />
        <ActButton type="button" link :label="t('whoActs.leave')" @press="asking?.answer(undefined)" />
      </p>
    </form>
  </BoxDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: var(--space-3);
}
</style>
