<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { HOLDING_BRIEF, type Holding } from '../../marks/holding'
import TimeRibbon from '../../marks/TimeRibbon.vue'
import { t } from '../../words/say'

/** The whole day across cameras: what is safe is solid, what is not yet is seen at once. */
const props = defineProps<{ rolls: readonly Shapes['DayRoll'][]; timeZone: string }>()
const LOOKS: Record<Shapes['RollState'], Holding> = {
  safe: 'held',
  short: 'new',
  'below the line': 'changed',
}
const MEANING: Record<Holding, string> = {
  ...HOLDING_BRIEF,
  held: t('days.safe'),
  new: t('days.short'),
  changed: t('days.below'),
}
const rows = computed(() => {
  const cameras = [...new Set(props.rolls.filter((roll) => roll.bars?.length).map((roll) => roll.camera))]
  return cameras.map((camera) => ({
    label: camera,
    clips: props.rolls
      .filter((roll) => roll.camera === camera)
      .flatMap((roll) =>
        (roll.bars ?? []).map((bar) => ({
          ...bar,
          holding: LOOKS[roll.state],
          odd: false,
        })),
      )
      .sort((a, b) => a.start - b.start),
  }))
})
const drawn = computed(() => rows.value.some((row) => row.clips.length))
</script>

<template>
  <section v-if="drawn" class="chapter" data-day-ribbon>
    <h2>{{ t('days.ribbon') }}</h2>
    <p class="soft">{{ t('days.ribbonNow') }}</p>
    <TimeRibbon :rows="rows" :time-zone="timeZone" :meaning="MEANING" />
  </section>
</template>
