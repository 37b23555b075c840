<script setup lang="ts">
import { computed } from 'vue'
import { useTrends } from '../../api/queries/useTrends'
import { useWaterline } from '../../api/queries/useWaterline'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'
import CardsWaiting from './CardsWaiting.vue'
import CardTimes from './CardTimes.vue'
import CopyAges from './CopyAges.vue'
import ForetoldTimes from './ForetoldTimes.vue'
import RateTrend from './RateTrend.vue'
import RoomTrend from './RoomTrend.vue'

/** How it goes: each picture answers the question above it. */
const trends = useTrends()
const line = useWaterline()
const found = computed(() => trends.data.value)
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const nothing = computed(() => found.value && !found.value.waiting)
</script>

<template>
  <main class="place">
    <p class="screen-only">
      <RouterLink to="/log">{{ t('places.log') }}</RouterLink>
    </p>
    <LastKnown :error="trends.error.value" :known="Boolean(found)" :updated-at="trends.dataUpdatedAt.value">
      <h1>{{ t('trends.title') }}</h1>
      <p v-if="nothing" data-nothing>{{ t('trends.nothing') }}</p>
      <template v-if="found">
        <CardsWaiting v-if="found.waiting" :waiting="found.waiting" :time-zone="zone" />
        <RoomTrend v-if="found.room.length" :room="found.room" />
        <RateTrend v-if="found.rates.length" :rates="found.rates" :time-zone="zone" />
        <ForetoldTimes v-if="found.foretold" :foretold="found.foretold" :time-zone="zone" />
        <CardTimes v-if="found.times.length" :times="found.times" :time-zone="zone" />
        <CopyAges v-if="found.ages.length" :ages="found.ages" />
      </template>
    </LastKnown>
  </main>
</template>
