<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import PennantMark from '../../marks/PennantMark.vue'
import { roughly } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** A reader's slot with its card hanging in it, the way it looks on the cart. */
const props = defineProps<{
  slotData: Shapes['SlotOut']
  number: number
  chosen: boolean
  /** Seconds until the card can be taken out, while it runs or waits. */
  freeIn?: number | null
}>()
defineEmits<{ choose: [] }>()

const left = computed(() => {
  const run = props.slotData.offload
  return run && !run.finished_at ? runProgress.get(run.id)?.left_s : undefined
})
const percent = computed(() => {
  const run = props.slotData.offload
  const now = run && !run.finished_at ? runProgress.get(run.id) : undefined
  if (!now || !now.total) return undefined
  const least = Math.min(...now.stores.map((store) => store.verified))
  return Math.floor((100 * least) / now.total)
})
const standing = computed(() => {
  if (props.slotData.trouble) return 'cannot be read'
  if (!props.slotData.card_id) return 'unknown card'
  const run = props.slotData.offload
  if (run?.state === 'paused') return 'paused'
  if (run?.state === 'stopping') return 'stopping'
  if (run?.state === 'waiting') return 'waits its turn'
  if (percent.value !== undefined) return `${percent.value} % read back`
  return props.slotData.standing === 'never read' ? 'being listed' : (props.slotData.standing ?? '')
})
</script>

<template>
  <div class="slot">
    <span class="mouth" aria-hidden="true">{{ number }}</span>
    <button
      v-if="slotData.insertion_id"
      type="button"
      class="card"
      :class="{ chosen }"
      :aria-pressed="chosen"
      :data-slot="slotData.name"
      :data-standing="slotData.standing"
      @click="$emit('choose')"
    >
      <span class="contacts" aria-hidden="true"></span>
      <span class="head">
        <PennantMark v-if="slotData.camera" :letter="slotData.camera.letter" :size="30" />
        <span class="tag label">{{ slotData.label ?? slotData.kind }}</span>
      </span>
      <span v-if="slotData.listing" class="soft what"
        >{{ counted(slotData.listing.files, 'file') }}, {{ bytes(slotData.listing.bytes) }}</span
      >
      <span v-else class="soft what">{{ slotData.kind }}, {{ bytes(slotData.capacity) }}</span>
      <span class="standing">{{ standing }}</span>
      <span
        v-if="freeIn != null && slotData.offload && !slotData.offload.finished_at"
        class="soft"
        data-free-in
        >free in {{ roughly(left ?? freeIn) }}</span
      >
      <span v-if="slotData.unattended" class="soft by-itself" data-unattended>{{
        slotData.waits_for.length ? 'waits for you' : 'by itself'
      }}</span>
    </button>
    <p v-else class="bare soft" :data-slot="slotData.name">{{ slotData.name }}: empty</p>
  </div>
</template>

<style scoped>
.slot {
  position: relative;
  min-height: 9.25rem;
}
.mouth {
  position: absolute;
  top: calc(-1 * var(--space-6));
  left: 0;
  right: 0;
  color: var(--hull-ink);
  text-align: center;
  font: 700 var(--type-lead)/var(--type-title) var(--tag);
}
.card {
  display: grid;
  gap: var(--space-1);
  align-content: start;
  width: 100%;
  height: 8.25rem;
  padding: 0 var(--space-4) var(--space-3);
  border: var(--line) solid var(--ink);
  border-top: 0;
  border-radius: 0 0 var(--line-slab) var(--line-slab);
  background: var(--sheet);
  color: inherit;
  font: inherit;
  text-align: left;
  cursor: pointer;
}
.card.chosen {
  height: 9.25rem;
  border-width: var(--line-bar);
  border-top: 0;
  padding: 0 var(--space-3) var(--space-3);
}
.contacts {
  height: 1rem;
  margin-bottom: var(--space-1);
  background: repeating-linear-gradient(
    90deg,
    var(--ink-soft) 0 var(--line-slab),
    transparent var(--line-slab) var(--space-4)
  );
  opacity: 0.55;
}
.head {
  display: flex;
  align-items: center;
  gap: var(--space-2);
}
.label {
  font-size: var(--type-large);
}
.standing {
  font: 700 var(--type-tag)/1.1 var(--tag);
}
.by-itself {
  position: absolute;
  right: var(--space-3);
  bottom: var(--space-6);
}
.bare {
  padding: var(--space-5) var(--space-1);
  text-align: center;
}
</style>
