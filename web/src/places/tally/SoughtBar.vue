<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import ChooseOne from '../../parts/ChooseOne.vue'
import { shortDay } from '../../words/times'
import { counted } from '../../words/units'
import { ALL, seekAll, sought } from './sought'
import { t } from '../../words/say'

/** What the list is narrowed to, and how many rolls that leaves. */
const props = defineProps<{
  days: readonly Shapes['DayOut'][]
  cameras: readonly Shapes['CameraOut'][]
  stores: readonly Shapes['StoreColumn'][]
  inAll: number
  narrowed: boolean
}>()

const days = computed(() => [
  { name: t('soughtBar.anyDay'), value: ALL },
  { name: t('soughtBar.today'), value: 'today' },
  ...props.days.map(({ day, number, rolls }) => ({
    name: t('soughtBar.day2', { number, day: shortDay(day), rolls: counted(rolls, 'roll') }),
    value: day,
  })),
])
const cameras = computed(() => [
  { name: t('soughtBar.anyCamera'), value: ALL },
  ...props.cameras.map(({ letter, name }) => ({ name: `${letter}, ${name}`, value: letter })),
])
const STATES: { name: string; value: Shapes['RollState'] | typeof ALL }[] = [
  { name: t('soughtBar.anyState'), value: ALL },
  { name: t('soughtBar.belowTheLine'), value: 'below the line' },
  { name: t('soughtBar.shortOfTheRule'), value: 'short' },
  { name: t('soughtBar.safe'), value: 'safe' },
]
const stores = computed(() => [
  { name: t('soughtBar.anyStore'), value: ALL },
  ...props.stores.map(({ name }) => ({ name: t('soughtBar.aCopyReadOn', { name }), value: `+${name}` })),
  ...props.stores.map(({ name }) => ({ name: t('soughtBar.noneReadOn', { name }), value: `-${name}` })),
])
</script>

<template>
  <form class="line" role="search" :aria-label="t('soughtBar.rolls')" @submit.prevent>
    <label
      >{{ t('soughtBar.find') }} <InputText v-model="sought.text" class="field find" data-search
    /></label>
    <ChooseOne v-model="sought.day" :label="t('soughtBar.day')" :options="days" data-day />
    <ChooseOne v-model="sought.camera" :label="t('soughtBar.camera')" :options="cameras" data-camera />
    <ChooseOne v-model="sought.state" :label="t('soughtBar.state')" :options="STATES" data-state />
    <ChooseOne v-model="sought.store" :label="t('soughtBar.store')" :options="stores" data-store />
    <label v-if="sought.changed" class="changed" data-changed>
      <Checkbox v-model="sought.changed" binary /> {{ t('soughtBar.changed') }}
    </label>
    <span role="status" data-count>{{ counted(inAll, 'roll') }}</span>
    <button v-if="narrowed" type="button" class="link" data-all @click="seekAll">
      {{ t('soughtBar.showAll') }}
    </button>
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
