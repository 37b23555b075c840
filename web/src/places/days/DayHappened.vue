<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { listed, t } from '../../words/say'
import { clock, longClock } from '../../words/times'
import { rate } from '../../words/units'
import LaterSign from './LaterSign.vue'

/** What happened on a day: trouble, cards that were cleared, runs that ended, and what people noted. */
const props = defineProps<{ account: Shapes['DayAccount'] }>()
interface Line {
  key: string
  at: string
  later: boolean
  words: string
  more: string
}
const at = (moment: string) => clock(moment, props.account.time_zone)
const troubles = computed<Line[]>(() =>
  props.account.troubles.map((one) => ({
    key: `${one.at}${one.sentence}`,
    at: at(one.at),
    later: one.later ?? false,
    words: one.sentence,
    more: '',
  })),
)
const cleared = computed<Line[]>(() =>
  props.account.clearances.map((one) => ({
    key: String(one.id),
    at: at(one.at),
    later: (one.later || one.revoked_later) ?? false,
    words: t('days.signedBy', { card: one.card, rolls: listed(one.rolls), people: listed(one.signers) }),
    more: one.revoked && t('days.revoked', { by: one.revoked }),
  })),
)
const runs = computed<Line[]>(() =>
  props.account.runs.map((one) => ({
    key: String(one.id),
    at: at(one.ended_at),
    later: one.later ?? false,
    words: `${t('days.run', { kind: one.kind, tag: one.tag, station: one.station })}. ${one.outcome}`,
    more: one.rate ? t('days.took', { time: longClock(one.seconds), rate: rate(one.rate) }) : '',
  })),
)
const notes = computed<Line[]>(() =>
  props.account.notes.map((one) => ({
    key: String(one.id),
    at: at(one.at),
    later: one.later ?? false,
    words: `${one.about}: ${one.words}`,
    more: one.by,
  })),
)
const PARTS = computed(() => [
  { name: 'troubles', title: t('days.trouble'), none: t('days.noTrouble'), lines: troubles.value },
  { name: 'cleared', title: t('days.cleared'), none: t('days.noneCleared'), lines: cleared.value },
  { name: 'runs', title: t('days.runs'), none: t('days.noRuns'), lines: runs.value },
  { name: 'notes', title: t('days.notes'), none: '', lines: notes.value },
])
</script>

<template>
  <template v-for="part in PARTS" :key="part.name">
    <section v-if="part.lines.length || part.none" class="chapter" :data-happened="part.name">
      <h2>{{ part.title }}</h2>
      <p v-if="!part.lines.length">{{ part.none }}</p>
      <ul>
        <li v-for="line in part.lines" :key="line.key">
          <span class="soft">{{ line.at }}</span>
          <span
            >{{ line.words }} <small v-if="line.more" class="soft">{{ line.more }}</small>
            <LaterSign v-if="line.later"
          /></span>
        </li>
      </ul>
    </section>
  </template>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 3.5rem 1fr;
  padding: var(--space-1h) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
</style>
