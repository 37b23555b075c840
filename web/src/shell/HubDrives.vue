<script setup lang="ts">
import { useHappenToDrive } from '../api/acts/standins'
import type { Shapes } from '../api/client'
import SaidNo from '../parts/SaidNo.vue'
import { t, type Sentence } from '../words/say'

/** What the demo's hand does to simulated drives. */
defineProps<{ drives: readonly Shapes['StandinDriveOut'][] }>()
const happen = useHappenToDrive()
type What = Shapes['StandinDriveIn']['what']
const WORDS: Record<What, Sentence> = {
  plug: 'hubDrives.plug',
  unplug: 'hubDrives.unplug',
  fill: 'hubDrives.fill',
  empty: 'hubDrives.empty',
  slow: 'hubDrives.slow',
  quicken: 'hubDrives.quicken',
  rot: 'hubDrives.rot',
  clone: 'hubDrives.clone',
}
const may = (one: Shapes['StandinDriveOut']): What[] =>
  one.plugged
    ? ['unplug', one.full ? 'empty' : 'fill', one.slow ? 'quicken' : 'slow', 'rot', 'clone']
    : ['plug']
</script>

<template>
  <ul>
    <li v-for="one in drives" :key="one.name" :data-drive="one.name">
      <span class="tag">{{ one.name }}</span>
      <button
        v-for="what in may(one)"
        :key="what"
        type="button"
        class="link"
        :aria-label="t('hubDrives.ofDrive', { what: t(WORDS[what]), drive: one.name })"
        :data-happen="what"
        @click="happen.mutate({ name: one.name, what })"
      >
        {{ t(WORDS[what]) }}
      </button>
    </li>
  </ul>
  <SaidNo :error="happen.error.value" />
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-3);
  align-items: center;
  padding: var(--space-1) 0;
}
</style>
