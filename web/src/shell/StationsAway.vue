<script setup lang="ts">
import { useStations } from '../api/queries/useStations'
import { age } from '../words/times'
import { t } from '../words/say'

/** What is down, and since when: on every screen, as long as it lasts. */
const { away } = useStations()
</script>

<template>
  <p v-for="one in away" :key="one.name" role="status" class="place trouble" :data-away="one.name">
    {{
      one.seen_at
        ? t('stationsAway.since', { name: one.name, since: age(one.seen_at) })
        : t('stationsAway.never', { name: one.name })
    }}
  </p>
</template>

<style scoped>
p {
  padding-block: var(--space-1);
}
</style>
