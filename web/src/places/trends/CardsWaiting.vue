<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import type { Looks } from '../../parts/chartLooks'
import { number, t } from '../../words/say'
import { clock, shortDay } from '../../words/times'
import { counted } from '../../words/units'
import TrendPicture from './TrendPicture.vue'

/** How many cards were offloaded and not cleared, over a day. */
const props = defineProps<{ waiting: Shapes['CardsWaiting']; timeZone: string }>()
const most = computed(() =>
  props.waiting.steps.reduce((found, one) => (one.cards > found.cards ? one : found)),
)
const last = computed(() => props.waiting.steps.reduce((_, one) => one))
const answer = computed(() =>
  t('trends.waitingAnswer', {
    last: number(last.value.cards),
    at: clock(last.value.at, props.timeZone),
    cards: counted(props.waiting.cards, 'card'),
    most: number(most.value.cards),
    mostAt: clock(most.value.at, props.timeZone),
  }),
)
const rows = computed(() =>
  props.waiting.steps.map((one) => [clock(one.at, props.timeZone), number(one.cards)]),
)
const option = computed(() => (of: Looks) => ({
  grid: { left: 50, right: 40, top: 24, bottom: 28 },
  tooltip: { ...of.tip, trigger: 'item' },
  xAxis: {
    ...of.axis,
    type: 'time',
    splitLine: { show: false },
    axisLabel: {
      ...of.text,
      hideOverlap: true,
      formatter: (at: number) => clock(new Date(at).toISOString(), props.timeZone),
    },
  },
  yAxis: {
    ...of.axis,
    type: 'value',
    min: 0,
    max: Math.max(props.waiting.cards, most.value.cards),
    minInterval: 1,
  },
  series: [
    {
      type: 'line',
      step: 'end',
      symbol: 'none',
      lineStyle: { color: of.ink, width: 3 },
      data: props.waiting.steps.map((one) => [one.at, one.cards]),
      markLine: {
        silent: true,
        symbol: 'none',
        lineStyle: { color: of.soft, type: 'dashed' },
        label: { ...of.text, formatter: t('trends.allCards'), position: 'insideStartTop' },
        data: [{ yAxis: props.waiting.cards }],
      },
    },
  ],
}))
</script>

<template>
  <TrendPicture
    :asks="t('trends.waitingAsks', { day: shortDay(waiting.day) })"
    :answer="answer"
    :note="t('trends.waitingNote')"
    :high="240"
    :option="option"
    :heads="[t('trends.at'), t('trends.cards')]"
    :rows="rows"
    data-trend="waiting"
  />
</template>
