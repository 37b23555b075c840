<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { t } from '../../words/say'
import { age } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** A roll on the store: what of it would go, or why it stays. Its page shows its pictures and where else it is. */
defineProps<{ roll: Shapes['RoomRollOut'] }>()
</script>

<template>
  <li :data-room-roll="roll.tag">
    <slot><span></span></slot>
    <RouterLink class="tag" :to="`/tally/${encodeURIComponent(roll.tag)}`">{{ roll.tag }}</RouterLink>
    <span class="soft"
      ><template v-if="roll.delivered_at"
        >{{ t('makeRoom.delivered') }} {{ age(roll.delivered_at) }}</template
      ></span
    >
    <span v-if="roll.reason" data-reason>{{ roll.reason }}</span>
    <span v-else
      ><strong>{{ bytes(roll.bytes) }}</strong
      >, {{ counted(roll.files, 'file')
      }}<template v-if="roll.kept"
        >; {{ t('makeRoom.stays') }}: {{ t('makeRoom.kept', {}, roll.kept) }}</template
      ></span
    >
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 2rem 5rem 14rem minmax(0, 1fr);
  gap: var(--space-1) var(--space-3);
  align-items: center;
  padding: var(--space-1h) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
@media (--phone) {
  li {
    grid-template-columns: 2rem 5rem minmax(0, 1fr);
  }
  li > :last-child {
    grid-column: 2 / -1;
  }
}
</style>
