<script setup lang="ts">
import { useSetUnattended } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'

/** Which readers offload by themselves: a card that leaves no question goes, any other waits for somebody. */
defineProps<{ slots: Shapes['SlotOut'][]; plans: string[] }>()
const { may } = useWho()
const set = useSetUnattended()

const choose = (id: number, way: string) =>
  set.mutate({ reader: id, on: way !== '', plan: way === '' || way === 'any' ? undefined : way })
</script>

<template>
  <section v-if="slots.length" class="ways" aria-label="Readers that offload by themselves">
    <h2>With nobody watching</h2>
    <p class="soft">
      A card put into one of these goes by itself if its identity, its layout and its room leave no question.
    </p>
    <label v-for="slot in slots" :key="slot.reader_id">
      {{ slot.name }}
      <select
        class="field"
        :value="slot.unattended ? (slot.unattended_plan ?? 'any') : ''"
        :disabled="!may('offload')"
        :data-unattended-reader="slot.name"
        @change="choose(slot.reader_id, ($event.target as HTMLSelectElement).value)"
      >
        <option value="">waits for somebody</option>
        <option value="any">any plan, by itself</option>
        <option v-for="plan in plans" :key="plan" :value="plan">{{ plan }}, by itself</option>
      </select>
    </label>
    <p v-if="set.error.value" role="alert" class="trouble">{{ set.error.value.message }}</p>
  </section>
</template>

<style scoped>
.ways {
  margin-top: var(--space-6);
}
label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
  min-height: 2.5rem;
  margin-right: var(--space-6);
}
</style>
