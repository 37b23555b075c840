<script setup lang="ts">
import { computed, ref } from 'vue'
import { useTicket, useTurnAway } from '../../api/acts/stations'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import ReadersTable from './ReadersTable.vue'
import { age } from '../../words/times'

/** The machines with readers and drives, and how one more joins. */
defineProps<{ stations: readonly Shapes['StationOut'][] }>()
const { whyNot } = useWho()
const make = useTicket()
const turn = useTurnAway()
const told = ref<Shapes['TicketOut']>()
const command = computed(
  () => `./raft station NAME --join https://${location.host} ${told.value?.ticket ?? ''}`,
)
const refusal = computed(() => make.error.value ?? turn.error.value)
const WRONG_S = 2
const since = (one: Shapes['StationOut']) =>
  one.seen_at ? t('stationsTable.lastSeen', { age: age(one.seen_at) }) : t('stationsTable.neverSeen')
const standing = (one: Shapes['StationOut']) =>
  one.turned_away
    ? t('stationsTable.turnedAway')
    : one.running
      ? t('stationsTable.running')
      : `${t('stationsTable.away')} ${since(one)}`
const off = (one: Shapes['StationOut']) => {
  const minutes = number(Math.round(Math.abs(one.clock_off_s) / 6) / 10)
  return one.clock_off_s > 0
    ? t('stationsTable.clockAhead', { minutes })
    : t('stationsTable.clockBehind', { minutes })
}
</script>

<template>
  <ul class="rows">
    <li v-for="one in stations" :key="one.name" :data-station="one.name">
      <span class="tag">{{ one.name }}</span>
      <span>
        <span :class="{ trouble: !one.running && !one.turned_away }">{{ standing(one) }}</span>
        <span class="soft">{{
          ' ' +
          (one.joined
            ? t('stationsTable.joinedFrom', { address: one.joined_from })
            : t('stationsTable.serversOwn'))
        }}</span>
        <span v-if="Math.abs(one.clock_off_s) > WRONG_S" class="trouble"> {{ off(one) }}</span>
      </span>
      <ActButton
        v-if="one.joined && !one.turned_away"
        type="button"
        link
        :label="t('stationsTable.turnAway', { name: one.name })"
        :why-not="whyNot('set_up')"
        :data-turn-away="one.name"
        @press="turn.mutate(one.name)"
      />
    </li>
  </ul>
  <p class="more">
    <ActButton
      type="button"
      class="quiet small"
      :label="t('stationsTable.letOneIn')"
      :why-not="whyNot('set_up')"
      :busy="make.isPending.value"
      data-make-ticket
      @press="make.mutate(undefined, { onSuccess: (ticket) => (told = ticket) })"
    />
  </p>
  <p v-if="told" class="told" role="status" data-ticket>
    {{ t('stationsTable.howToJoin', { minutes: told.minutes }) }}
    <code>{{ command }}</code>
  </p>
  <SaidNo :error="refusal" />
  <ReadersTable :stations="stations" />
</template>

<style scoped>
ul {
  --columns: 12rem 1fr auto;
}
.more {
  margin-top: var(--space-3);
}
</style>
