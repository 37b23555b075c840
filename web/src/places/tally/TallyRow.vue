<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import RaftMark from '../../marks/RaftMark.vue'
import NoteSign from '../../parts/NoteSign.vue'
import RemedySteps from '../../parts/RemedySteps.vue'
import { bytes, counted, exactBytes } from '../../words/units'
import CopyMark from './CopyMark.vue'
import { t } from '../../words/say'

/** One roll: its raft, one mark a store, and at its end what it lacks and what would help. */
const props = defineProps<{
  roll: Shapes['RollOut']
  stores: readonly Shapes['StoreColumn'][]
  /** Its first mark is the one that Tab comes to. */
  first: boolean
}>()
const cells = computed(() =>
  props.stores.map((store, index) => ({
    store,
    plank: props.roll.planks.find((plank) => plank.store === store.name),
    left: index > 1,
  })),
)
const card = computed(() =>
  props.roll.cleared
    ? t('tallyRow.cardWasCleared', { card: props.roll.card })
    : t('tallyRow.cardIsNotCleared', { card: props.roll.card }),
)
const account = computed(() =>
  [
    props.roll.waived && t('tallyRow.waived', { files: counted(props.roll.waived, 'file') }),
    props.roll.left && t('tallyRow.leftOnTheCard', { files: counted(props.roll.left, 'file') }),
  ]
    .filter(Boolean)
    .join(', '),
)
const lacks = computed(() => {
  if (props.roll.state === 'safe') return ''
  const what = props.roll.blocks.map((block) => block.sentence).join('; ')
  return props.roll.state === 'below the line'
    ? t('tallyRow.belowTheLine', { what })
    : t('tallyRow.short', { what })
})
</script>

<template>
  <tr :data-roll="roll.tag" :data-state="roll.state">
    <th scope="row">
      <RouterLink :to="`/tally/${roll.tag}`" class="roll">
        <PennantMark :letter="roll.camera.letter" :size="28" /><span class="tag">{{ roll.tag }}</span>
      </RouterLink>
      <small :title="exactBytes(roll.bytes)"
        >{{ counted(roll.files, 'file') }}, {{ bytes(roll.bytes) }}</small
      >
      <small>{{ card }}</small>
      <small v-if="account" data-account>{{ account }}</small>
      <NoteSign on="roll" :name="roll.tag" />
      <small class="where">{{
        t('tallyRow.on', { planks: roll.planks.map((plank) => plank.store).join(', ') })
      }}</small>
    </th>
    <td>
      <RaftMark :planks="roll.planks" :needed="roll.needed_copies" :met="roll.state === 'safe'" :size="56" />
    </td>
    <CopyMark
      v-for="(cell, index) in cells"
      :key="cell.store.name"
      :tag="roll.tag"
      :store="cell.store"
      :plank="cell.plank"
      :first="first && !index"
      :left="cell.left"
    />
    <td class="end">
      <p v-if="lacks" data-lacks>{{ lacks }}</p>
      <RemedySteps :steps="roll.remedy" />
    </td>
  </tr>
</template>

<style scoped>
th,
td {
  padding: var(--space-2) var(--space-2) var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
  text-align: left;
  vertical-align: middle;
}
th {
  min-width: 11.5rem;
  font-weight: 400;
}
.roll {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
  text-decoration: none;
}
.roll .tag {
  font-size: var(--type-large);
}
small {
  display: block;
  font-size: var(--type-note);
  color: var(--ink-soft);
}
td svg {
  display: block;
}
.end {
  min-width: 11rem;
}
.end p {
  padding-bottom: var(--space-1);
  font-weight: 700;
}
.where {
  display: none;
}
.under-water th,
.under-water td {
  padding-left: var(--space-2);
}
@media (--phone) {
  tr {
    display: grid;
    grid-template-columns: 1fr auto;
  }
  .where {
    display: block;
  }
  .end {
    grid-column: 1 / -1;
  }
  .end:empty {
    display: none;
  }
}
</style>
