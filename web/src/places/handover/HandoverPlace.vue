<script setup lang="ts">
import Textarea from 'primevue/textarea'
import { computed, ref } from 'vue'
import { useHandOver, useTakeOver } from '../../api/acts/shifts'
import { useShifts, useStandsNow } from '../../api/queries/useShifts'
import ActButton from '../../parts/ActButton.vue'
import LastKnown from '../../parts/LastKnown.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import { age } from '../../words/times'
import { counted } from '../../words/units'
import MatterList from './MatterList.vue'

/** Between two shifts: what is taken over by name, and what would be handed over now. */
const { whyNot } = useWho()
const shifts = useShifts()
const now = useStandsNow()
const take = useTakeOver()
const end = useHandOver()
const words = ref('')
const open = computed(() => shifts.data.value?.open ?? [])
const mine = computed(() => open.value.filter((one) => !one.yours))
const last = computed(() => shifts.data.value?.last ?? [])
const whyNotTake = computed(
  () => whyNot('hand_over') ?? (mine.value.length ? undefined : t('handover.yours')),
)
const handOver = () => end.mutate(words.value, { onSuccess: () => (words.value = '') })
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/log">{{ t('handover.log') }}</RouterLink>
    </p>
    <h1>{{ t('handover.title') }}</h1>
    <LastKnown
      :error="shifts.error.value"
      :known="Boolean(shifts.data.value)"
      :updated-at="shifts.dataUpdatedAt.value"
    >
      <section data-to-take>
        <h2>{{ t('handover.open') }}</h2>
        <p v-if="!open.length" class="soft" data-nothing-open>{{ t('handover.nothing') }}</p>
        <template v-else>
          <MatterList :matters="open" @take="(id) => take.mutate([id])" />
          <ActButton
            type="button"
            :label="t('handover.takeAll', { count: number(mine.length) })"
            :why-not="whyNotTake"
            :busy="take.isPending.value"
            data-take-all
            @press="take.mutate(mine.map((one) => one.id))"
          />
        </template>
        <SaidNo :error="take.error.value" />
      </section>
      <section data-to-hand-over>
        <h2>{{ t('handover.end') }}</h2>
        <p class="soft">{{ t('handover.now') }}</p>
        <MatterList :matters="now.data.value ?? []" />
        <form @submit.prevent="handOver">
          <label
            >{{ t('handover.more') }}
            <Textarea v-model="words" class="field" rows="3" auto-resize data-more-words
          /></label>
          <ActButton
            type="submit"
            :label="t('handover.handOver')"
            :why-not="whyNot('hand_over')"
            :busy="end.isPending.value"
            data-hand-over
          />
          <SaidNo :error="end.error.value" />
        </form>
      </section>
      <section v-if="last.length">
        <h2>{{ t('handover.before') }}</h2>
        <details v-for="one in last" :key="one.id" :data-handover="one.id">
          <summary>
            {{
              t('handover.was', { by: one.by, count: counted(one.matters.length, 'thing'), age: age(one.at) })
            }}
            <strong v-if="one.open" class="trouble">{{
              t('handover.stillOpen', { count: number(one.open) })
            }}</strong>
          </summary>
          <MatterList :matters="one.matters" accepted />
        </details>
      </section>
    </LastKnown>
  </main>
</template>

<style scoped>
h1 {
  margin: var(--space-1) 0 0;
}
h2 {
  padding: var(--space-4) 0 var(--space-1h);
  border-bottom: var(--line) solid var(--ink);
}
form {
  display: grid;
  gap: var(--space-3);
  justify-items: start;
  margin-top: var(--space-4);
}
label {
  display: grid;
  gap: var(--space-1);
  width: min(40rem, 100%);
}
summary {
  padding: var(--space-2) 0;
  cursor: pointer;
}
</style>
