<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, watchEffect } from 'vue'
import { goToOneOf, HERE } from './api/here'
import { useBegun } from './api/queries/useBegun'
import { useMe } from './api/queries/useMe'
import AppShell from './shell/AppShell.vue'
import SignIn from './shell/SignIn.vue'
import { sessionBegan, sessionEnded, signingIn } from './shell/session'
import { useTheme } from './theme/choices'
import { t } from './words/say'

useTheme()
/** Two pages are for people who have no account yet, and belong to no production. */
const BeginPage = defineAsyncComponent(() => import('./places/begin/BeginPage.vue'))
const JoinPage = defineAsyncComponent(() => import('./places/begin/JoinPage.vue'))
const PAGE = location.pathname.split('/')[1]
const me = useMe()
const begun = useBegun()
const cache = useQueryClient()
watchEffect(() => PAGE !== 'begin' && PAGE !== 'join' && goToOneOf(me.data.value?.productions ?? []))
const here = computed(() => me.data.value?.productions.some((one) => one.slug === HERE))
/** Only before anybody was known: later the page stays, with what was last seen on it. */
const unreachable = computed(() => (me.data.value === undefined ? me.error.value?.message : undefined))

async function goOn() {
  sessionBegan()
  signingIn.value = false
  await cache.invalidateQueries()
}
</script>

<template>
  <BeginPage v-if="PAGE === 'begin'" />
  <JoinPage v-else-if="PAGE === 'join'" />
  <template v-else>
    <p v-if="unreachable" role="alert" class="place trouble">{{ unreachable }}</p>
    <template v-else-if="me.data.value !== undefined">
      <p v-if="!me.data.value && begun.data.value?.begun === false" role="alert" class="place" data-not-begun>
        {{ t('app.notBegun') }}
      </p>
      <SignIn v-else-if="!me.data.value" :demo="begun.data.value?.demo" @signed-in="goOn" />
      <template v-else-if="here">
        <AppShell :key="me.data.value.username" :me="me.data.value" :inert="sessionEnded || signingIn" />
        <SignIn v-if="sessionEnded || signingIn" over :name="me.data.value.username" @signed-in="goOn" />
      </template>
      <p v-else-if="!me.data.value.productions.length" role="alert" class="place">
        {{ t('app.thereIsNoProductionIn') }}
      </p>
    </template>
  </template>
</template>
