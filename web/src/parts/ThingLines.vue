<script setup lang="ts">
import type { Shapes } from '../api/client'
import { t } from '../words/say'
import { age } from '../words/times'
import { VERDICTS } from '../words/verdicts'
import { thingPath } from './things'

/** Cards, rolls and stores that somebody asked for, and where each of them is. */
defineProps<{ things: readonly Shapes['FoundThingOut'][] }>()
defineEmits<{ gone: [] }>()
const verdict = (one: Shapes['FoundThingOut']) =>
  one.thing === 'card' && one.standing
    ? VERDICTS[one.standing as Shapes['CardStanding']]
    : (one.standing ?? '')
</script>

<template>
  <ul aria-live="polite">
    <li v-for="one in things" :key="one.thing + one.name" :data-found-thing="one.name">
      <RouterLink class="tag" :to="thingPath(one)" @click="$emit('gone')">{{ one.name }}</RouterLink>
      <span>
        <strong>{{ one.where }}</strong>
        <span v-if="one.since" class="soft">{{ t('whereIs.since', { age: age(one.since) }) }}</span>
      </span>
      <span class="verdict">{{ verdict(one) }}</span>
    </li>
  </ul>
</template>

<style scoped>
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(32rem, 100%), 1fr));
  gap: var(--space-2) var(--space-7);
  margin: var(--space-3) 0 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(7rem, auto) 1fr auto;
  gap: var(--space-3);
  align-items: baseline;
}
li .tag {
  font-size: var(--type-title);
}
.verdict {
  font: 700 var(--type-tag) / 1.2 var(--tag);
  text-transform: uppercase;
}
@media (--phone) {
  li {
    grid-template-columns: auto 1fr;
  }
}
</style>
