<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import type { Looks } from '../../parts/chartLooks'
import { number, t } from '../../words/say'
import { dayAndClock, lasting } from '../../words/times'
import TrendPicture from './TrendPicture.vue'

/** From the moment that a card came into a reader until it was cleared. */
const props = defineProps<{ times: readonly Shapes['CardTime'][]; timeZone: string }>()
const lasted = computed(() =>
  props.times.map((one) => ({
    ...one,
    seconds: (Date.parse(one.cleared_at) - Date.parse(one.came_at)) / 1000,
  })),
)
const inOrder = computed(() => [...lasted.value].sort((a, b) => a.seconds - b.seconds))
const answer = computed(() => {
  const longest = inOrder.value.at(-1)
  const middle = inOrder.value[Math.floor((inOrder.value.length - 1) / 2)]
  if (!longest || !middle) return ''
  return t('trends.timesAnswer', {
    middle: lasting(middle.seconds),
    card: longest.card,
    longest: lasting(longest.seconds),
  })
})
const rows = computed(() =>
  lasted.value.map((one) => [
    one.card,
    dayAndClock(one.came_at, props.timeZone),
    dayAndClock(one.cleared_at, props.timeZone),
    lasting(one.seconds),
  ]),
)
const HOUR_S = 3600
/** What the axis counts in: hours where any card was away for two. */
const unit = computed(() => {
  const hours = (inOrder.value.at(-1)?.seconds ?? 0) >= 2 * HOUR_S
  return {
    seconds: hours ? HOUR_S : 60,
    words: hours ? ('trends.hours' as const) : ('trends.minutes' as const),
  }
})
const option = computed(() => (of: Looks) => ({
  grid: { left: 90, right: 30, top: 12, bottom: 56 },
  tooltip: {
    ...of.tip,
    trigger: 'item',
    valueFormatter: (value: number) => lasting(value * unit.value.seconds),
  },
  xAxis: {
    ...of.axis,
    type: 'category',
    data: lasted.value.map((one) => `${one.card} ${dayAndClock(one.cleared_at, props.timeZone)}`),
    axisLabel: { ...of.text, formatter: (name: string) => name.split(' ')[0], rotate: 60 },
  },
  yAxis: {
    ...of.axis,
    type: 'value',
    min: 0,
    axisLabel: { ...of.text, formatter: (value: number) => t(unit.value.words, { count: number(value) }) },
  },
  series: [
    {
      type: 'bar',
      barMaxWidth: 26,
      itemStyle: { color: of.ink },
      data: lasted.value.map((one) => one.seconds / unit.value.seconds),
    },
  ],
}))
</script>

<template>
  <TrendPicture
    :asks="t('trends.timesAsks')"
    :answer="answer"
    :note="t('trends.timesNote')"
    :high="240"
    :option="option"
    :heads="[t('trends.card'), t('trends.came'), t('trends.cleared'), t('trends.lasted')]"
    :rows="rows"
    data-trend="times"
  />
</template>
