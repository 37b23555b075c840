<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, watchEffect } from 'vue'
import { goToOneOf, HERE } from './api/here'
import { useMe } from './api/queries'
import AppShell from './shell/AppShell.vue'
import SignIn from './shell/SignIn.vue'
import { sessionBegan, sessionEnded } from './shell/session'
import { useTheme } from './theme/choices'

useTheme()
const me = useMe()
const cache = useQueryClient()
watchEffect(() => goToOneOf(me.data.value?.productions ?? []))
const here = computed(() => me.data.value?.productions.some((one) => one.slug === HERE))
/** Only before anybody was known: later the page stays, with what was last seen on it. */
const unreachable = computed(() => (me.data.value === undefined ? me.error.value?.message : undefined))

async function goOn() {
  sessionBegan()
  await cache.invalidateQueries()
}
</script>

<template>
  <p v-if="unreachable" role="alert" class="place trouble">{{ unreachable }}</p>
  <template v-else-if="me.data.value !== undefined">
    <SignIn v-if="!me.data.value" @signed-in="goOn" />
    <template v-else-if="here">
      <AppShell :key="me.data.value.username" :me="me.data.value" :inert="sessionEnded" />
      <SignIn v-if="sessionEnded" over :name="me.data.value.username" @signed-in="goOn" />
    </template>
    <p v-else-if="!me.data.value.productions.length" role="alert" class="place">
      There is no production in this ledger yet.
    </p>
  </template>
</template>
