<script setup lang="ts">
import { useEventListener, useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Shapes } from '../../api/client'
import { liveConnected, liveUntil } from '../../api/live'
import { useBench } from '../../api/queries/useBench'
import { useStations } from '../../api/queries/useStations'
import { useStores } from '../../api/queries/useStores'
import { useWaterline } from '../../api/queries/useWaterline'
import PennantMark from '../../marks/PennantMark.vue'
import VerdictMark from '../../marks/VerdictMark.vue'
import { listed, t } from '../../words/say'
import { age, clock } from '../../words/times'
import { bytes, counted } from '../../words/units'
import { wordsOf } from '../bench/standing'

/** For a big screen: what is so, in letters that are read from five metres. It turns its pages by itself. */
const PAGE_S = 9
const CARDS_A_PAGE = 4
const STORES_A_PAGE = 5
const MOST_TAGS = 10
const router = useRouter()
const bench = useBench()
const line = useWaterline()
const stores = useStores()
const { away } = useStations()
const now = ref(new Date())
useIntervalFn(() => (now.value = new Date()), 1000)
const inReaders = computed(() => bench.data.value?.slots.filter((slot) => slot.insertion_id) ?? [])
function inPages<T>(all: readonly T[], most: number): T[][] {
  const count = Math.ceil(all.length / most)
  return Array.from({ length: count }, (_, n) => all.slice(n * most, (n + 1) * most))
}
const pages = computed(() => [
  ...inPages(inReaders.value, CARDS_A_PAGE).map((cards) => ({ kind: 'cards' as const, cards })),
  { kind: 'line' as const },
  ...inPages(stores.data.value ?? [], STORES_A_PAGE).map((some) => ({ kind: 'stores' as const, some })),
])
const at = ref(0)
const { pause, resume, isActive } = useIntervalFn(() => (at.value += 1), PAGE_S * 1000)
const page = computed(() => pages.value[at.value % pages.value.length])
const unsafe = computed(() => {
  const one = line.data.value
  if (!one) return []
  const some = (tags: readonly string[]) =>
    [...tags.slice(0, MOST_TAGS), ...(tags.length > MOST_TAGS ? ['…'] : [])].join(', ')
  return [
    { key: 'below', words: t('wall.below'), names: some(one.rolls_below), alarm: true },
    { key: 'recalled', words: t('wall.recalled'), names: some(one.cards_recalled), alarm: true },
    { key: 'waiting', words: t('wall.waiting'), names: some(one.cards_waiting), alarm: false },
    { key: 'short', words: t('wall.short'), names: some(one.rolls_short), alarm: false },
  ].filter((part) => part.names)
})
/** Where it says more than the verdict does. */
function whyOf(slot: Shapes['SlotOut']): string {
  const { verdict, standing } = wordsOf(slot, null)
  return standing.toUpperCase() === verdict.toUpperCase() ? '' : standing
}
const known = computed(() => Boolean(line.data.value && bench.data.value && stores.data.value))
/** A space stops it and lets it go on, an arrow turns it; anything else leads back. */
function key(event: KeyboardEvent) {
  if (event.key === ' ') {
    event.preventDefault()
    if (isActive.value) pause()
    else resume()
  } else if (event.key === 'ArrowRight') at.value += 1
  else if (event.key === 'Escape') void router.push('/tally')
}
useEventListener(window, 'keydown', key)
</script>

<template>
  <main class="wall" data-wall>
    <header>
      <h1>{{ line.data.value?.production }}</h1>
      <p>{{ clock(now.toISOString(), line.data.value?.time_zone ?? 'UTC') }}</p>
    </header>
    <p
      v-if="!liveConnected || bench.error.value || line.error.value"
      class="alarm"
      role="alert"
      data-not-live
    >
      {{ t('wall.notLive', { age: age(liveUntil.toISOString()) }) }}
    </p>
    <p v-else-if="away.length" class="alarm" role="alert" data-wall-away>
      {{ t('wall.stationAway', { names: listed(away.map((one) => one.name)) }) }}
    </p>
    <section v-if="known && page?.kind === 'cards'" class="cards" data-wall-page="cards">
      <article v-for="slot in page.cards" :key="slot.insertion_id ?? 0" :data-wall-card="slot.label">
        <p class="name">
          <PennantMark v-if="slot.camera" :letter="slot.camera.letter" :size="72" />{{
            slot.label ?? slot.kind
          }}
        </p>
        <VerdictMark
          v-if="wordsOf(slot, null).verdict"
          class="verdict"
          :verdict="wordsOf(slot, null).verdict"
        />
        <p class="why">{{ whyOf(slot) }}</p>
      </article>
    </section>
    <section v-else-if="known && page?.kind === 'line'" data-wall-page="line">
      <p v-if="!unsafe.length" class="large">{{ t('wall.allSafe') }}</p>
      <div v-for="part in unsafe" :key="part.key" :class="{ alarm: part.alarm }" :data-wall-unsafe="part.key">
        <p class="why">{{ part.words }}</p>
        <p class="large tag">{{ part.names }}</p>
      </div>
      <p v-if="line.data.value?.runs" class="why">
        {{ t('wall.runs', { runs: counted(line.data.value.runs, 'run') }) }}
      </p>
    </section>
    <section v-else-if="known && page?.kind === 'stores'" data-wall-page="stores">
      <div v-for="store in page.some" :key="store.name" class="store" :class="{ alarm: store.lost }">
        <p class="large">{{ store.name }}</p>
        <p class="large">
          {{
            store.lost
              ? t('wall.lost')
              : store.online
                ? t('wall.free', { free: bytes(store.free) })
                : t('wall.away')
          }}
        </p>
      </div>
    </section>
    <p class="hint">{{ isActive ? t('wall.hint') : t('wall.stopped') }}</p>
  </main>
</template>

<style scoped>
.wall {
  position: fixed;
  inset: 0;
  z-index: 15;
  display: grid;
  grid-template-rows: auto auto 1fr auto;
  gap: 2vh;
  padding: 3vh 3vw;
  overflow: hidden;
  background: var(--paper);
}
header {
  display: flex;
  justify-content: space-between;
}
h1,
header p {
  font: 700 7vh/1 var(--tag);
}
section {
  grid-row: 3;
  overflow: hidden;
}
.cards {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4vh 3vw;
}
.name {
  display: flex;
  gap: 1vw;
  align-items: center;
  font: 700 9vh/1.1 var(--tag);
}
.cards .verdict {
  font-size: 11vh;
}
.why {
  font: 700 5.5vh/1.15 var(--tag);
}
.large {
  font: 700 8.5vh/1.15 var(--tag);
}
.alarm {
  color: var(--trouble);
}
p.alarm {
  font: 700 6vh/1.1 var(--tag);
}
.store {
  display: flex;
  justify-content: space-between;
  border-bottom: var(--line) solid var(--hair);
}
.hint {
  grid-row: 4;
  color: var(--ink-soft);
}
</style>
