<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { clock, dayAndClock } from '../../words/times'
import { bytes, counted, exactBytes } from '../../words/units'
import IntroduceForm from './IntroduceForm.vue'
import NextAct from './NextAct.vue'
import RunReport from './RunReport.vue'
import StorePlank from './StorePlank.vue'

/** The card in the chosen slot: what is on it, where it will go, and the one next act. */
const props = defineProps<{
  slotData: Shapes['SlotOut']
  cameras: Shapes['CameraOut'][]
  timeZone: string
}>()

const listing = computed(() => props.slotData.listing)
const kinds = computed(() => {
  const on = listing.value
  if (!on) return ''
  const parts: [number, string][] = [
    [on.stills, 'still'],
    [on.video, 'video file'],
    [on.sound, 'sound file'],
    [on.other, 'other file'],
  ]
  return parts
    .filter(([count]) => count)
    .map(([count, name]) => counted(count, name))
    .join(', ')
})
const span = computed(() => {
  const on = listing.value
  if (!on?.first_at || !on.last_at) return ''
  return `${dayAndClock(on.first_at, props.timeZone)} to ${clock(on.last_at, props.timeZone)}`
})
const running = computed(() => props.slotData.offload && !props.slotData.offload.finished_at)
</script>

<template>
  <section class="sheet" aria-label="The chosen card">
    <p v-if="slotData.trouble" role="alert" class="trouble">
      {{ slotData.trouble }} Nothing on it was changed. Take it out and put it in again, or try another
      reader.
    </p>
    <IntroduceForm v-else-if="!slotData.card_id" :slot-data="slotData" :cameras="cameras" />
    <p v-else-if="!listing">The card is being listed…</p>
    <template v-else>
      <div class="top">
        <div>
          <h2>
            <span v-if="slotData.proposal" class="roll" data-tag>{{ slotData.proposal.tag }}</span>
            <span v-else class="roll">{{ slotData.label }}</span>
          </h2>
          <p v-if="!listing.files" data-contents>Nothing is on it: it is ready for a camera.</p>
          <p v-else data-contents>
            <span :title="exactBytes(listing.bytes)">{{ bytes(listing.bytes) }}</span> in
            {{ kinds || 'no files' }}.
            {{ listing.layout === 'plain' ? 'Plain folders' : `${listing.layout} layout` }}.
          </p>
          <p v-if="span" class="soft">Shot {{ span }}.</p>
          <p v-if="slotData.proposal && slotData.proposal.held_files" data-held>
            {{ counted(slotData.proposal.held_files, 'file') }} of it already held,
            {{ listing.files - slotData.proposal.held_files }} new.
          </p>
          <p v-if="slotData.proposal" class="soft">
            Goes to <code>{{ slotData.proposal.folder }}</code> on every store of the plan “{{
              slotData.proposal.plan
            }}”.
          </p>
          <p v-if="slotData.question && listing.files">{{ slotData.question }}</p>
        </div>
        <NextAct :slot-data="slotData" />
      </div>
      <ul v-if="slotData.proposal" class="planks" aria-label="Stores">
        <li v-for="store in slotData.proposal.stores" :key="store.store">
          <StorePlank :demand="store" :total-bytes="listing.bytes" :run="slotData.offload ?? undefined" />
        </li>
      </ul>
      <RunReport v-if="slotData.offload && !running" :run="slotData.offload" :label="slotData.label ?? ''" />
    </template>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
.top {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 16px 32px;
  margin-bottom: 18px;
}
.roll {
  font-size: 64px;
  line-height: 0.95;
}
.planks {
  display: grid;
  gap: 10px;
}
</style>
