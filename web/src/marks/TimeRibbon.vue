<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref, useTemplateRef } from 'vue'
import { clock, dayAndClock } from '../words/times'
import { bars, momentAt, place, stretches, type RibbonClip } from './ribbon'
import { t } from '../words/say'
import { counted } from '../words/units'
import { HOLDING_BRIEF, type Holding } from './holding'

/** Clips on the clock, a row per camera. Gaps, overlaps, strangers and the not-yet-held are seen, not read. */
const props = defineProps<{
  rows: { label: string; clips: RibbonClip[] }[]
  timeZone: string
  /** Whether a stretch of time can be drawn on it. */
  drawable?: boolean
  /** What the looks of bars mean, where that is not what is held of a card. */
  meaning?: Record<Holding, string>
}>()
const meant = computed(() => props.meaning ?? HOLDING_BRIEF)
/** The stretch that was drawn, in seconds; null is open. */
const range = defineModel<{ from: number | null; until: number | null }>('range')

const ROW = 34
const HEAD = 24
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const wide = computed(() => Math.max(300, width.value - 96))
const on = computed(() =>
  stretches(
    props.rows.flatMap((row) => row.clips),
    wide.value,
  ),
)
const drawn = computed(() => props.rows.map((row) => ({ label: row.label, bars: bars(row.clips, on.value) })))
const moment = (seconds: number) => new Date(seconds * 1000).toISOString()

const began = ref<number>()
const NAME = 92
/** A bar is so wide at least: one that is touched belongs to the stretch. */
const BAR = 5
const at = (event: PointerEvent) => event.clientX - (box.value?.getBoundingClientRect().left ?? 0) - NAME
function begin(event: PointerEvent) {
  if (!props.drawable || event.button !== 0) return
  began.value = at(event)
  if (event.currentTarget instanceof Element) event.currentTarget.setPointerCapture(event.pointerId)
}
function draw(event: PointerEvent) {
  if (began.value === undefined) return
  const now = at(event)
  if (Math.abs(now - began.value) < 4) return
  range.value = {
    from: momentAt(Math.min(began.value, now) - BAR, on.value),
    until: momentAt(Math.max(began.value, now), on.value),
  }
}
const drawnRange = computed(() => {
  const { from, until } = range.value ?? { from: null, until: null }
  if ((from === null && until === null) || !on.value.length) return undefined
  const x = from === null ? 0 : place(from, on.value)
  return { x, width: Math.max(3, (until === null ? wide.value : place(until, on.value)) - x) }
})

const ticks = computed(() =>
  on.value.flatMap((stretch) => {
    const span = stretch.to - stretch.from
    const steps = [60, 300, 900, 1800, 3600, 7200, 14400]
    const step = steps.find((one) => (span / one) * 64 < stretch.width) ?? 14400
    const first = Math.ceil((stretch.from + 1) / step) * step
    return Array.from(
      { length: Math.max(0, Math.floor((stretch.to - first) / step) + 1) },
      (_, n) => first + n * step,
    )
      .map((at) => ({ at, x: place(at, on.value) }))
      .filter((tick) => tick.x - stretch.x > 118 && tick.x < stretch.x + stretch.width - 40)
  }),
)
const words = computed(() =>
  drawn.value
    .map(
      (row) =>
        `${row.label}: ${counted(
          row.bars.reduce((sum, bar) => sum + bar.count, 0),
          'clip',
        )}`,
    )
    .join('; '),
)
</script>

<template>
  <div
    ref="box"
    class="ribbon"
    :class="{ drawable }"
    data-ribbon
    @pointerdown="begin"
    @pointermove="draw"
    @pointerup="began = undefined"
    @pointercancel="began = undefined"
  >
    <svg
      v-if="on.length"
      :width="wide + 96"
      :height="HEAD + ROW * rows.length + 4"
      role="img"
      :aria-label="t('timeRibbon.clipsByTime', { words })"
    >
      <g :transform="`translate(92 0)`">
        <g v-for="stretch in on" :key="stretch.from">
          <rect
            :x="stretch.x - 3"
            :y="HEAD"
            :width="stretch.width + 3"
            :height="ROW * rows.length"
            class="ground"
          />
          <text :x="stretch.x" y="16" class="day">{{ dayAndClock(moment(stretch.from), timeZone) }}</text>
        </g>
        <g v-for="tick in ticks" :key="tick.at">
          <path :d="`M${tick.x} ${HEAD}V${HEAD + ROW * rows.length}`" class="tick" />
          <text :x="tick.x" y="16" class="hour">{{ clock(moment(tick.at), timeZone) }}</text>
        </g>
      </g>
      <g v-for="(row, n) in drawn" :key="row.label" :transform="`translate(92 ${HEAD + n * ROW})`">
        <text x="-92" y="24" class="row-name">{{ row.label }}</text>
        <g v-for="(bar, place_) in row.bars" :key="place_" :class="bar.holding" :data-bar="bar.holding">
          <title>
            {{ `${clock(moment(bar.start), timeZone)}, ${bar.count} ${meant[bar.holding]}` }}
          </title>
          <rect
            v-if="bar.holding === 'held'"
            :x="bar.x"
            y="19"
            :width="bar.width"
            height="11"
            class="solid"
          />
          <template v-else-if="bar.holding === 'changed'">
            <path
              :d="`M${bar.x} 6h${bar.width}v8L${bar.x} 18zM${bar.x} 22L${bar.x + bar.width} 18v12h${-bar.width}z`"
              class="solid"
            />
          </template>
          <rect
            v-else-if="bar.holding === 'left'"
            :x="bar.x"
            y="28"
            :width="bar.width"
            height="2.5"
            class="solid"
          />
          <rect v-else :x="bar.x + 1" y="7" :width="Math.max(2, bar.width - 2)" height="22" class="hollow" />
          <path v-if="bar.odd" :d="`M${bar.x - 3} 0h11l-5.5 8z`" class="flag" />
        </g>
      </g>
      <rect
        v-if="drawnRange"
        :x="92 + drawnRange.x"
        :y="HEAD"
        :width="drawnRange.width"
        :height="ROW * rows.length"
        class="range"
        data-range
      />
    </svg>
  </div>
</template>

<style scoped>
.ribbon {
  overflow: hidden;
}
svg {
  display: block;
}
.drawable {
  cursor: crosshair;
  touch-action: pan-y;
  user-select: none;
}
.range {
  fill: var(--ink);
  fill-opacity: 0.14;
  stroke: var(--ink);
  stroke-width: 2;
  stroke-dasharray: 7 4;
}
.ground {
  fill: var(--sheet);
}
.tick {
  stroke: var(--hair);
}
text {
  fill: var(--ink);
  font: var(--type-note)/1 var(--text);
}
.day,
.row-name {
  font: 700 var(--type-lead)/1 var(--tag);
}
.row-name {
  font-size: var(--type-head);
}
.hour {
  fill: var(--ink-soft);
}
.solid {
  fill: var(--ink);
}
.held .solid {
  fill: var(--safe);
}
.hollow {
  fill: var(--paper);
  stroke: var(--ink);
  stroke-width: 2;
}
.alike .hollow {
  stroke-dasharray: 3 3;
}
.changed .solid,
.flag {
  fill: var(--trouble);
}
</style>
