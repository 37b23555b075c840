<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useEndSession, useOwnPassword, useSetPin } from '../api/acts/people'
import { useEndScreen, useShareScreen } from '../api/acts/screens'
import { useScreens } from '../api/queries/useScreens'
import { useSessions } from '../api/queries/useSessions'
import ActButton from '../parts/ActButton.vue'
import SecretField from '../parts/SecretField.vue'
import SaidNo from '../parts/SaidNo.vue'
import { t } from '../words/say'
import { age } from '../words/times'
import BoxDialog from './BoxDialog.vue'
import OneTimeCodes from './OneTimeCodes.vue'
import { useWho } from './me'

/** One's own PIN, password and sessions; and making this browser a shared screen. */
const visible = defineModel<boolean>('visible', { required: true })
const { me, whyNot } = useWho()
const password = ref('')
const pin = ref('')
const fresh = ref('')
const name = ref('')
const setPin = useSetPin()
const setPassword = useOwnPassword()
const sessions = useSessions(visible)
const end = useEndSession()
const share = useShareScreen()
const screens = useScreens(visible)
const endScreen = useEndScreen()
const lacksPin = computed(() => (password.value && pin.value ? undefined : t('account.lacksPin')))
const lacksPassword = computed(() => (password.value && fresh.value ? undefined : t('account.lacksPassword')))
const done = () => {
  password.value = pin.value = fresh.value = ''
}
/** Which browser it is, as people call it. */
const browserOf = (agent: string) =>
  /Firefox|Edg|Chrom|Safari/.exec(agent)?.[0]?.replace('Edg', 'Edge').replace('Chrom', 'Chromium') ??
  t('account.unknown')
</script>

<template>
  <BoxDialog v-model:visible="visible" :title="t('account.title', { name: me.name })">
    <div class="account" data-account-box>
      <form @submit.prevent>
        <SecretField
          v-model="password"
          :label="t('account.password')"
          autocomplete="current-password"
          data-own-password
        />
        <h3>{{ t('account.pin') }}</h3>
        <p class="soft">{{ t('account.pinWhat') }}</p>
        <SecretField v-model="pin" :label="t('account.newPin')" autocomplete="off" digits data-new-pin />
        <p class="line">
          <ActButton
            type="button"
            class="quiet small"
            :label="t('account.setPin')"
            :why-not="lacksPin"
            :busy="setPin.isPending.value"
            data-set-pin
            @press="setPin.mutate({ password, pin }, { onSuccess: done })"
          />
          <span v-if="setPin.isSuccess.value" role="status">{{ t('account.pinSet') }}</span>
        </p>
        <SecretField v-model="fresh" :label="t('account.newPassword')" autocomplete="new-password" />
        <p class="line">
          <ActButton
            type="button"
            class="quiet small"
            :label="t('account.setPassword')"
            :why-not="lacksPassword"
            :busy="setPassword.isPending.value"
            @press="setPassword.mutate({ old: password, new: fresh }, { onSuccess: done })"
          />
          <span v-if="setPassword.isSuccess.value" role="status">{{ t('account.passwordSet') }}</span>
        </p>
        <SaidNo :error="setPin.error.value ?? setPassword.error.value" />
        <OneTimeCodes :password="password" :shown="visible" @done="done" />
      </form>
      <h3>{{ t('account.sessions') }}</h3>
      <ul>
        <li v-for="one in sessions.data.value ?? []" :key="one.name" class="line" data-session>
          <span>{{
            t('account.since', {
              browser: browserOf(one.browser),
              address: one.address,
              age: one.since ? age(one.since) : '',
            })
          }}</span>
          <strong v-if="one.here">{{ t('account.here') }}</strong>
          <ActButton
            v-else
            type="button"
            link
            :label="t('account.end')"
            :busy="end.isPending.value"
            @press="end.mutate(one.name)"
          />
        </li>
      </ul>
      <h3>{{ t('account.shareTitle') }}</h3>
      <p class="soft">{{ t('account.shareWhat') }}</p>
      <form class="line" @submit.prevent="share.mutate(name)">
        <label
          >{{ t('account.screenName') }} <InputText v-model="name" class="field" data-screen-name
        /></label>
        <ActButton
          type="submit"
          class="quiet small"
          :label="t('account.share')"
          :why-not="whyNot('keep_stores') ?? (name.trim() ? undefined : t('account.lacksName'))"
          :busy="share.isPending.value"
          data-share-screen
        />
      </form>
      <p v-for="one in screens.data.value ?? []" :key="one.id" class="line">
        <ActButton
          type="button"
          link
          :label="t('account.endScreen', { name: one.name })"
          :why-not="whyNot('keep_stores')"
          @press="endScreen.mutate(one.id)"
        />
        <span class="soft">{{ one.by }}, {{ age(one.at) }}</span>
      </p>
      <SaidNo :error="share.error.value ?? end.error.value ?? endScreen.error.value" />
    </div>
  </BoxDialog>
</template>

<style scoped>
.account {
  display: grid;
  gap: var(--space-2);
  max-height: 70vh;
  overflow-y: auto;
}
form:not(.line) {
  display: grid;
  gap: var(--space-2);
}
h3 {
  margin: var(--space-3) 0 0;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
</style>
