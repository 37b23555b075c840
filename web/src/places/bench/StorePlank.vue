<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { runProgress, runTraces } from '../../api/live'
import WakeMark from '../../marks/WakeMark.vue'
import { bytes, counted, exactBytes, rate } from '../../words/units'
import { number, t } from '../../words/say'
import { EVIDENCE } from '../../words/evidence'

/** A store as a plank across the screen: before a run its room, during one what is written and read back. */
const props = defineProps<{
  demand: Shapes['StoreDemandOut']
  totalBytes: number
  run?: Shapes['OffloadOut']
}>()

const result = computed(() => props.run?.stores.find((store) => store.store === props.demand.store))
const feed = computed(() => result.value?.feed ?? undefined)
/** The run that this store's copy is made by now: the card's, or the one that brings what it lacked. */
const runId = computed(() => feed.value?.run_id ?? props.run?.id)
const progress = computed(() => (runId.value === undefined ? undefined : runProgress.get(runId.value)))
const mine = computed(() => progress.value?.stores.find((store) => store.name === props.demand.store))
const running = computed(
  () => props.run !== undefined && (!props.run.finished_at || feed.value?.going === true),
)
const rates = computed(() => {
  const all = runId.value === undefined ? undefined : runTraces.get(runId.value)
  return all?.get(props.demand.store) ?? []
})
/** Before and after a run alike: the copy counts, and holds all that is wanted of this card. */
const verified = computed(
  () => !running.value && result.value?.state === 'verified' && !props.demand.missing_files,
)

const share = (part: number, whole: number) => `${whole ? Math.min(100, (100 * part) / whole) : 0}%`
const used = computed(() => share(props.demand.total - props.demand.free, props.demand.total))
const needs = computed(() => share(props.demand.missing_bytes, props.demand.total))
const total = computed(() => progress.value?.total ?? props.totalBytes)
const written = computed(() => share(mine.value?.written ?? 0, total.value))
/** Solid is what was read back, or counts: a server's own word while a run is under way is neither. */
const solid = computed(() => {
  if (verified.value) return '100%'
  return props.demand.attests ? '0%' : share(mine.value?.verified ?? 0, total.value)
})

const words = computed(() => {
  if (feed.value?.going)
    return mine.value
      ? t('storePlank.fedFromAVerifiedCopy', { verified: bytes(mine.value.verified) })
      : t('storePlank.willBeFedFromA')
  if (running.value && !mine.value) return t('storePlank.waitingForTheWorker')
  if (running.value && mine.value)
    return t(props.demand.attests ? 'storePlank.writtenAttested' : 'storePlank.writtenReadBack', {
      written: bytes(mine.value.written),
      verified: bytes(mine.value.verified),
    })
  const held = result.value
  if (verified.value && held)
    return t('storePlank.agree', { bytes: bytes(held.bytes), level: EVIDENCE[held.level] }, held.files)
  if (held && props.run?.finished_at && held.missing_files)
    return t('storePlank.ofSafeHere', {
      files: number(held.files),
      all: counted(held.files + held.missing_files, 'file'),
    })
  if (!props.demand.online) return t('storePlank.notConnected')
  return t('storePlank.takesHasFree', {
    bytes: bytes(props.demand.missing_bytes),
    free: bytes(props.demand.free),
  })
})
</script>

<template>
  <div
    class="row"
    :data-store="demand.store"
    :data-state="verified ? 'verified' : running ? 'running' : 'ready'"
  >
    <div class="name">
      <span class="tag">{{ demand.store }}</span>
      <span class="soft">{{ demand.location }}, {{ demand.medium }}</span>
    </div>
    <div class="plank" :class="{ no: demand.refusal, running, verified }" aria-hidden="true">
      <template v-if="running || verified">
        <span class="hatch" :style="{ width: written }"></span>
        <span class="solid" :style="{ width: solid }"></span>
      </template>
      <template v-else>
        <span class="used" :style="{ width: used }"></span>
        <span v-for="quarter in 3" :key="quarter" class="gauge" :style="{ left: `${quarter * 25}%` }"></span>
        <span class="needs" :style="{ left: used, width: needs }"></span>
      </template>
    </div>
    <div class="words">
      <p :title="t('storePlank.exactlyFree', { bytes: exactBytes(demand.free) })" data-words>{{ words }}</p>
      <p v-if="running && mine" class="rate">
        <WakeMark :rates="rates" :label="t('storePlank.rateOfOverTheLast', { store: demand.store })" />
        <span data-rate>{{ rate(mine.rate) }}</span>
      </p>
    </div>
    <p v-if="feed?.going" class="wide soft" data-feed>
      {{ t('storePlank.itWasTooSlowFor') }}
    </p>
    <p v-else-if="feed?.outcome" class="wide" :class="verified ? 'soft' : 'trouble'" data-feed>
      {{ feed.outcome }}
    </p>
    <p v-if="mine?.trouble && running" class="trouble wide">{{ mine.trouble }}</p>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 12rem 1fr 20.5rem;
  align-items: center;
  gap: var(--space-half) var(--space-4);
}
.name {
  display: grid;
}
.name .tag {
  font-size: var(--type-tag);
}
.plank {
  position: relative;
  height: 2.75rem;
  border: var(--line-bold) solid var(--ink);
  overflow: hidden;
}
.plank.verified {
  border-color: var(--safe);
}
.plank.no {
  border-style: dashed;
  border-color: var(--trouble);
}
.plank span {
  position: absolute;
  top: 0;
  bottom: 0;
  left: 0;
}
/* Room is a tide gauge on its side: the water is what lies there, its edge is a wave, a tick every quarter. */
.used {
  min-width: 0.5rem;
  background:
    radial-gradient(circle at 0 50%, var(--water) 0.45rem, transparent 0.47rem) right / 0.45rem 0.9rem
      repeat-y,
    linear-gradient(var(--water), var(--water)) left / calc(100% - 0.4rem) 100% no-repeat;
}
.plank .gauge {
  top: auto;
  height: 0.5rem;
  border-left: var(--line) solid var(--ink-soft);
}
/* What will be written is pickets, not planks yet: hatched is what is written. */
.needs {
  min-width: 0.5rem;
  background: repeating-linear-gradient(
    90deg,
    var(--ink) 0 var(--line),
    transparent var(--line) var(--space-1h)
  );
}
.hatch {
  background: repeating-linear-gradient(
    135deg,
    var(--ink) 0 var(--line-bold),
    transparent var(--line-bold) var(--space-2)
  );
}
.solid {
  background: var(--ink);
}
.verified .solid {
  background: var(--safe);
}
.words {
  white-space: nowrap;
  font-variant-numeric: tabular-nums;
}
.rate {
  display: flex;
  align-items: center;
  gap: var(--space-3);
}
.wide {
  grid-column: 2 / -1;
}
@media (--tablet) {
  .row {
    grid-template-columns: 1fr;
  }
  .wide {
    grid-column: 1;
  }
  .words {
    white-space: normal;
  }
}
</style>
