<script setup lang="ts">
import ToggleSwitch from 'primevue/toggleswitch'
import { computed, useId } from 'vue'
import { useSetUnattended } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import ChooseOne from '../../parts/ChooseOne.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'

/** Whether cards in this slot are offloaded by themselves: one that leaves no question goes, any other waits. */
const props = defineProps<{ slotData: Shapes['SlotOut']; plans: readonly string[] }>()
const { may, whyNot } = useWho()
const set = useSetUnattended()
/** No plan is called so. */
const ANY = '*'
const id = useId()

const on = computed({
  get: () => props.slotData.unattended,
  set: (now) => set.mutate({ reader: props.slotData.reader_id, on: now }),
})
const plan = computed({
  get: () => props.slotData.unattended_plan ?? ANY,
  set: (name) =>
    set.mutate({ reader: props.slotData.reader_id, on: true, ...(name === ANY ? {} : { plan: name }) }),
})
const choices = computed(() => [
  { name: t('byItself.ofAnyPlan'), value: ANY },
  ...props.plans.map((name) => ({ name: t('byItself.of', { name }), value: name })),
])
</script>

<template>
  <div class="way" :data-unattended-reader="slotData.name">
    <ToggleSwitch v-model="on" :input-id="id" :disabled="!may('offload')" />
    <label :for="id" :title="whyNot('offload') ?? t('byItself.aCardGoesByItself')">
      {{ t('byItself.byItself') }}
    </label>
    <ChooseOne v-if="on" v-model="plan" label="" :options="choices" :disabled="!may('offload')" />
    <strong v-if="slotData.insertion_id && slotData.waits_for.length" data-unattended>{{
      t('byItself.waitsForYou')
    }}</strong>
    <span v-else-if="slotData.insertion_id && slotData.unattended" class="unseen" data-unattended>{{
      t('byItself.byItself')
    }}</span>
    <SaidNo :error="set.error.value" />
  </div>
</template>

<style scoped>
.way {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-2);
  align-items: center;
  min-height: 2.5rem;
  padding: var(--space-1) var(--space-1) 0;
}
.way :deep(.choose) {
  min-width: 0;
  min-height: 2rem;
}
.way :deep(.chosen) {
  padding: var(--space-half) var(--space-2);
  font-size: var(--type-body);
}
</style>
