<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { useFormatCard, useInsertCard, useRemoveCard } from '../../api/acts/standins'
import type { Shapes } from '../../api/client'
import { useStandinCards } from '../../api/queries'

/** The demo's hand: it puts simulated cards into slots and takes them out. Not there in real use. */
defineProps<{ slots: Shapes['SlotOut'][] }>()
const cards = useStandinCards(true)
const insert = useInsertCard()
const remove = useRemoveCard()
const format = useFormatCard()
const onTable = computed(() => cards.data.value?.filter((card) => !card.slot) ?? [])
const inHub = computed(() => cards.data.value?.filter((card) => card.slot) ?? [])
const free = computed(() => {
  const taken = new Set(inHub.value.map((card) => card.slot))
  return ['slot-1', 'slot-2', 'slot-3', 'slot-4'].find((slot) => !taken.has(slot))
})
const trouble = computed(() => (insert.error.value ?? remove.error.value ?? format.error.value)?.message)
</script>

<template>
  <details class="table" data-hub>
    <summary>Simulated cards: put in, take out</summary>
    <ul>
      <li v-for="card in inHub" :key="card.serial">
        <span class="tag">{{ card.label }}</span> in {{ card.slot?.replace('-', ' ') }}
        <Button
          class="act quiet small"
          :label="`Take out ${card.label}`"
          @click="remove.mutate(card.slot ?? '')"
        />
      </li>
      <li v-for="card in onTable" :key="card.serial">
        <span class="tag">{{ card.label }}</span> on the table
        <Button
          class="act quiet small"
          :disabled="!free"
          :label="`Put in ${card.label}`"
          @click="free && insert.mutate({ serial: card.serial, slot: free })"
        />
        <Button
          class="act quiet small"
          :label="`Format ${card.label} in its camera`"
          @click="format.mutate(card.serial)"
        />
      </li>
    </ul>
    <p v-if="trouble" role="alert" class="trouble">{{ trouble }}</p>
  </details>
</template>

<style scoped>
.table {
  margin-top: var(--space-7);
  padding: var(--space-2) var(--space-3);
  border: var(--line-thin) dashed var(--ink-soft);
}
summary {
  cursor: pointer;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(27.5rem, 1fr));
  gap: var(--space-2) var(--space-6);
  margin-top: var(--space-2);
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  align-items: center;
}
</style>
