<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import SaidNo from '../../parts/SaidNo.vue'
import { counted } from '../../words/units'
import { listed, t } from '../../words/say'

/** What a changed rule would do to cards and rolls as they are now, before it is saved. */
const props = defineProps<{
  effect: Shapes['RuleEffectOut'] | undefined
  error: { message: string } | null | undefined
}>()
const MOST = 12
const some = (names: readonly string[]) =>
  names.length > MOST
    ? t('ruleEffect.andMore', { names: names.slice(0, MOST).join(', '), more: names.length - MOST })
    : listed(names)
const nothing = computed(
  () =>
    props.effect && !props.effect.cards.length && !props.effect.falls.length && !props.effect.rises.length,
)
</script>

<template>
  <div role="status" class="effect" data-rule-effect>
    <template v-if="effect">
      <p>
        <strong>{{ effect.sentence }}</strong>
      </p>
      <p v-if="nothing">{{ t('ruleEffect.nothing') }}</p>
      <p v-if="effect.falls.length" class="trouble" data-falls>
        {{ t('ruleEffect.fall', { rolls: counted(effect.falls.length, 'roll'), names: some(effect.falls) }) }}
      </p>
      <p v-if="effect.rises.length" data-rises>
        {{ t('ruleEffect.rise', { rolls: counted(effect.rises.length, 'roll'), names: some(effect.rises) }) }}
      </p>
      <ul v-if="effect.cards.length">
        <li v-for="card in effect.cards" :key="card.label" :data-card-change="card.label">
          <span class="tag">{{ card.label }}</span>
          {{ t('ruleEffect.fromTo', { before: card.before, after: card.after }) }}
        </li>
      </ul>
    </template>
    <SaidNo :error="error" />
  </div>
</template>

<style scoped>
.effect {
  flex-basis: 100%;
  padding-left: var(--space-3);
  border-left: var(--line-bar) solid var(--ink);
}
</style>
