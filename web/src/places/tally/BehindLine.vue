<script setup lang="ts">
import { computed } from 'vue'
import { useUpkeep } from '../../api/queries/useUpkeep'
import FullSoon from '../../parts/FullSoon.vue'
import { t } from '../../words/say'
import OrderBehind from '../stores/OrderBehind.vue'

/** What standing orders have still to bring and why, and which stores will soon be full; nothing where all is well. */
const upkeep = useUpkeep()
const behind = computed(() => (upkeep.data.value?.orders ?? []).filter((one) => one.rolls))
</script>

<template>
  <ul class="behind" data-behind-line>
    <li v-for="order in behind" :key="order.id">
      <span class="tag">{{ t('orders.to', { store: order.to }) }}</span> <OrderBehind :order="order" />
    </li>
    <FullSoon />
  </ul>
</template>

<style scoped>
.behind {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-5);
  margin: 0 0 var(--space-3);
}
.behind:not(:has(li)) {
  display: none;
}
</style>
