<script setup lang="ts">
import Select from 'primevue/select'
import { computed } from 'vue'
import { useGiveCard } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { HERE } from '../../api/here'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { bytes } from '../../words/units'

/** The cards, and whose each is. To a camera of another production only a card goes that owes this one nothing. */
const props = defineProps<{ cards: readonly Shapes['CardLine'][]; letters: readonly string[] }>()
const { me, may, whyNot } = useWho()
const give = useGiveCard()
const others = computed(() => me.productions.filter((one) => one.slug !== HERE && !one.closed))
/** Cameras here by their letters, then the same letters in the other productions. */
const owners = computed(() => [
  ...props.letters.map((letter) => ({ name: letter, value: `${HERE}/${letter}` })),
  ...others.value.flatMap((one) =>
    props.letters.map((letter) => ({
      name: t('cardsTable.ofAnother', { letter, production: one.name }),
      value: `${one.slug}/${letter}`,
    })),
  ),
])
function to(card: number, owner: string) {
  const [production = '', camera = ''] = owner.split('/')
  give.mutate({ card, production, camera })
}
</script>

<template>
  <p v-if="!cards.length" class="soft">{{ t('cardsTable.none') }}</p>
  <ul :title="whyNot('introduce_card')">
    <li v-for="card in cards" :key="card.id" :data-card-line="card.label">
      <span class="tag">{{ card.label }}</span>
      <span class="soft">{{
        [card.kind, card.capacity ? bytes(card.capacity) : ''].filter(Boolean).join(', ')
      }}</span>
      <Select
        :model-value="`${HERE}/${card.camera}`"
        :options="owners"
        option-label="name"
        option-value="value"
        :disabled="!may('introduce_card')"
        :aria-label="t('cardsTable.cameraOf', { label: card.label })"
        @update:model-value="(owner: string) => to(card.id, owner)"
      />
    </li>
  </ul>
  <SaidNo :error="give.error.value" data-card-trouble />
</template>

<style scoped>
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(24rem, 1fr));
  gap: 0 var(--space-8);
}
li {
  display: grid;
  grid-template-columns: 6rem 1fr auto;
  gap: var(--space-2) var(--space-4);
  align-items: center;
  padding: var(--space-1) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
@media (--phone) {
  ul,
  li {
    grid-template-columns: 1fr;
  }
}
</style>
