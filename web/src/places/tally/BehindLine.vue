<script setup lang="ts">
import { computed } from 'vue'
import { useRoom } from '../../api/queries/useRoom'
import { useUpkeep } from '../../api/queries/useUpkeep'
import { fullAbout } from '../../words/foreseen'
import { t } from '../../words/say'
import OrderBehind from '../stores/OrderBehind.vue'

/** What standing orders have still to bring and why, and which stores will soon be full; nothing where all is well. */
const upkeep = useUpkeep()
const room = useRoom()
const behind = computed(() => (upkeep.data.value?.orders ?? []).filter((one) => one.rolls))
const soon = computed(() => (room.data.value ?? []).filter((one) => one.foreseen?.soon))
</script>

<template>
  <ul v-if="behind.length || soon.length" class="behind" data-behind-line>
    <li v-for="order in behind" :key="order.id">
      <span class="tag">{{ t('orders.to', { store: order.to }) }}</span> <OrderBehind :order="order" />
    </li>
    <li v-for="one in soon" :key="one.store" :data-soon-full="one.store">
      <span class="tag">{{ one.store }}</span> {{ one.foreseen ? fullAbout(one.foreseen) : '' }}
    </li>
  </ul>
</template>

<style scoped>
.behind {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-5);
  margin: 0 0 var(--space-3);
}
</style>
