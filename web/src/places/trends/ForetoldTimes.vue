<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import type { Looks } from '../../parts/chartLooks'
import { number, t } from '../../words/say'
import { dayAndClock, lasting } from '../../words/times'
import TrendPicture from './TrendPicture.vue'

/** What was foretold of each offload, and how long it took. */
const props = defineProps<{ foretold: Shapes['Foretold']; timeZone: string }>()
const runs = computed(() => props.foretold.runs)
/** Under a tenth of a second nobody cares. */
const off = (seconds: number) => lasting(Math.max(0.1, seconds))
const answer = computed(() =>
  runs.value.length === 1
    ? t('trends.foretoldOne', { most: off(props.foretold.most_s) })
    : t('trends.foretoldAnswer', {
        count: number(runs.value.length),
        median: off(props.foretold.median_s),
        most: off(props.foretold.most_s),
      }),
)
const rows = computed(() =>
  runs.value.map((one) => [
    one.roll,
    dayAndClock(one.at, props.timeZone),
    off(one.foretold_s),
    off(one.took_s),
  ]),
)
const MINUTE_S = 60
const option = computed(() => (of: Looks) => ({
  grid: { left: 90, right: 30, top: 12, bottom: 56 },
  tooltip: { ...of.tip, trigger: 'axis', valueFormatter: (value: number) => off(value * MINUTE_S) },
  xAxis: {
    ...of.axis,
    type: 'category',
    data: runs.value.map((one) => `${one.roll} ${dayAndClock(one.at, props.timeZone)}`),
    axisLabel: { ...of.text, formatter: (name: string) => name.split(' ')[0], rotate: 60 },
  },
  yAxis: {
    ...of.axis,
    type: 'value',
    min: 0,
    axisLabel: { ...of.text, formatter: (value: number) => t('trends.minutes', { count: number(value) }) },
  },
  series: [
    {
      name: t('trends.lasted'),
      type: 'bar',
      barMaxWidth: 26,
      itemStyle: { color: of.ink },
      data: runs.value.map((one) => one.took_s / MINUTE_S),
    },
    {
      name: t('trends.foretold'),
      type: 'bar',
      barMaxWidth: 26,
      itemStyle: { color: of.sheet, borderColor: of.ink, borderWidth: 1.5 },
      data: runs.value.map((one) => one.foretold_s / MINUTE_S),
    },
  ],
}))
</script>

<template>
  <TrendPicture
    :asks="t('trends.foretoldAsks')"
    :answer="answer"
    :note="t('trends.foretoldNote')"
    :high="240"
    :option="option"
    :heads="[t('trends.rollHead'), t('trends.at'), t('trends.foretold'), t('trends.lasted')]"
    :rows="rows"
    data-trend="foretold"
  />
</template>
