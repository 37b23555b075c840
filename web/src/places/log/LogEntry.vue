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
  grid-template-columns: 56px 120px 1fr 170px;
  gap: 4px 16px;
  align-items: baseline;
  padding: 7px 0;
}
.tag {
  font-size: 19px;
  overflow-wrap: anywhere;
}
.said {
  overflow-wrap: anywhere;
}
@media (max-width: 700px) {
  .entry {
    grid-template-columns: 56px 1fr;
  }
  .said {
    grid-column: 1 / -1;
  }
  .who {
    grid-column: 1 / -1;
  }
}
</style>
