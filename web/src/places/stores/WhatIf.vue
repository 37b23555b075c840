<script setup lang="ts">
import { computed } from 'vue'
import { useWhatIf, type Loss } from '../../api/queries/useWhatIf'
import RemedySteps from '../../parts/RemedySteps.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { listed, number, t } from '../../words/say'
import { bytes, counted } from '../../words/units'

/** What would be lost, what would fall below the rule, and what, done now, would make it safe. */
const props = defineProps<{ loss: Loss }>()
const asked = useWhatIf(() => props.loss)
const found = computed(() => asked.data.value)
const fits = computed(() =>
  Object.entries(found.value?.room ?? {})
    .sort(([, one], [, other]) => other - one)
    .map(([name, free]) => t('whatIf.room', { name, free: bytes(free) })),
)
</script>

<template>
  <section aria-live="polite" data-what-if>
    <SaidNo :error="asked.error.value" />
    <template v-if="found && !asked.error.value">
      <h2>{{ t('whatIf.lost', { stores: listed(found.stores) }) }}</h2>
      <p v-if="!found.gone && !found.below" data-nothing>{{ t('whatIf.nothing') }}</p>
      <p v-if="found.gone" class="trouble" data-gone>
        <strong>{{ t('whatIf.gone', { rolls: counted(found.gone, 'roll') }) }}</strong>
      </p>
      <p v-if="found.below" data-below>
        {{ t('whatIf.below', { rolls: counted(found.below, 'roll'), bytes: bytes(found.bytes_to_copy) }) }}
      </p>
      <p v-if="found.gone || found.below" class="soft">
        {{ fits.length ? t('whatIf.roomLeft', { rooms: listed(fits) }) : t('whatIf.noRoom') }}
      </p>
      <ul>
        <li v-for="roll in found.rolls" :key="roll.tag" :data-hurt="roll.tag">
          <RouterLink class="tag" :to="`/tally/${roll.tag}`">{{ roll.tag }}</RouterLink>
          <span>{{ t('whatIf.card', { card: roll.card, bytes: bytes(roll.bytes) }) }}</span>
          <span :class="{ trouble: roll.gone }">{{
            roll.gone ? t('whatIf.wouldBeGone') : t('whatIf.wouldFall')
          }}</span>
          <RemedySteps v-if="roll.remedy.length" :steps="roll.remedy" />
          <span v-else class="soft">{{ t('whatIf.noRemedy') }}</span>
        </li>
      </ul>
      <p v-if="found.gone + found.below > found.rolls.length" class="soft">
        {{ t('whatIf.more', { more: number(found.gone + found.below - found.rolls.length) }) }}
      </p>
    </template>
  </section>
</template>

<style scoped>
section {
  padding: var(--space-3) 0 var(--space-3) var(--space-4);
  border-left: var(--line-bar) solid var(--ink);
}
li {
  display: grid;
  grid-template-columns: 6rem 1fr 1fr 16rem;
  gap: var(--space-1) var(--space-4);
  align-items: center;
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
@media (--tablet) {
  li {
    grid-template-columns: auto 1fr;
  }
}
</style>
