<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import PlankMark from '../../marks/PlankMark.vue'
import RaftMark from '../../marks/RaftMark.vue'
import { age } from '../../words/times'
import { bytes, counted, exactBytes } from '../../words/units'

/** One roll: its raft, and one mark a store. */
const props = defineProps<{ roll: Shapes['RollOut']; stores: Shapes['StoreColumn'][] }>()
const cells = computed(() =>
  props.stores.map(({ name }) => ({
    store: name,
    plank: props.roll.planks.find((plank) => plank.store === name),
  })),
)
const standing = computed(() => {
  if (props.roll.state === 'below the line') return 'below the line'
  if (props.roll.state === 'short')
    return 'short: ' + props.roll.blocks.map((block) => block.sentence).join(', ')
  return props.roll.cleared ? 'card cleared' : `+ card ${props.roll.card}`
})
const account = computed(() =>
  [
    props.roll.waived && `${counted(props.roll.waived, 'file')} waived`,
    props.roll.left && `${counted(props.roll.left, 'file')} left on the card`,
  ]
    .filter(Boolean)
    .join(', '),
)
const since = (plank: Shapes['PlankOut']) => (plank.read_at ? age(plank.read_at) : '')
const lacking = (plank: Shapes['PlankOut']) =>
  plank.broken_files
    ? `${counted(plank.broken_files, 'file')} damaged or gone`
    : `${plank.files.toLocaleString('en')} of ${counted(plank.files + plank.missing_files, 'file')}`
</script>

<template>
  <tr :data-roll="roll.tag" :data-state="roll.state" :class="{ below: roll.state === 'below the line' }">
    <th scope="row">
      <RouterLink :to="`/tally/${roll.tag}`" class="roll">
        <PennantMark :letter="roll.camera.letter" :size="28" /><span class="tag">{{ roll.tag }}</span>
      </RouterLink>
      <small :title="exactBytes(roll.bytes)"
        >{{ roll.shoot_day }} · {{ counted(roll.files, 'file') }}, {{ bytes(roll.bytes) }}</small
      >
      <small class="standing">{{ standing }}</small>
      <small v-if="account" data-account>{{ account }}</small>
      <small class="where">on {{ roll.planks.map((plank) => plank.store).join(', ') }}</small>
    </th>
    <td>
      <RaftMark :planks="roll.planks" :needed="roll.needed_copies" :met="roll.state === 'safe'" :size="64" />
    </td>
    <td v-for="cell in cells" :key="cell.store" class="store">
      <template v-if="cell.plank">
        <PlankMark :state="cell.plank.state" :half="cell.plank.same_device" :size="20" />
        <small v-if="cell.plank.files">{{ cell.plank.level }} {{ since(cell.plank) }}</small>
        <small v-else-if="cell.plank.state === 'wanted'">nothing there yet</small>
        <small v-if="cell.plank.state === 'broken' || cell.plank.state === 'partial'" class="short">{{
          lacking(cell.plank)
        }}</small>
      </template>
      <span v-else class="none" aria-hidden="true">·</span>
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
  white-space: nowrap;
}
.standing {
  font-weight: 700;
  color: var(--ink);
}
.below .standing {
  color: var(--trouble);
}
td svg {
  display: block;
}
.short {
  font-weight: 700;
}
.where {
  display: none;
}
@media (--phone) {
  .store {
    display: none;
  }
  .where {
    display: block;
  }
  small {
    white-space: normal;
  }
}
.none {
  color: var(--ink-soft);
}
</style>
