<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useBench, useQueue, useSetUp } from '../../api/queries'
import { typesInto } from '../../shell/fields'
import { useWho } from '../../shell/me'
import { keysOn } from '../../theme/choices'
import CardSheet from './CardSheet.vue'
import HubPanel from './HubPanel.vue'
import QueuePanel from './QueuePanel.vue'
import ReaderWay from './ReaderWay.vue'
import SlotCard from './SlotCard.vue'

const bench = useBench()
const { me } = useWho()
const slots = computed(() => bench.data.value?.slots ?? [])
const queue = useQueue()
const setUp = useSetUp()
/** Seconds until each card is free, by its label. */
const freeIn = computed(
  () => new Map(queue.data.value?.flatMap((one) => one.runs).map((run) => [run.label, run.free_in_s])),
)
const asked = ref<string>()
const chosen = computed(
  () =>
    slots.value.find((slot) => slot.name === asked.value) ?? slots.value.find((slot) => slot.insertion_id),
)

useEventListener(document, 'keydown', (event) => {
  if (!keysOn.value || typesInto(event.target) || event.ctrlKey || event.metaKey || event.altKey) return
  const slot = slots.value[Number(event.key) - 1]
  if (slot) asked.value = slot.name
})
</script>

<template>
  <main class="place">
    <h1 class="unseen">Bench</h1>
    <p v-if="bench.error.value" role="alert" class="trouble">{{ bench.error.value.message }}</p>
    <template v-else-if="bench.data.value">
      <p v-if="!slots.length" class="empty">
        No station has told of a reader yet. Start one with <code>./raft station NAME</code> on the machine
        that has the readers.
      </p>
      <section v-else aria-label="Readers" class="hub">
        <div class="bar" aria-hidden="true"></div>
        <ul>
          <li v-for="(slot, index) in slots" :key="slot.station + slot.name">
            <SlotCard
              :slot-data="slot"
              :number="index + 1"
              :chosen="slot.name === chosen?.name"
              :free-in="freeIn.get(slot.label ?? '')"
              @choose="asked = slot.name"
            />
          </li>
        </ul>
      </section>
      <CardSheet
        v-if="chosen?.insertion_id"
        :key="chosen.insertion_id"
        :slot-data="chosen"
        :cameras="setUp.data.value?.cameras ?? []"
        :time-zone="bench.data.value.time_zone"
      />
      <p v-else-if="slots.length" class="empty">
        Put a card into a reader: what is on it shows here within seconds.
      </p>
      <QueuePanel />
      <ReaderWay :slots="slots" :plans="setUp.data.value?.plans.map((plan) => plan.name) ?? []" />
      <HubPanel v-if="me.standins" :slots="slots" />
    </template>
  </main>
</template>

<style scoped>
.hub {
  position: relative;
}
.bar {
  height: 26px;
  background: var(--hull);
  border-radius: 6px 6px 0 0;
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(220px, 1fr));
  gap: 0 18px;
  padding: 0 18px;
}
.empty {
  padding: 40px 0;
  font-size: 20px;
}
</style>
