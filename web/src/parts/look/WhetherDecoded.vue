<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { number, t } from '../../words/say'
import { age } from '../../words/times'

/** What came of decoding a recording, each word as far as it is known. */
defineProps<{ found: Shapes['DecodedOut'] }>()
const where = (one: Shapes['BreakOut']) =>
  one.timecode ||
  (one.at_s === null
    ? t('whetherDecoded.track', { track: one.track })
    : t('whetherDecoded.after', { seconds: one.at_s.toFixed(2) }))
</script>

<template>
  <p v-if="!found.in_all && !found.note" data-decoded="whole">
    {{ t('whetherDecoded.whole', { frames: number(found.frames), age: age(found.at) }) }}
  </p>
  <p v-else-if="!found.in_all" data-decoded="unknown">
    {{ t('whetherDecoded.unknown', { note: found.note }) }}
  </p>
  <div v-else class="trouble" data-decoded="breaks">
    <p>{{ t('whetherDecoded.breaks', { age: age(found.at) }, found.in_all) }}</p>
    <ul>
      <li v-for="(one, n) in found.breaks.slice(0, 6)" :key="n">
        <span class="tag">{{ where(one) }}</span> {{ one.said }}
      </li>
    </ul>
    <p v-if="found.note">{{ t('whetherDecoded.unknown', { note: found.note }) }}</p>
  </div>
</template>

<style scoped>
p,
ul {
  margin: 0;
}
</style>
