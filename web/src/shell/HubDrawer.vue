<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useFormatCard, useInsertCard, useRemoveCard } from '../api/acts/standins'
import { useStandinCards } from '../api/queries/useStandinCards'
import { useStandinDrives } from '../api/queries/useStandinDrives'
import { t } from '../words/say'
import HubDrives from './HubDrives.vue'
import SaidNo from '../parts/SaidNo.vue'

/** The demo's hand, at the screen's edge and no part of the product: it puts simulated cards in and takes them out. */
const SLOTS = ['slot-1', 'slot-2', 'slot-3', 'slot-4']
const open = ref(false)
const cards = useStandinCards(open)
const drives = useStandinDrives(open)
const insert = useInsertCard()
const remove = useRemoveCard()
const format = useFormatCard()

const inHub = computed(() => cards.data.value?.filter((card) => card.slot) ?? [])
const onTable = computed(() => cards.data.value?.filter((card) => !card.slot) ?? [])
const taken = computed(() => new Set(inHub.value.map((card) => card.slot)))
const refusal = computed(() => insert.error.value ?? remove.error.value ?? format.error.value)
</script>

<template>
  <aside class="drawer" :class="{ open }" :aria-label="t('hubDrawer.simulatedHub')" data-hub>
    <button type="button" class="tab" :aria-expanded="open" data-hub-tab @click="open = !open">
      {{ t('hubDrawer.simulatedHub') }}
    </button>
    <div v-if="open" class="inside">
      <p>{{ t('hubDrawer.forTryingThingsOutIt') }}</p>
      <h2>{{ t('hubDrawer.inTheHub') }}</h2>
      <ul>
        <li v-for="card in inHub" :key="card.serial">
          <span class="tag">{{ card.label }}</span>
          {{ t('hubDrawer.in', { slot: card.slot?.replace('-', ' ') ?? '' }) }}
          <Button
            class="act quiet small"
            :label="t('hubDrawer.takeOut', { label: card.label })"
            @click="remove.mutate(card.slot ?? '')"
          />
        </li>
      </ul>
      <h2>{{ t('hubDrawer.onTheTable') }}</h2>
      <ul>
        <li v-for="card in onTable" :key="card.serial">
          <span class="tag">{{ card.label }}</span>
          <span class="slots">
            <Button
              v-for="(slot, index) in SLOTS"
              :key="slot"
              class="act quiet small"
              :disabled="taken.has(slot)"
              :label="String(index + 1)"
              :aria-label="t('hubDrawer.putIntoSlot', { label: card.label, index: index + 1 })"
              @click="insert.mutate({ serial: card.serial, slot })"
            />
          </span>
          <button type="button" class="link" :data-format="card.label" @click="format.mutate(card.serial)">
            {{ t('hubDrawer.formatInItsCamera', { label: card.label }) }}
          </button>
        </li>
      </ul>
      <h2>{{ t('hubDrives.title') }}</h2>
      <HubDrives :drives="drives.data.value ?? []" />
      <SaidNo :error="refusal" />
    </div>
  </aside>
</template>

<style scoped>
.drawer {
  position: fixed;
  z-index: 15;
  top: 7rem;
  right: 0;
  display: flex;
  align-items: start;
  font-family: var(--mono);
}
.tab {
  min-height: 9rem;
  padding: var(--space-2) var(--space-1);
  border: var(--line-thin) dashed var(--ink-soft);
  border-right: 0;
  background: var(--paper);
  color: var(--ink-soft);
  font: var(--type-note) / 1 var(--mono);
  writing-mode: vertical-rl;
  cursor: pointer;
}
.inside {
  width: min(24rem, calc(100vw - 2.5rem));
  max-height: 70vh;
  padding: var(--space-3) var(--space-4);
  border: var(--line-thin) dashed var(--ink-soft);
  border-right: 0;
  background: var(--paper);
  font-size: var(--type-note);
  overflow-y: auto;
}
h2 {
  margin: var(--space-3) 0 var(--space-1);
  font: 700 var(--type-body) / 1 var(--mono);
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-2);
  align-items: center;
  padding: var(--space-1) 0;
}
.slots {
  display: flex;
  gap: var(--space-1);
}
@media (--phone) {
  .drawer {
    top: auto;
    bottom: 4.5rem;
  }
  .tab {
    min-height: 0;
    writing-mode: horizontal-tb;
  }
}
@media print {
  .drawer {
    display: none;
  }
}
</style>
