<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useDeliveries } from '../../api/queries/useDeliveries'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'
import DeliverForm from './DeliverForm.vue'
import DeliveryLine from './DeliveryLine.vue'
import EmblemForm from './EmblemForm.vue'

/** What goes to whom: put together, fetched, received; and what is still on its way. */
const route = useRoute()
const asked = useDeliveries()
const open = computed(() =>
  (asked.data.value ?? []).filter((one) => !one.withdrawn_at && !one.receipts.length),
)
const over = computed(() => (asked.data.value ?? []).filter((one) => one.withdrawn_at || one.receipts.length))
</script>

<template>
  <main class="place">
    <p class="ways">
      <RouterLink to="/tally">{{ t('places.tally') }}</RouterLink>
      <RouterLink to="/sets" data-sets-link>{{ t('sets.link') }}</RouterLink>
    </p>
    <h1>{{ t('deliveries.title') }}</h1>
    <DeliverForm :key="String(route.query.tag ?? '')" :first="String(route.query.tag ?? '')" />
    <LastKnown
      :error="asked.error.value"
      :known="Boolean(asked.data.value)"
      :updated-at="asked.dataUpdatedAt.value"
    >
      <p v-if="!open.length && !over.length" class="soft" data-none>{{ t('deliveries.none') }}</p>
      <section v-if="open.length">
        <h2>{{ t('deliveries.onItsWay') }}</h2>
        <ul>
          <DeliveryLine v-for="one in open" :key="one.id" :one="one" />
        </ul>
      </section>
      <section v-if="over.length">
        <h2>{{ t('deliveries.over') }}</h2>
        <ul>
          <DeliveryLine v-for="one in over" :key="one.id" :one="one" />
        </ul>
      </section>
    </LastKnown>
    <EmblemForm />
  </main>
</template>

<style scoped>
.ways {
  display: flex;
  gap: var(--space-4);
}
[data-none] {
  margin-top: var(--space-4);
}
h1 {
  margin: var(--space-2) 0 var(--space-4);
  font: 700 var(--type-large) / 1.1 var(--tag);
}
h2 {
  margin-top: var(--space-5);
}
</style>
