<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { t } from '../../words/say'
import { shortDay } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** A store as a plank of its capacity: what it holds lies in it like water, a cell for each day; the rest is room. */
const props = defineProps<{ store: Shapes['StoreOut']; room: Shapes['RoomOut'] | undefined }>()
interface OfDay {
  day: string
  bytes: number
  cameras: string[]
}
const days = computed(() => {
  const found = new Map<string, OfDay>()
  for (const one of props.room?.held ?? []) {
    const of = found.get(one.day) ?? { day: one.day, bytes: 0, cameras: [] }
    of.bytes += one.bytes
    of.cameras.push(one.camera)
    found.set(one.day, of)
  }
  return [...found.values()]
})
const whole = computed(() => {
  const held = days.value.reduce((sum, one) => sum + one.bytes, 0)
  return props.store.unbounded || !props.store.total ? held : Math.max(props.store.total, held)
})
const percent = (count: number) => (whole.value ? (100 * count) / whole.value : 0)
/** What is there besides: other people's files, and what of ours no copy is known to be. */
const besides = computed(() => {
  const { online, unbounded, total, free } = props.store
  if (!online || unbounded || !total) return 0
  return Math.max(0, total - free - days.value.reduce((sum, one) => sum + one.bytes, 0))
})
const said = (one: OfDay) =>
  t('storeHolds.ofDay', { day: shortDay(one.day), bytes: bytes(one.bytes), cameras: one.cameras.join(' ') })
const inWords = computed(() =>
  days.value.length ? days.value.map(said).join('; ') : t('storeHolds.nothing'),
)
</script>

<template>
  <div class="holds" :class="{ away: !store.online }">
    <div class="plank" role="img" :aria-label="inWords" :data-holds="store.name">
      <span
        v-if="besides"
        class="cell besides"
        :style="{ width: `${percent(besides)}%` }"
        :title="t('storeHolds.besides', { bytes: bytes(besides) })"
      />
      <span
        v-for="one in days"
        :key="one.day"
        class="cell"
        :style="{ width: `${percent(one.bytes)}%` }"
        :title="said(one)"
      />
    </div>
    <p v-if="days.length" class="soft days">
      {{ counted(days.length, 'day') }}: {{ days.slice(-4).map(said).join('; ') }}
    </p>
  </div>
</template>

<style scoped>
.plank {
  display: flex;
  height: 1.75rem;
  border: var(--line-bold) solid var(--ink);
}
.away .plank {
  border-style: dashed;
}
/* Water, as on the Bench: what lies there. Each day ends with a line. */
.cell {
  min-width: var(--line-bold);
  border-right: var(--line) solid var(--ink);
  background: var(--water);
}
.besides {
  background: repeating-linear-gradient(
    90deg,
    var(--hair) 0 var(--line-thin),
    transparent var(--line-thin) var(--space-1h)
  );
}
.days {
  margin: var(--space-half) 0 0;
  font-size: var(--type-note);
}
</style>
