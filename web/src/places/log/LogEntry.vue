<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { clock } from '../../words/times'

defineProps<{ entry: Shapes['LogEntry']; zone: string }>()
</script>

<template>
  <div class="entry">
    <time :datetime="entry.at">{{ clock(entry.at, zone) }}</time>
    <RouterLink v-if="entry.card" class="tag" :to="{ path: '/clearing', query: { card: entry.card } }">{{
      entry.card
    }}</RouterLink>
    <RouterLink v-else-if="entry.roll" class="tag" :to="`/tally/${encodeURIComponent(entry.roll)}`">{{
      entry.roll
    }}</RouterLink>
    <span v-else class="tag">{{ entry.subject }}</span>
    <span class="said">{{ entry.sentence }}</span>
    <span class="soft who">{{ entry.person ?? entry.origin }}</span>
  </div>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: 3.5rem 7.5rem 1fr 10.5rem;
  gap: var(--space-1) var(--space-4);
  align-items: baseline;
  padding: var(--space-2) 0;
}
.tag {
  font-size: var(--type-lead);
  overflow-wrap: anywhere;
}
.said {
  overflow-wrap: anywhere;
}
@media (--upright) {
  .entry {
    grid-template-columns: 3.5rem 1fr;
  }
  .said {
    grid-column: 1 / -1;
  }
  .who {
    grid-column: 1 / -1;
  }
}
</style>
