<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import type { Looks } from '../../parts/chartLooks'
import { number, t } from '../../words/say'
import { shortDay } from '../../words/times'
import { bytes } from '../../words/units'
import TrendPicture from './TrendPicture.vue'

/** What was free on each store day by day, and what will be if it goes on so. */
const props = defineProps<{ room: readonly Shapes['StoreTrend'][] }>()
const DASHES = [
  [8, 3],
  [2, 3],
  [12, 3, 2, 3],
  [5, 5],
  [1, 4],
] as const
const SIGNS = ['circle', 'rect', 'triangle', 'diamond', 'emptyCircle', 'emptyRect'] as const
const first = computed(() =>
  [...props.room].sort((a, b) => ((a.expected ?? '9') < (b.expected ?? '9') ? -1 : 1)).at(0),
)
const answer = computed(() => {
  const one = first.value
  if (!one) return ''
  if (!one.earliest || !one.expected) return t('trends.roomLong')
  return t('trends.roomFirst', {
    store: one.store,
    expected: shortDay(one.expected),
    earliest: shortDay(one.earliest),
    latest: one.latest ? shortDay(one.latest) : t('trends.farOff'),
  })
})
const rows = computed(() =>
  props.room.flatMap((one) => one.days.map((on) => [one.store, shortDay(on.day), bytes(on.free)])),
)
/** So many days ahead are drawn; what is later is said above. */
const AHEAD = 21
const DAY_MS = 86_400_000
const share = (bytes: number, total: number) => (100 * bytes) / total
const today = computed(() => props.room[0]?.days.at(-1)?.day ?? '')
const HIGH = 300
const LEAST_APART = 16
const UNDER_THE_LINE = 16
/** How far each name is moved down, in pixels, so that none lies on another. */
const shifts = computed(() => {
  const perPercent = (HIGH - 40) / 100
  const found = new Map<string, number>()
  let below = -LEAST_APART
  const lines = props.room.map((one) => ({
    name: one.store,
    y: (100 - share(one.days.at(-1)?.free ?? 0, one.total)) * perPercent,
  }))
  for (const { name, y } of lines.sort((a, b) => a.y - b.y)) {
    below = Math.max(y, below + LEAST_APART)
    found.set(name, below - y + UNDER_THE_LINE)
  }
  return found
})
const option = computed(() => (of: Looks) => ({
  grid: { left: 64, right: 30, top: 12, bottom: 28 },
  xAxis: {
    ...of.axis,
    type: 'time',
    max: Date.parse(today.value) + AHEAD * DAY_MS,
    splitLine: { show: false },
    minInterval: DAY_MS,
    axisLabel: {
      ...of.text,
      hideOverlap: true,
      formatter: (at: number) => shortDay(new Date(at).toISOString().slice(0, 10)),
    },
  },
  yAxis: {
    ...of.axis,
    type: 'value',
    min: 0,
    max: 100,
    axisLabel: { ...of.text, formatter: (value: number) => t('trends.percent', { percent: number(value) }) },
  },
  series: props.room.flatMap((one, n) => {
    const last = one.days.at(-1)
    const past = {
      type: 'line',
      data: one.days.map((on) => [on.day, share(on.free, one.total)]),
      symbol: SIGNS[n % SIGNS.length],
      symbolSize: 9,
      itemStyle: { color: of.ink },
      lineStyle: { color: of.ink, width: 2 },
      endLabel: {
        show: true,
        distance: 12,
        offset: [0, shifts.value.get(one.store) ?? 0],
        formatter: one.store,
        color: of.ink,
        fontFamily: of.text.fontFamily,
        fontSize: 14,
      },
    }
    if (!last || !one.expected) return [past]
    const ahead = {
      type: 'line',
      clip: true,
      data: [
        [last.day, share(last.free, one.total)],
        [one.expected, 0],
      ],
      symbol: 'none',
      silent: true,
      lineStyle: { color: of.ink, width: 2, type: DASHES[n % DASHES.length] },
    }
    return [past, ahead]
  }),
}))
</script>

<template>
  <TrendPicture
    :asks="t('trends.roomAsks')"
    :answer="answer"
    :note="t('trends.roomNote')"
    :high="HIGH"
    :option="option"
    :heads="[t('trends.store'), t('trends.dayHead'), t('trends.free')]"
    :rows="rows"
    data-trend="room"
  />
</template>
