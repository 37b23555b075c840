<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { t } from '../../words/say'
import { bytes, counted } from '../../words/units'

/** What a standing order has still to bring, and why it does not do so now. */
const props = defineProps<{ order: Shapes['StandingOrderOut'] }>()
const behind = computed(() => {
  const { rolls, bytes: lacking, under_way: going, why } = props.order
  if (!rolls) return t('orders.caughtUp')
  const count = counted(rolls, 'roll')
  const much = {
    rolls: props.order.more ? t('orders.moreThan', { rolls: count }) : count,
    bytes: bytes(lacking),
  }
  if (going) return t('orders.going', { ...much, going: counted(going, 'roll') })
  return why ? t('orders.behindWhy', { ...much, why }) : t('orders.next', much)
})
</script>

<template>
  <span :class="{ soft: !order.why }" :data-behind="order.to">{{ behind }}</span>
</template>
