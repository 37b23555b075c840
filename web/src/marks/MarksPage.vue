<script setup lang="ts">
import { HOLDING_WORDS, type Holding } from './holding'
import { MEANINGS } from '../words/meanings'
import HoldingMark from './HoldingMark.vue'
import PennantMark from './PennantMark.vue'
import { PLANK_WORDS, type PlankState } from './plank'
import PlankMark from './PlankMark.vue'
import RaftMark, { type RaftPlank } from './RaftMark.vue'
import TimeRibbon from './TimeRibbon.vue'
import VerdictMark from './VerdictMark.vue'
import WaterEdge from './WaterEdge.vue'

const states = Object.keys(PLANK_WORDS) as PlankState[]
const plank = (store: string, state: PlankState, same_device = false): RaftPlank => ({
  store,
  state,
  same_device,
})
const rafts: { words: string; planks: RaftPlank[]; met: boolean }[] = [
  { words: 'nothing yet: two copies wanted', planks: [], met: false },
  {
    words: 'one being read back, one being written',
    planks: [plank('one', 'reading'), plank('two', 'writing')],
    met: false,
  },
  { words: 'rule met: lashed', planks: [plank('one', 'verified'), plank('two', 'verified')], met: true },
  {
    words: 'a second copy on the same device',
    planks: [plank('one', 'verified'), plank('two', 'verified', true)],
    met: false,
  },
  {
    words: 'three copies, one broken: still met',
    planks: [plank('one', 'verified'), plank('two', 'broken'), plank('three', 'verified')],
    met: true,
  },
  { words: 'one lost', planks: [plank('one', 'verified'), plank('two', 'lost')], met: false },
  {
    words: 'one checked too long ago',
    planks: [plank('one', 'verified'), plank('two', 'stale')],
    met: false,
  },
]
const holdings = Object.keys(HOLDING_WORDS) as Holding[]
const NINE = 1_778_749_200
const ribbon = [
  {
    label: 'A',
    clips: holdings.map((holding, n) => ({
      start: NINE + n * 420,
      length: 240,
      holding,
      odd: holding === 'changed',
    })),
  },
  { label: 'B', clips: [{ start: NINE + 500, length: 900, holding: 'new', odd: false }] },
]
const letters = ['A', 'B', 'C', 'D', 'E', 'Q', 'R1', 'R2', 'S']
</script>

<template>
  <main class="place" tabindex="0">
    <h1>Legend</h1>
    <p>
      Shape and pattern carry the meaning; colour repeats it. Hatched is written, solid is read back, an
      outline is wanted; green is a whole copy that counts, and pickets are what is still to be written.
    </p>
    <h2>Verdicts: a card</h2>
    <dl class="verdicts">
      <template v-for="{ verdict, means } in MEANINGS" :key="verdict">
        <dt>
          <VerdictMark class="small" :verdict="verdict" />
        </dt>
        <dd>{{ means }}</dd>
      </template>
    </dl>
    <h2>Planks: a copy</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">Meaning</th>
          <th v-for="size in [16, 96]" :key="size" scope="col">{{ size }} px</th>
          <th scope="col">same device</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="state in states" :key="state" :data-plank="state">
          <th scope="row">{{ PLANK_WORDS[state] }}</th>
          <td v-for="size in [16, 96]" :key="size"><PlankMark :state="state" :size="size" /></td>
          <td><PlankMark :state="state" :size="24" half /></td>
        </tr>
      </tbody>
    </table>
    <h2>Rafts: a roll</h2>
    <ul class="rafts">
      <li v-for="raft in rafts" :key="raft.words" data-raft>
        <RaftMark :planks="raft.planks" :needed="2" :met="raft.met" :size="96" />
        <RaftMark :planks="raft.planks" :needed="2" :met="raft.met" :size="28" />
        <span>{{ raft.words }}</span>
      </li>
    </ul>
    <h2>Pennants: a camera</h2>
    <ul class="pennants">
      <li v-for="letter in letters" :key="letter" data-pennant>
        <PennantMark :letter="letter" :size="64" /><PennantMark :letter="letter" :size="16" />
      </li>
    </ul>
    <h2>A clip on a card</h2>
    <ul class="pennants">
      <li v-for="holding in holdings" :key="holding" data-holding-mark>
        <HoldingMark :holding="holding" :size="64" /><HoldingMark :holding="holding" :size="16" />
        <HoldingMark :holding="holding" :size="24" odd />
        <span>{{ HOLDING_WORDS[holding].split(':')[0] }}</span>
      </li>
    </ul>
    <h2>Time ribbon</h2>
    <TimeRibbon :rows="ribbon" time-zone="UTC" />
    <h2>Waterline: what is below it is not safe</h2>
    <p>Rolls whose card was cleared and that are not safe any more lie below it, on the Tally.</p>
    <div class="water"><WaterEdge /></div>
  </main>
</template>

<style scoped>
.verdicts {
  display: grid;
  grid-template-columns: 13rem 1fr;
  gap: var(--space-2) var(--space-5);
  align-items: center;
}
.small.verdict {
  font-size: var(--type-large);
}
@media (--phone) {
  .verdicts {
    grid-template-columns: 1fr;
    gap: var(--space-1);
  }
  .verdicts dd {
    padding-bottom: var(--space-3);
  }
  td svg,
  li svg {
    max-width: 100%;
    height: auto;
  }
  table {
    table-layout: fixed;
    width: 100%;
  }
}
h2 {
  margin: var(--space-7) 0 var(--space-2);
}
th {
  padding: var(--space-1h) var(--space-5) var(--space-1h) 0;
  text-align: left;
  font-weight: 400;
}
thead th {
  color: var(--ink-soft);
}
td {
  padding-right: var(--space-7);
}
.rafts,
.pennants {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-5) var(--space-8);
}
.rafts li {
  display: grid;
  grid-template-columns: auto auto;
  gap: var(--space-2) var(--space-3);
  align-items: end;
  width: 12rem;
}
.rafts span {
  grid-column: 1 / -1;
}
.pennants li {
  display: flex;
  gap: var(--space-3);
  align-items: end;
}
.water {
  color: var(--water);
}
</style>
