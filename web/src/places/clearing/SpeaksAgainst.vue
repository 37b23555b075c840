<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { useAgainst } from '../../api/queries/useAgainst'
import { t } from '../../words/say'
import { counted } from '../../words/units'

/** What was seen on a card's clips, before somebody signs: copies may be exact, and what they are copies of broken. */
const props = defineProps<{ card: number }>()
const against = useAgainst(() => props.card)
const MOST = 4
const names = (paths: readonly string[]) =>
  paths
    .slice(0, MOST)
    .map((path) => path.split('/').at(-1))
    .join(', ') + (paths.length > MOST ? ', …' : '')
function sentences(one: Shapes['AgainstOut']): string[] {
  const of = (paths: readonly string[]) => ({ clips: counted(paths.length, 'clip'), names: names(paths) })
  return [
    one.breaking.length ? t('speaksAgainst.breaking', of(one.breaking)) : '',
    one.unknown.length ? t('speaksAgainst.unknown', of(one.unknown)) : '',
    one.trouble.length ? t('speaksAgainst.trouble', of(one.trouble)) : '',
    one.contested.length ? t('speaksAgainst.contested', of(one.contested)) : '',
    one.undecoded ? t('speaksAgainst.undecoded', {}, one.undecoded) : '',
  ].filter(Boolean)
}
</script>

<template>
  <div v-if="against.data.value?.length" class="trouble" data-against>
    <p>{{ t('speaksAgainst.look') }}</p>
    <ul>
      <li v-for="one in against.data.value" :key="one.tag">
        <RouterLink :to="`/tally/${one.tag}`">{{ one.tag }}</RouterLink>{{ ` ${sentences(one).join(' ')}` }}
      </li>
    </ul>
  </div>
  <p v-else-if="against.isError.value" class="trouble">{{ t('speaksAgainst.notKnown') }}</p>
</template>

<style scoped>
p {
  margin: 0;
}
ul {
  margin: 0;
  padding-left: var(--space-4);
  list-style: square;
}
</style>
