<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useJoin, useJoinAsMyself } from '../../api/acts/begin'
import { useLink } from '../../api/queries/useLink'
import { useMe } from '../../api/queries/useMe'
import WaterEdge from '../../marks/WaterEdge.vue'
import ActButton from '../../parts/ActButton.vue'
import SecretField from '../../parts/SecretField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { t } from '../../words/say'

/** Whoever came by a link: joins, or chooses a new password. */
const secret = location.hash.slice(1)
const link = useLink(secret)
const name = ref('')
const password = ref('')
const join = useJoin()
const joinMine = useJoinAsMyself()
const me = useMe()
const lacking = computed(() => {
  if (!link.data.value?.name && !name.value.trim()) return t('joinPage.lacksName')
  return password.value ? undefined : t('joinPage.lacksPassword')
})
const home = () => location.replace('/')
const go = () => join.mutate({ secret, name: name.value, password: password.value }, { onSuccess: home })
</script>

<template>
  <main class="gate">
    <form @submit.prevent="go">
      <h1>{{ t('joinPage.comeAboard') }}</h1>
      <SaidNo :error="link.error.value" />
      <template v-if="link.data.value">
        <p v-if="link.data.value.name">{{ t('joinPage.newPasswordFor', { name: link.data.value.name }) }}</p>
        <template v-else>
          <p>
            {{ t('joinPage.joinAs', { role: link.data.value.role, production: link.data.value.production }) }}
          </p>
          <template v-if="me.data.value && !me.data.value.screen">
            <ActButton
              type="button"
              :label="t('joinPage.joinMine', { name: me.data.value.name })"
              :busy="joinMine.isPending.value"
              data-join-mine
              @press="joinMine.mutate(secret, { onSuccess: home })"
            />
            <SaidNo :error="joinMine.error.value" />
            <p class="soft">{{ t('joinPage.orNew') }}</p>
          </template>
        </template>
        <label v-if="!link.data.value.name"
          >{{ t('joinPage.name') }}
          <InputText v-model="name" class="field" autocomplete="username" autofocus data-join-name
        /></label>
        <SecretField
          v-model="password"
          :label="t('joinPage.password')"
          autocomplete="new-password"
          data-join-password
        />
        <ActButton
          type="submit"
          :label="t('joinPage.comeAboard')"
          :why-not="lacking"
          :busy="join.isPending.value"
        />
        <SaidNo :error="join.error.value" />
      </template>
    </form>
    <div class="sea"><WaterEdge /></div>
  </main>
</template>
