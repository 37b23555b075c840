<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import type { Looks } from '../../parts/chartLooks'
import { listed, t } from '../../words/say'
import { dayAndClock } from '../../words/times'
import { rate } from '../../words/units'
import TrendPicture from './TrendPicture.vue'

/** The last runs of each reader and store; one that was faster before stands out. */
const props = defineProps<{ rates: readonly Shapes['PartRates'][]; timeZone: string }>()
const LATELY = 3
const parts = computed(() => [...props.rates].reverse())
const slow = computed(() => props.rates.filter((one) => one.slow).map((one) => one.name))
/** Of fewer runs nothing is said. */
const ENOUGH = 6
const answer = computed(() => {
  if (slow.value.length) return t('trends.ratesSlow', { names: listed(slow.value) }, slow.value.length)
  return t(props.rates.some((one) => one.runs.length >= ENOUGH) ? 'trends.ratesFine' : 'trends.ratesFew')
})
const nameOf = (one: Shapes['PartRates']) =>
  t(one.reader ? 'trends.reader' : 'trends.aStore', { name: one.name })
const rows = computed(() =>
  props.rates.flatMap((one) =>
    one.runs.map((run) => [nameOf(one), dayAndClock(run.at, props.timeZone), rate(run.rate)]),
  ),
)
/** Earlier runs are outlines, the last ones are solid; those of a part that stands out are other signs in another colour. */
const option = computed(() => (of: Looks) => ({
  grid: { left: 200, right: 30, top: 12, bottom: 44 },
  tooltip: { ...of.tip, trigger: 'item', valueFormatter: (value: number) => rate(value) },
  xAxis: {
    ...of.axis,
    type: 'value',
    min: 0,
    axisLabel: { ...of.text, hideOverlap: true, formatter: (value: number) => rate(value) },
  },
  yAxis: {
    ...of.axis,
    type: 'category',
    data: parts.value.map(nameOf),
    axisLabel: { ...of.text, width: 180, overflow: 'truncate' },
  },
  series: [false, true].map((lately) => ({
    type: 'scatter',
    symbolSize: lately ? 13 : 8,
    data: parts.value.flatMap((one, row) =>
      (lately ? one.runs.slice(-LATELY) : one.runs.slice(0, -LATELY)).map((run) => ({
        value: [run.rate, row],
        name: nameOf(one),
        symbol: one.slow ? 'diamond' : 'circle',
        itemStyle: {
          color: lately ? (one.slow ? of.trouble : of.ink) : of.sheet,
          borderColor: one.slow ? of.trouble : of.ink,
          borderWidth: 1.5,
        },
      })),
    ),
  })),
}))
</script>

<template>
  <TrendPicture
    :asks="t('trends.ratesAsks')"
    :answer="answer"
    :alarm="slow.length > 0"
    :note="t('trends.ratesNote')"
    :high="60 + 30 * rates.length"
    :option="option"
    :heads="[t('trends.part'), t('trends.at'), t('trends.rate')]"
    :rows="rows"
    data-trend="rates"
  />
</template>
