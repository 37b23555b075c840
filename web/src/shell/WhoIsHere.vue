<script setup lang="ts">
import { useHere } from '../api/queries/useHere'
import { useStations } from '../api/queries/useStations'
import { t } from '../words/say'
import { age } from '../words/times'
import BoxDialog from './BoxDialog.vue'

/** Whom one can ask now, and which machines can be reached. */
const visible = defineModel<boolean>('visible', { required: true })
const here = useHere()
const stations = useStations()
const whereabouts = (browsers: number) => (browsers > 1 ? t('here.browsers', {}, browsers) : '')
</script>

<template>
  <BoxDialog v-model:visible="visible" :title="t('here.title')">
    <div class="here" data-here-box>
      <h3>{{ t('here.people') }}</h3>
      <ul>
        <li v-for="one in here.data.value ?? []" :key="`${one.role} ${one.name}`" :data-here="one.name">
          <b>{{ one.name }}</b>, {{ one.role || t('here.screen') }},
          {{ t('here.since', { age: age(one.since) }) }}
          {{ whereabouts(one.browsers) }}
        </li>
      </ul>
      <h3>{{ t('here.stations') }}</h3>
      <ul>
        <li v-for="one in stations.data.value ?? []" :key="one.name" :data-here-station="one.name">
          <b>{{ one.name }}</b>,
          <span v-if="one.running">{{ t('here.running') }}</span>
          <span v-else-if="one.turned_away">{{ t('here.turnedAway') }}</span>
          <span v-else class="alarm">{{
            one.seen_at ? t('here.away', { age: age(one.seen_at) }) : t('here.never')
          }}</span>
        </li>
      </ul>
    </div>
  </BoxDialog>
</template>

<style scoped>
.here {
  max-height: 70vh;
  overflow-y: auto;
}
h3 {
  margin: var(--space-3) 0 var(--space-1);
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
.alarm {
  color: var(--trouble);
}
</style>
