<script setup lang="ts">
import { HOLDING_BRIEF, HOLDING_WORDS, type Holding } from './holding'
import { MEANINGS } from '../words/meanings'
import HoldingMark from './HoldingMark.vue'
import PennantMark from './PennantMark.vue'
import { PLANK_WORDS, type PlankState } from './plank'
import PlankMark from './PlankMark.vue'
import RaftMark, { type RaftPlank } from './RaftMark.vue'
import TimeRibbon from './TimeRibbon.vue'
import VerdictMark from './VerdictMark.vue'
import WaterEdge from './WaterEdge.vue'
import { t } from '../words/say'

const states = Object.keys(PLANK_WORDS) as PlankState[]
const plank = (store: string, state: PlankState, same_device = false): RaftPlank => ({
  store,
  state,
  same_device,
})
const rafts: { words: string; planks: RaftPlank[]; met: boolean }[] = [
  { words: t('marksPage.nothingYetTwoCopiesWanted'), planks: [], met: false },
  {
    words: t('marksPage.oneBeingReadBackOne'),
    planks: [plank('one', 'reading'), plank('two', 'writing')],
    met: false,
  },
  {
    words: t('marksPage.ruleMetLashed'),
    planks: [plank('one', 'verified'), plank('two', 'verified')],
    met: true,
  },
  {
    words: t('marksPage.aSecondCopyOnThe'),
    planks: [plank('one', 'verified'), plank('two', 'verified', true)],
    met: false,
  },
  {
    words: t('marksPage.threeCopiesOneBrokenStill'),
    planks: [plank('one', 'verified'), plank('two', 'broken'), plank('three', 'verified')],
    met: true,
  },
  { words: t('marksPage.oneLost'), planks: [plank('one', 'verified'), plank('two', 'lost')], met: false },
  {
    words: t('marksPage.oneCheckedTooLongAgo'),
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
  { label: 'B', clips: [{ start: NINE + 500, length: 900, holding: 'new' as const, odd: false }] },
]
const letters = ['A', 'B', 'C', 'D', 'E', 'Q', 'R1', 'R2', 'S']
</script>

<template>
  <main class="place" tabindex="0">
    <h1>{{ t('marksPage.legend') }}</h1>
    <p>
      {{ t('marksPage.shapeAndPatternCarryThe') }}
    </p>
    <h2>{{ t('marksPage.verdictsACard') }}</h2>
    <dl class="verdicts">
      <template v-for="{ verdict, means } in MEANINGS" :key="verdict">
        <dt>
          <VerdictMark class="small" :verdict="verdict" />
        </dt>
        <dd>{{ means }}</dd>
      </template>
    </dl>
    <h2>{{ t('marksPage.planksACopy') }}</h2>
    <table>
      <thead>
        <tr>
          <th scope="col">{{ t('marksPage.meaning') }}</th>
          <th v-for="size in [16, 96]" :key="size" scope="col">{{ t('marksPage.px', { size }) }}</th>
          <th scope="col">{{ t('marksPage.sameDevice') }}</th>
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
    <h2>{{ t('marksPage.raftsARoll') }}</h2>
    <ul class="rafts">
      <li v-for="raft in rafts" :key="raft.words" data-raft>
        <RaftMark :planks="raft.planks" :needed="2" :met="raft.met" :size="96" />
        <RaftMark :planks="raft.planks" :needed="2" :met="raft.met" :size="28" />
        <span>{{ raft.words }}</span>
      </li>
    </ul>
    <h2>{{ t('marksPage.pennantsACamera') }}</h2>
    <ul class="pennants">
      <li v-for="letter in letters" :key="letter" data-pennant>
        <PennantMark :letter="letter" :size="64" /><PennantMark :letter="letter" :size="16" />
      </li>
    </ul>
    <h2>{{ t('marksPage.aClipOnACard') }}</h2>
    <ul class="pennants">
      <li v-for="holding in holdings" :key="holding" data-holding-mark>
        <HoldingMark :holding="holding" :size="64" /><HoldingMark :holding="holding" :size="16" />
        <HoldingMark :holding="holding" :size="24" odd />
        <span>{{ HOLDING_BRIEF[holding] }}</span>
      </li>
    </ul>
    <h2>{{ t('marksPage.timeRibbon') }}</h2>
    <TimeRibbon :rows="ribbon" time-zone="UTC" />
    <h2>{{ t('marksPage.waterlineWhatIsBelowIt') }}</h2>
    <p>{{ t('marksPage.rollsWhoseCardWasCleared') }}</p>
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
