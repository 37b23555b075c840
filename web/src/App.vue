<script setup lang="ts">
import { computed, watchEffect } from 'vue'
import { goToOneOf } from './api/here'
import { useMe } from './api/queries'
import AppShell from './shell/AppShell.vue'
import SignIn from './shell/SignIn.vue'
import { useTheme } from './theme/choices'

useTheme()
const me = useMe()
watchEffect(() => goToOneOf(me.data.value?.productions ?? []))
const unreachable = computed(() => me.error.value?.message)
</script>

<template>
  <p v-if="unreachable" role="alert" class="place trouble">{{ unreachable }}</p>
  <template v-else-if="me.isSuccess.value">
    <AppShell v-if="me.data.value" :me="me.data.value" />
    <SignIn v-else />
  </template>
</template>
