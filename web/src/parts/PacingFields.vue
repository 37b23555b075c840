<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { t } from '../words/say'
import ChooseOne from './ChooseOne.vue'
import NumberField from './NumberField.vue'
import type { Pacing } from './pacing'

/** At which hours something may begin by itself, and how fast it may go. */
const pacing = defineModel<Pacing>({ required: true })
const WHEN = [
  { name: t('pacing.anyHour'), value: true },
  { name: t('pacing.between'), value: false },
]
const MOST_MEGABYTES = 100_000
const change = (what: Partial<Pacing>) => (pacing.value = { ...pacing.value, ...what })
</script>

<template>
  <ChooseOne
    :model-value="pacing.always"
    :label="t('pacing.begins')"
    :options="WHEN"
    data-when
    @update:model-value="(always: boolean) => change({ always })"
  />
  <template v-if="!pacing.always">
    <label
      ><span class="unseen">{{ t('pacing.from') }}</span
      ><InputText
        :model-value="pacing.from"
        class="field clock"
        data-from
        @update:model-value="change({ from: $event ?? '' })"
    /></label>
    <label
      >{{ t('pacing.until') }}
      <InputText
        :model-value="pacing.until"
        class="field clock"
        data-until
        @update:model-value="change({ until: $event ?? '' })"
    /></label>
  </template>
  <NumberField
    :model-value="pacing.megabytes"
    :label="t('pacing.rate')"
    :max="MOST_MEGABYTES"
    data-rate
    @update:model-value="(megabytes: number) => change({ megabytes })"
  />
</template>

<style scoped>
.clock {
  width: 5.5rem;
  font-variant-numeric: tabular-nums;
}
</style>
