<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import VerdictMark from '../../marks/VerdictMark.vue'
import { bytes, counted } from '../../words/units'
import NoteSign from '../../parts/NoteSign.vue'
import ByItself from './ByItself.vue'
import PulledCard from './PulledCard.vue'
import { wordsOf } from './standing'
import { t } from '../../words/say'
import { age } from '../../words/times'

/** A reader's slot with its card hanging in it, the way it looks on the cart; its answer can be read from afar. */
const props = defineProps<{
  slotData: Shapes['SlotOut']
  number: number
  chosen: boolean
  /** Seconds until the card can be taken out, while it runs or waits. */
  freeIn?: number | null
  plans: readonly string[]
  /** When its station last looked, where that is away; what the slot shows is from then. */
  awaySince?: string | null
}>()
defineEmits<{ choose: [] }>()

const words = computed(() => wordsOf(props.slotData, props.freeIn))
const running = computed(() => props.slotData.offload && !props.slotData.offload.finished_at)
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
        <span class="number" aria-hidden="true">{{ number }}</span>
      </span>
      <VerdictMark v-if="words.verdict" class="verdict" :verdict="words.verdict" />
      <span class="standing">{{ words.standing }}</span>
      <span class="next" :data-free-in="running ? '' : null">{{ words.next }}</span>
      <span v-if="slotData.listing" class="soft"
        >{{ counted(slotData.listing.files, 'file') }}, {{ bytes(slotData.listing.bytes) }}</span
      >
      <span v-else class="soft">{{ slotData.kind }}, {{ bytes(slotData.capacity) }}</span>
      <NoteSign v-if="slotData.label && !slotData.elsewhere" on="card" :name="slotData.label" />
    </button>
    <PulledCard v-if="slotData.pulled" :pulled="slotData.pulled" :slot-name="slotData.name" />
    <p v-else-if="slotData.released" class="bare free" role="status" :data-released="slotData.released">
      {{ t('slotCard.mayBePulled', { label: slotData.released }) }}
    </p>
    <p v-else-if="!slotData.insertion_id" class="bare soft" :data-slot="slotData.name">
      {{ t('slotCard.empty', { name: slotData.name }) }}
    </p>
    <p v-if="awaySince !== undefined" class="trouble" data-unwatched>
      {{
        awaySince
          ? t('slotCard.unwatchedSince', { station: slotData.station, age: age(awaySince) })
          : t('slotCard.unwatched', { station: slotData.station })
      }}
    </p>
    <ByItself class="by-itself" :slot-data="slotData" :plans="plans" />
  </div>
</template>

<style scoped>
.slot {
  position: relative;
  display: grid;
  grid-template-rows: auto 1fr auto;
  min-width: 0;
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
  gap: var(--space-half);
  align-content: start;
  width: 100%;
  min-height: 12.5rem;
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
  border-width: var(--line-bar);
  border-top: 0;
  padding: 0 var(--space-3) var(--space-3);
}
.contacts {
  height: 0.75rem;
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
.number {
  display: none;
}
.card .verdict {
  justify-self: start;
  margin-top: var(--space-1);
}
.standing,
.next {
  font: 700 var(--type-tag)/1.2 var(--tag);
}
.next:not(:empty)::before {
  content: '→ ';
}
.bare {
  display: grid;
  place-content: center;
  min-height: 12.5rem;
}
@media (--phone) {
  .slot {
    margin-bottom: var(--space-1h);
  }
  .mouth,
  .contacts,
  .standing,
  .card .soft,
  .by-itself {
    display: none;
  }
  .card,
  .card.chosen {
    grid-template-columns: auto 1fr;
    align-items: center;
    min-height: 0;
    padding: var(--space-1h) var(--space-2);
    border-top: var(--line) solid var(--ink);
    border-radius: 0;
  }
  .card.chosen {
    border-top-width: var(--line-bar);
  }
  .label {
    font-size: var(--type-title);
  }
  .card .verdict {
    justify-self: end;
    margin: 0;
    font-size: var(--type-title);
  }
  .next {
    grid-column: 1 / -1;
    font-size: var(--type-body);
  }
  .bare {
    min-height: 0;
    padding: var(--space-2);
  }
  .number {
    display: block;
    order: -1;
    padding: 0 var(--space-2);
    background: var(--hull);
    color: var(--hull-ink);
    font: 700 var(--type-tag)/1.5 var(--tag);
  }
}
</style>
