<script setup lang="ts">
import { computed, watchEffect } from 'vue'
import { goToOneOf, HERE } from './api/here'
import { useMe } from './api/queries'
import AppShell from './shell/AppShell.vue'
import SignIn from './shell/SignIn.vue'
import { useTheme } from './theme/choices'

useTheme()
const me = useMe()
watchEffect(() => goToOneOf(me.data.value?.productions ?? []))
const here = computed(() => me.data.value?.productions.some((one) => one.slug === HERE))
const unreachable = computed(() => me.error.value?.message)
</script>

<template>
  <p v-if="unreachable" role="alert" class="place trouble">{{ unreachable }}</p>
  <template v-else-if="me.isSuccess.value">
    <SignIn v-if="!me.data.value" />
    <AppShell v-else-if="here" :me="me.data.value" />
    <p v-else-if="!me.data.value.productions.length" role="alert" class="place">
      There is no production in this ledger yet.
    </p>
  </template>
</template>
