<script setup lang="ts">
import AccountLines from '../../parts/AccountLines.vue'
import { t } from '../../words/say'
import AfterRuns from './AfterRuns.vue'
import ClipLists from './ClipLists.vue'

/** What of a roll goes to others: delivered, as an account, as clips for editing; and what stations began with it. */
defineProps<{ tag: string; clips: boolean }>()
</script>

<template>
  <h2>{{ t('rollPage.toHandOver') }}</h2>
  <p>
    <RouterLink :to="{ path: '/deliveries', query: { tag } }" data-deliver-roll>{{
      t('deliveries.deliverRoll')
    }}</RouterLink>
  </p>
  <AccountLines on="roll" :about="tag" />
  <ClipLists v-if="clips" :tag="tag" />
  <AfterRuns :tag="tag" />
</template>

<style scoped>
h2 {
  margin-top: var(--space-5);
}
</style>
