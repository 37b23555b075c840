<script setup lang="ts">
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import RaftMark from '../../marks/RaftMark.vue'
import { t } from '../../words/say'
import LaterSign from './LaterSign.vue'
import MaterialCells from './MaterialCells.vue'

/** The rolls of a day, each with its raft, and what of it was otherwise at the hand-over. */
defineProps<{ rolls: readonly Shapes['DayRoll'][] }>()
const STATES: Record<Shapes['RollState'], string> = {
  safe: t('days.safe'),
  short: t('days.short'),
  'below the line': t('days.below'),
}
const planks = (roll: Shapes['DayRoll']) =>
  roll.copies.map((copy) => ({ store: copy.store, state: copy.state, same_device: false }))
</script>

<template>
  <section class="chapter" data-rolls>
    <h2>{{ t('days.rolls') }}</h2>
    <p v-if="!rolls.length">{{ t('days.noRolls') }}</p>
    <div v-else class="figures-box" tabindex="0">
      <table class="figures">
        <tbody>
          <tr v-for="roll in rolls" :key="roll.tag" :data-day-roll="roll.tag" :data-state="roll.state">
            <th scope="row">
              <RouterLink :to="`/tally/${roll.tag}`" class="roll"
                ><PennantMark :letter="roll.camera" :size="24" /><span class="tag">{{
                  roll.tag
                }}</span></RouterLink
              >
              <LaterSign v-if="roll.later" />
            </th>
            <td class="soft">{{ roll.card }}</td>
            <td>
              <RaftMark :planks="planks(roll)" :needed="0" :met="roll.state === 'safe'" :size="44" />
            </td>
            <MaterialCells :material="roll.material" />
            <td class="stands">
              <strong>{{ STATES[roll.state] }}</strong><template v-if="roll.why">: {{ roll.why }}</template>
              <small v-if="roll.was" data-was>{{ t('days.was', { was: roll.was }) }}</small>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.roll {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
  text-decoration: none;
}
.stands {
  min-width: 12rem;
}
svg {
  display: block;
}
</style>
