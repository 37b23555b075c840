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
const longest = computed(() => Math.max(...runs.value.flatMap((one) => [one.foretold_s, one.took_s])))
/** What the axis counts in: minutes, where any took two. */
const unit = computed(() => (longest.value >= 120 ? 60 : 1))
const counted = (count: number) =>
  unit.value > 1
    ? t('trends.minutes', { count: number(count) })
    : t('times.seconds', { seconds: number(count) })
const option = computed(() => (of: Looks) => ({
  grid: { left: 90, right: 30, top: 12, bottom: 56 },
  tooltip: { ...of.tip, trigger: 'axis', valueFormatter: (value: number) => off(value * unit.value) },
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
    axisLabel: { ...of.text, formatter: counted },
  },
  series: [
    {
      name: t('trends.lasted'),
      type: 'bar',
      barMaxWidth: 26,
      itemStyle: { color: of.ink },
      data: runs.value.map((one) => one.took_s / unit.value),
    },
    {
      name: t('trends.foretold'),
      type: 'bar',
      barMaxWidth: 26,
      itemStyle: { color: of.sheet, borderColor: of.ink, borderWidth: 1.5 },
      data: runs.value.map((one) => one.foretold_s / unit.value),
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
