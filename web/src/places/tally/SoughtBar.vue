<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import ChooseOne from '../../parts/ChooseOne.vue'
import { shortDay } from '../../words/times'
import { counted } from '../../words/units'
import { ALL, seekAll, sought } from './sought'

/** What the list is narrowed to, and how many rolls that leaves. */
const props = defineProps<{
  days: readonly Shapes['DayOut'][]
  cameras: readonly Shapes['CameraOut'][]
  stores: readonly Shapes['StoreColumn'][]
  inAll: number
  narrowed: boolean
}>()

const days = computed(() => [
  { name: 'any day', value: ALL },
  ...props.days.map(({ day, number, rolls }) => ({
    name: `day ${number}, ${shortDay(day)}: ${counted(rolls, 'roll')}`,
    value: day,
  })),
])
const cameras = computed(() => [
  { name: 'any camera', value: ALL },
  ...props.cameras.map(({ letter, name }) => ({ name: `${letter}, ${name}`, value: letter })),
])
const STATES: { name: string; value: Shapes['RollState'] | typeof ALL }[] = [
  { name: 'any state', value: ALL },
  { name: 'below the line', value: 'below the line' },
  { name: 'short of the rule', value: 'short' },
  { name: 'safe', value: 'safe' },
]
const stores = computed(() => [
  { name: 'any store', value: ALL },
  ...props.stores.map(({ name }) => ({ name: `a copy read on ${name}`, value: `+${name}` })),
  ...props.stores.map(({ name }) => ({ name: `none read on ${name}`, value: `-${name}` })),
])
</script>

<template>
  <form class="line" role="search" aria-label="Rolls" @submit.prevent>
    <label>Find <InputText v-model="sought.text" class="field find" data-search /></label>
    <ChooseOne v-model="sought.day" label="Day" :options="days" data-day />
    <ChooseOne v-model="sought.camera" label="Camera" :options="cameras" data-camera />
    <ChooseOne v-model="sought.state" label="State" :options="STATES" data-state />
    <ChooseOne v-model="sought.store" label="Store" :options="stores" data-store />
    <span role="status" data-count>{{ counted(inAll, 'roll') }}</span>
    <button v-if="narrowed" type="button" class="link" data-all @click="seekAll">Show all</button>
  </form>
</template>

<style scoped>
.line {
  gap: var(--space-2) var(--space-3);
  padding-bottom: var(--space-3);
}
.find {
  width: 7rem;
}
.line :deep(.choose) {
  min-width: 0;
  max-width: 12.5rem;
}
.line :deep(.chosen) {
  overflow: hidden;
  text-overflow: ellipsis;
}
@media (--phone) {
  .line {
    display: grid;
    grid-template-columns: 1fr 1fr;
  }
  .line label {
    display: grid;
    gap: var(--space-half);
  }
  .find {
    width: 100%;
  }
}
</style>
