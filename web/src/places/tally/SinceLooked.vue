<script setup lang="ts">
import { computed } from 'vue'
import { useSayLooked } from '../../api/acts/views'
import type { Shapes } from '../../api/client'
import { useSince } from '../../api/queries/useViews'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { listed, t, type Sentence } from '../../words/say'
import { age } from '../../words/times'
import { sought } from './sought'

/** What is otherwise than when whoever looks last said that they had; nothing at a screen that is nobody's. */
const { me } = useWho()
const since = useSince()
const looked = useSayLooked()
const MOST = 8
const WORDS: readonly (readonly [Shapes['Became'], Sentence, boolean])[] = [
  ['fell below the line', 'since.below', true],
  ['short again', 'since.short', true],
  ['became safe', 'since.safe', false],
  ['new', 'since.fresh', false],
]
const some = (names: readonly string[]) =>
  names.length > MOST
    ? t('since.andMore', { names: names.slice(0, MOST).join(', ') }, names.length - MOST)
    : listed(names)
const parts = computed(() => {
  const now = since.data.value
  if (!now) return []
  const rolls = WORDS.map(([became, words, alarm]) => {
    const tags = now.rolls.filter((one) => one.became === became).map((one) => one.tag)
    return { key: became as string, names: tags, words: t(words, { names: some(tags) }), alarm }
  })
  const cards = [
    {
      key: 'called back',
      names: now.called_back,
      words: t('since.back', { names: some(now.called_back) }),
      alarm: true,
    },
    {
      key: 'cleared',
      names: now.cleared,
      words: t('since.cleared', { names: some(now.cleared) }),
      alarm: false,
    },
  ]
  return [...rolls, ...cards].filter((part) => part.names.length)
})
/** What is said to be seen is what this shows, and nothing that came meanwhile. */
function seen(): void {
  const now = since.data.value
  if (!now) return
  looked.mutate({
    rolls: Object.fromEntries(now.rolls.map((one) => [one.tag, one.state])),
    clearance: now.clearance,
    revocation: now.revocation,
  })
  sought.changed = false
}
</script>

<template>
  <p v-if="since.data.value && !me.screen" class="since" data-since>
    <template v-if="since.data.value.at">
      <span v-if="!parts.length" data-nothing>{{
        t('since.nothing', { age: age(since.data.value.at) })
      }}</span>
      <template v-else>
        <b>{{ t('since.head', { age: age(since.data.value.at) }) }}</b>
        <span v-for="part in parts" :key="part.key" :class="{ alarm: part.alarm }" :data-became="part.key">{{
          part.words
        }}</span>
        <button
          v-if="since.data.value.rolls.length && !sought.changed"
          type="button"
          class="link"
          data-show-changed
          @click="sought.changed = true"
        >
          {{ t('since.show') }}
        </button>
        <ActButton
          type="button"
          class="quiet small"
          :label="t('since.seen')"
          :busy="looked.isPending.value"
          data-looked
          @press="seen"
        />
      </template>
    </template>
    <button v-else type="button" class="link" data-begin-looking @click="seen">{{ t('since.begin') }}</button>
    <SaidNo :error="looked.error.value" />
  </p>
</template>

<style scoped>
.since {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-4);
  align-items: baseline;
  margin: 0 0 var(--space-3);
}
.link {
  text-align: start;
}
.alarm {
  color: var(--trouble);
  font-weight: 700;
}
</style>
