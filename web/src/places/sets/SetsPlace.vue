<script setup lang="ts">
import { useSets } from '../../api/queries/useSets'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'
import DivideForm from './DivideForm.vue'
import MediaSet from './MediaSet.vue'
import ReturnedForm from './ReturnedForm.vue'

/** Rolls divided among discs or tapes: what goes onto which, and where each is kept. */
const asked = useSets()
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/deliveries">{{ t('deliveries.title') }}</RouterLink>
    </p>
    <h1>{{ t('sets.title') }}</h1>
    <p class="soft">{{ t('sets.says') }}</p>
    <DivideForm :media="asked.data.value?.media ?? []" :sets="asked.data.value?.sets ?? []" />
    <LastKnown
      :error="asked.error.value"
      :known="Boolean(asked.data.value)"
      :updated-at="asked.dataUpdatedAt.value"
    >
      <p v-if="!asked.data.value?.sets.length" class="soft" data-none>{{ t('sets.none') }}</p>
      <MediaSet v-for="one in asked.data.value?.sets ?? []" :key="one.number" :one="one" />
    </LastKnown>
    <ReturnedForm v-if="asked.data.value?.sets.length" />
  </main>
</template>

<style scoped>
h1 {
  margin: var(--space-2) 0 var(--space-3);
  font: 700 var(--type-large) / 1.1 var(--tag);
}
</style>
