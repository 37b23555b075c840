<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { HERE } from '../../api/here'
import { useWaterline } from '../../api/queries/useWaterline'
import { t } from '../../words/say'
import { dayAndClock } from '../../words/times'
import { counted } from '../../words/units'
import SetVolume from './SetVolume.vue'

/** One set: its media in their order, and what goes with them on paper. */
const props = defineProps<{ one: Shapes['MediaSetOut'] }>()
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const at = (what: string) => `/api/productions/${encodeURIComponent(HERE)}/sets/${props.one.number}/${what}`
</script>

<template>
  <section class="chapter" :data-set="one.name">
    <h2>
      <span class="tag">{{ one.name }}</span> {{ counted(one.volumes.length, 'medium') }}, {{ one.medium }}
    </h2>
    <p class="line">
      <span class="soft">{{ t('sets.by', { by: one.by, at: dayAndClock(one.at, zone) }) }}</span>
      <a :href="at('index.csv')" download data-index>{{ t('sets.index') }}</a>
      <a :href="at('labels.pdf')" target="_blank" data-labels>{{ t('sets.labels') }}</a>
    </p>
    <ul>
      <SetVolume v-for="volume in one.volumes" :key="volume.number" :number="one.number" :volume="volume" />
    </ul>
  </section>
</template>
