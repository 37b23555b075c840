<script setup lang="ts">
import MultiSelect from 'primevue/multiselect'
import { computed, useId } from 'vue'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries/useSetUp'
import FullSoon from '../../parts/FullSoon.vue'
import { t } from '../../words/say'

/** Which stores this card goes to: its plan's, unless somebody chooses others for it. */
const props = defineProps<{ proposal: Shapes['ProposalOut'] }>()
const to = defineModel<string[] | null>({ required: true })
const setUp = useSetUp()
const id = useId()

const now = computed({
  get: () => to.value ?? props.proposal.stores.map((store) => store.store),
  set: (names: string[]) => (to.value = names),
})
const choices = computed(() =>
  (setUp.data.value?.stores ?? [])
    .filter((store) => !store.lost || now.value.includes(store.name))
    .map(({ name, lost }) => ({ name: lost ? t('goesTo.lost', { name }) : name, value: name })),
)
</script>

<template>
  <div class="goes" data-goes-to>
    <span :id="id">{{ t('goesTo.goesTo') }}</span>
    <MultiSelect
      v-model="now"
      :options="choices"
      option-label="name"
      option-value="value"
      :show-toggle-all="false"
      :placeholder="t('goesTo.noStore')"
      scroll-height="20rem"
      :aria-labelledby="id"
    />
    <button v-if="to" type="button" class="link" data-plans-stores @click="to = null">
      {{ t('goesTo.useTheStoresOf', { plan: proposal.plan }) }}
    </button>
    <span v-else-if="proposal.other_stores" class="soft">{{ t('goesTo.asWasChosenForThis') }}</span>
    <span v-else class="soft">{{ t('goesTo.theStoresOfOthersMay', { plan: proposal.plan }) }}</span>
    <ul class="soon">
      <FullSoon :of="now" />
    </ul>
  </div>
</template>

<style scoped>
.goes {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-3);
  align-items: center;
  margin-bottom: var(--space-2);
}
.soon:not(:has(li)) {
  display: none;
}
</style>
