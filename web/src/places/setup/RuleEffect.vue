<script setup lang="ts">
import { computed } from 'vue'
import { useRuleEffect } from '../../api/queries/useRuleEffect'
import type { Shapes } from '../../api/client'
import SaidNo from '../../parts/SaidNo.vue'
import { counted } from '../../words/units'
import { listed, t } from '../../words/say'

/** What a changed rule would do to cards and rolls as they are now, before it is saved. */
const props = defineProps<{ wanted: Shapes['RuleWanted'] }>()
const asked = useRuleEffect(() => props.wanted)
const effect = computed(() => asked.data.value)
const MOST = 12
const some = (names: readonly string[]) =>
  names.length > MOST
    ? t('ruleEffect.andMore', { names: names.slice(0, MOST).join(', '), more: names.length - MOST })
    : listed(names)
const nothing = computed(
  () =>
    effect.value && !effect.value.cards.length && !effect.value.falls.length && !effect.value.rises.length,
)
</script>

<template>
  <div v-if="Object.keys(wanted).length" role="status" class="effect" data-rule-effect>
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
    <SaidNo :error="asked.error.value" />
  </div>
</template>

<style scoped>
.effect {
  flex-basis: 100%;
  padding-left: var(--space-3);
  border-left: var(--line-bar) solid var(--ink);
}
</style>
