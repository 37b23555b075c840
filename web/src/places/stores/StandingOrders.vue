<script setup lang="ts">
import { computed, ref } from 'vue'
import { useGiveOrder, useWithdrawOrder } from '../../api/acts/upkeep'
import type { Shapes } from '../../api/client'
import { useUpkeep } from '../../api/queries/useUpkeep'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import { pacedWords, sent, unpaced } from '../../parts/pacing'
import PacingFields from '../../parts/PacingFields.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import OrderBehind from './OrderBehind.vue'

/** What is brought to which store by itself, what is behind and why; and giving another order. */
const props = defineProps<{ stores: readonly Shapes['StoreOut'][] }>()
const { whyNot } = useWho()
const upkeep = useUpkeep()
const give = useGiveOrder()
const withdraw = useWithdrawOrder()
const giving = ref(false)
const ANYWHERE = '*'
const from = ref(ANYWHERE)
const to = ref('')
const pacing = ref(unpaced())
const orders = computed(() => upkeep.data.value?.orders ?? [])
/** A store's name and a place's may be alike: each says which it is. */
const sources = computed(() => [
  { name: t('orders.anywhere'), value: ANYWHERE },
  ...[...new Set(props.stores.map((one) => one.location))]
    .sort()
    .map((place) => ({ name: t('orders.atPlace', { place }), value: `@${place}` })),
  ...props.stores.map(({ name }) => ({ name: t('orders.onStore', { store: name }), value: `=${name}` })),
])
const targets = computed(() => props.stores.map(({ name }) => ({ name, value: name })))
const paced = computed(() => sent(pacing.value))
const lacks = computed(() => {
  if (!to.value) return t('orders.sayWhere')
  return paced.value ? undefined : t('pacing.noHour')
})
function go() {
  if (lacks.value || !paced.value) return
  const name = from.value.slice(1)
  const source = { '@': { from_place: name }, '=': { from_store: name } }[from.value.charAt(0)] ?? {}
  give.mutate(
    { from_store: '', from_place: '', ...source, to: to.value, ...paced.value },
    { onSuccess: () => (giving.value = false) },
  )
}
const said = (one: Shapes['StandingOrderOut']) =>
  t(one.source ? 'orders.saidFrom' : 'orders.said', {
    source: one.of_place
      ? t('orders.atPlace', { place: one.source })
      : t('orders.onStore', { store: one.source }),
    to: one.to,
    paced: pacedWords(one.hours, one.rate),
  })
</script>

<template>
  <section data-orders>
    <h2>{{ t('orders.title') }}</h2>
    <p v-if="!orders.length" class="soft">{{ t('orders.none') }}</p>
    <ul>
      <li v-for="order in orders" :key="order.id" :data-order="order.to">
        <span>{{ said(order) }}</span>
        <OrderBehind :order="order" />
        <ActButton
          type="button"
          link
          :label="t('orders.withdraw')"
          :why-not="whyNot('keep_stores')"
          :busy="withdraw.isPending.value"
          :data-withdraw="order.to"
          @press="withdraw.mutate(order.id)"
        />
      </li>
    </ul>
    <ActButton
      type="button"
      link
      :label="t('orders.give')"
      :aria-expanded="giving"
      :why-not="whyNot('keep_stores')"
      data-give-order
      @press="giving = !giving"
    />
    <form v-if="giving" class="line" @submit.prevent="go()">
      <ChooseOne v-model="from" :label="t('orders.whatever')" :options="sources" data-order-from />
      <ChooseOne
        v-model="to"
        :label="t('orders.goesTo')"
        :options="targets"
        :placeholder="t('copyTo.whichStore')"
        data-order-to
      />
      <PacingFields v-model="pacing" />
      <ActButton
        class="quiet small"
        type="submit"
        :label="t('orders.go')"
        :why-not="lacks"
        :busy="give.isPending.value"
        data-order-go
      />
      <p class="soft wide">{{ t('orders.toItsEnd') }}</p>
    </form>
    <SaidNo :error="give.error.value ?? withdraw.error.value ?? upkeep.error.value" />
  </section>
</template>

<style scoped>
section {
  margin-top: var(--space-5);
}
li {
  display: grid;
  grid-template-columns: minmax(18rem, 1.2fr) 1fr auto;
  gap: var(--space-1) var(--space-4);
  align-items: baseline;
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
form {
  margin-top: var(--space-3);
}
.wide {
  width: 100%;
}
@media (--tablet) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
