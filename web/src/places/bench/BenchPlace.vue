<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useBench } from '../../api/queries/useBench'
import { useStations } from '../../api/queries/useStations'
import { useQueue } from '../../api/queries/useQueue'
import { useSetUp } from '../../api/queries/useSetUp'
import { useShortcuts } from '../../shell/keys'
import CardSheet from './CardSheet.vue'
import QueuePanel from './QueuePanel.vue'
import SlotCard from './SlotCard.vue'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'

const bench = useBench()
const route = useRoute()
const plans = computed(() => setUp.data.value?.plans.map((plan) => plan.name) ?? [])
const slots = computed(() => bench.data.value?.slots ?? [])
const queue = useQueue()
const setUp = useSetUp()
/** Seconds until each card is free, by its label. */
const freeIn = computed(
  () =>
    new Map(
      queue.data.value
        ?.flatMap((one) => one.runs)
        .filter((run) => run.label)
        .map((run) => [run.label, run.free_in_s]),
    ),
)
const asked = ref<number>()
const { away } = useStations()
const awaySince = computed(() => new Map(away.value.map((one) => [one.name, one.seen_at])))
/** The one that was asked for by hand, else the card that the address names, else the first there is. */
const chosen = computed(
  () =>
    slots.value.find((slot) => slot.reader_id === asked.value) ??
    slots.value.find((slot) => slot.insertion_id && slot.label === route.query['card']) ??
    slots.value.find((slot) => slot.insertion_id && !slot.elsewhere),
)

const nothingTold = computed(() => {
  const slot = chosen.value
  if (!slot) return t('benchPlace.putACardIntoA')
  return slot.elsewhere
    ? t('benchPlace.ofAnother', { label: slot.label ?? '', slot: slot.name })
    : t('benchPlace.slotIsEmpty', { slot: slot.name })
})

useShortcuts(
  Object.fromEntries(
    [1, 2, 3, 4, 5, 6, 7, 8, 9].map((n) => [
      String(n),
      () => {
        const slot = slots.value[n - 1]
        if (slot) asked.value = slot.reader_id
      },
    ]),
  ),
)
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.bench') }}</h1>
    <LastKnown
      :error="bench.error.value"
      :known="Boolean(bench.data.value)"
      :updated-at="bench.dataUpdatedAt.value"
      ><template v-if="bench.data.value">
        <p v-if="!slots.length" class="empty">
          <I18nT keypath="benchPlace.noStationHasToldOf" scope="global">
            <template #command><code>./raft station NAME</code></template>
          </I18nT>
        </p>
        <section v-else :aria-label="t('benchPlace.readers')" class="hub">
          <div class="bar" aria-hidden="true"></div>
          <ul>
            <li v-for="(slot, index) in slots" :key="slot.reader_id">
              <SlotCard
                :slot-data="slot"
                :number="index + 1"
                :chosen="slot.reader_id === chosen?.reader_id"
                :away-since="awaySince.get(slot.station)"
                :free-in="freeIn.get(slot.label ?? '')"
                :plans="plans"
                @choose="asked = slot.reader_id"
              />
            </li>
          </ul>
        </section>
        <QueuePanel />
        <CardSheet
          v-if="chosen?.insertion_id && !chosen.elsewhere"
          :key="chosen.insertion_id"
          :slot-data="chosen"
          :cameras="setUp.data.value?.cameras ?? []"
          :time-zone="bench.data.value.time_zone"
        />
        <p v-else-if="slots.length" class="empty">
          {{ nothingTold }}
        </p>
      </template></LastKnown
    >
  </main>
</template>

<style scoped>
.hub {
  position: relative;
}
.bar {
  height: 1.5rem;
  background: var(--hull);
  border-radius: var(--line-bar) var(--line-bar) 0 0;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(13.75rem, 1fr));
  gap: 0 var(--space-4);
  padding: 0 var(--space-4);
}
@media (--phone) {
  .bar {
    display: none;
  }
  ul {
    padding: 0;
  }
}
.empty {
  padding: var(--space-10) 0;
  font-size: var(--type-tag);
}
</style>
