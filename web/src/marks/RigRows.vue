<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import PennantMark from './PennantMark.vue'
import { t } from '../words/say'
import { lasting } from '../words/times'
import { counted } from '../words/units'

/** A rig: shots across, a row a camera. A clip that no other camera has stands out, and so does a hole. */
export interface RigMarkRow {
  letter: string
  label: string
  clips: { name: string; starts: number; length: number; shot: number | null; odd: string }[]
  missing: number[]
}
const props = defineProps<{
  rows: RigMarkRow[]
  shots: { number: number; starts: number; length: number }[]
}>()

const HEAD = 26
const ROW = 38
const LEFT = 120
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const wide = computed(() => Math.max(320, width.value || 1180))

/** A column for each shot, and one for each odd clip between them, in order of time: not to scale, so that none hides. */
const columns = computed(() => {
  const found = props.shots.map((shot) => ({ at: shot.starts, shot: shot.number }))
  const extras = props.rows.flatMap((row) =>
    row.clips.filter((clip) => clip.shot === null).map((clip) => ({ at: clip.starts, shot: 0 })),
  )
  const all = [...found]
  for (const extra of extras)
    if (!all.some((one) => one.shot === 0 && Math.abs(one.at - extra.at) < 2)) all.push(extra)
  return all.sort((a, b) => a.at - b.at)
})
const step = computed(() => Math.min(92, (wide.value - LEFT) / Math.max(1, columns.value.length)))
const longest = computed(() =>
  Math.max(1, ...props.rows.flatMap((row) => row.clips.map((clip) => clip.length))),
)
const long = (length: number) => Math.max(5, (length / longest.value) * (step.value - 14))

const place = (clip: { shot: number | null; starts: number }) =>
  columns.value.findIndex((column) =>
    clip.shot === null
      ? column.shot === 0 && Math.abs(column.at - clip.starts) < 2
      : column.shot === clip.shot,
  )
const drawn = computed(() =>
  props.rows.map((row) => ({
    ...row,
    bars: row.clips.map((clip) => {
      const first = row.clips.find((one) => one.shot === clip.shot && clip.shot !== null)
      const shift = first && first !== clip ? long(first.length) + 4 : 0
      return { ...clip, x: LEFT + place(clip) * step.value + shift, width: long(clip.length) }
    }),
    holes: row.missing.map((shot) => ({
      shot,
      x: LEFT + columns.value.findIndex((column) => column.shot === shot) * step.value,
    })),
  })),
)
</script>

<template>
  <div ref="box" class="rig" data-rig>
    <svg
      :width="wide"
      :height="HEAD + rows.length * ROW"
      role="img"
      :aria-label="
        t('rigRows.camerasShots', {
          cameras: counted(rows.length, 'camera'),
          shots: counted(shots.length, 'shot'),
          rows: rows.map((row) => `${row.label}: ${counted(row.clips.length, 'clip')}`).join('; '),
        })
      "
    >
      <template v-for="(column, n) in columns" :key="n">
        <text v-if="column.shot" :x="LEFT + n * step" y="18" class="number">{{ column.shot }}</text>
        <text v-else :x="LEFT + n * step" y="18" class="number trouble-text">?</text>
        <path :d="`M${LEFT + n * step - 6} ${HEAD}V${HEAD + rows.length * ROW}`" class="line" />
      </template>
      <g v-for="(row, n) in drawn" :key="row.label" :transform="`translate(0 ${HEAD + n * ROW})`">
        <PennantMark :letter="row.letter" :size="26" x="0" y="4" />
        <text x="46" y="24" class="label">{{ row.label }}</text>
        <g v-for="bar in row.bars" :key="bar.name + bar.starts" :data-rig-clip="bar.name" :data-odd="bar.odd">
          <title>{{ `${bar.name}, ${lasting(bar.length)}${bar.odd ? ', ' + bar.odd : ''}` }}</title>
          <rect :x="bar.x" y="9" :width="bar.width" height="20" :class="bar.odd ? 'odd' : 'even'" />
          <path v-if="bar.odd" :d="`M${bar.x - 2} 0h12l-6 9z`" class="flag" />
        </g>
        <g v-for="hole in row.holes" :key="hole.shot" :data-rig-hole="hole.shot">
          <rect :x="hole.x" y="9" :width="Math.max(14, step - 22)" height="20" class="hole" />
          <path :d="`M${hole.x - 2} 0h12l-6 9z`" class="flag" />
        </g>
      </g>
    </svg>
  </div>
</template>

<style scoped>
.rig {
  overflow-x: auto;
}
.number,
.label {
  fill: var(--ink);
  font: 700 var(--type-lead)/1 var(--tag);
}
.line {
  stroke: var(--hair);
}
.even {
  fill: var(--ink);
}
.odd {
  fill: var(--sheet);
  stroke: var(--trouble);
  stroke-width: 3;
}
.hole {
  fill: none;
  stroke: var(--trouble);
  stroke-width: 2.5;
  stroke-dasharray: 5 4;
}
.flag {
  fill: var(--trouble);
}
.trouble-text {
  fill: var(--trouble);
}
</style>
