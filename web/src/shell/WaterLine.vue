<script setup lang="ts">
import { computed } from 'vue'
import { liveConnected, liveUntil } from '../api/live'
import { useWaterline } from '../api/queries/useWaterline'
import WaterEdge from '../marks/WaterEdge.vue'
import { age } from '../words/times'
import { bytes, counted, exactBytes } from '../words/units'
import { sessionEnded } from './session'
import { t } from '../words/say'

/** The one line that never leaves the screen: what is not safe yet. */
const line = useWaterline()
const parts = computed(() => {
  const now = line.data.value
  if (!now) return []
  return [
    now.rolls_below.length && {
      key: 'below',
      words: t('waterLine.belowTheLine', { rolls: counted(now.rolls_below.length, 'roll') }),
      names: now.rolls_below,
      to: '/tally',
      alarm: true,
    },
    now.cards_recalled.length && {
      key: 'recalled',
      words: t('waterLine.recalled', { cards: counted(now.cards_recalled.length, 'card') }),
      names: now.cards_recalled,
      to: '/clearing',
      alarm: true,
    },
    now.cards_waiting.length && {
      key: 'waiting',
      words: t('waterLine.withUnsavedFiles', { cards: counted(now.cards_waiting.length, 'card') }),
      names: now.cards_waiting,
      to: '/clearing',
      alarm: false,
    },
    (now.bytes_short || now.rolls_short.length) && {
      key: 'short',
      words: now.bytes_short
        ? t('waterLine.withTooFewCopies', { bytes: bytes(now.bytes_short) })
        : t('waterLine.shortOfCopies', { rolls: counted(now.rolls_short.length, 'roll') }),
      names: [...now.rolls_below, ...now.rolls_short],
      title: exactBytes(now.bytes_short),
      to: '/tally',
      alarm: false,
    },
    now.runs && {
      key: 'runs',
      words: t('waterLine.underWay', { runs: counted(now.runs, 'run') }),
      names: [],
      to: '/',
      alarm: false,
    },
  ]
    .filter((part) => part !== 0)
    .map((part) => ({
      ...part,
      shown: part.key !== 'short' && part.names.length < 4 ? part.names.join(', ') : '',
    }))
})
const unsafe = computed(() => parts.value.some((part) => part.key !== 'runs'))
</script>

<template>
  <footer :class="{ deep: unsafe }" aria-live="polite">
    <WaterEdge class="edge" />
    <p v-if="!liveConnected && !sessionEnded" class="line alarm" data-line="cut">
      {{ t('waterLine.theServerCannotBeReached', { age: age(liveUntil.toISOString()) }) }}
    </p>
    <p v-else-if="line.data.value" class="line" data-line>
      <strong>{{ unsafe ? t('waterLine.notSafeYet') : t('waterLine.nothingBelowTheWater') }}</strong>
      <RouterLink
        v-for="part in parts"
        :key="part.key"
        :to="part.to"
        :title="'title' in part ? part.title : part.names.join(', ')"
        :class="{ alarm: part.alarm }"
        :data-part="part.key"
      >
        {{ part.words }}
        <span v-if="part.shown" class="names">{{ part.shown }}</span>
      </RouterLink>
    </p>
    <p v-else class="line">…</p>
  </footer>
</template>

<style scoped>
footer {
  color: var(--water);
  background: linear-gradient(transparent var(--line-slab), var(--water) var(--line-slab));
}
footer.deep {
  --water: var(--water-deep);
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: var(--space-half) var(--space-7);
  min-height: 3rem;
  padding: var(--space-1) var(--space-6) var(--space-3);
  color: var(--water-ink);
  font: 700 var(--type-tag)/1.3 var(--tag);
}
a {
  text-decoration: none;
}
a:hover {
  text-decoration: underline;
}
.alarm,
.alarm.line {
  color: var(--water-alarm);
}
.names {
  font-weight: 400;
  font-family: var(--text);
  font-size: var(--type-lead);
}
.line :focus-visible {
  outline-color: var(--water-ink);
}
@media (--phone) {
  .line {
    gap: 0 var(--space-3);
    padding: var(--space-1) var(--space-3) var(--space-2);
    font-size: var(--type-lead);
    line-height: 1.25;
  }
  .line a {
    display: inline-flex;
    align-items: center;
    min-height: 1.5rem;
  }
  .names {
    display: none;
  }
}
</style>
