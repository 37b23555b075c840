<script setup lang="ts">
import { useLiftHold } from '../api/acts/clearing'
import type { Shapes } from '../api/client'
import { useWho } from '../shell/me'
import { t } from '../words/say'
import SayIt from './SayIt.vue'

/** What is on hold, by whom, until when; each can be lifted. */
defineProps<{ holds: readonly Shapes['HoldOut'][] }>()
const { me, whyNot } = useWho()
const lift = useLiftHold()
const ENDS = {
  lifted: 'holds.untilLifted',
  date: 'holds.untilDate',
  delivered: 'holds.untilDelivered',
  'second signature': 'holds.untilSecondSignature',
} as const
const when = (hold: Shapes['HoldOut']) =>
  t(ENDS[hold.ends], { moment: hold.until ? new Date(hold.until).toLocaleString('sv-SE').slice(0, 16) : '' })
/** Who would not sign takes that back without the role that lifts holds. */
const off = (hold: Shapes['HoldOut']) =>
  hold.refusal && hold.by === me.name ? undefined : whyNot('lift_hold')
</script>

<template>
  <ul v-if="holds.length" class="holds">
    <li v-for="hold in holds" :key="hold.id" :data-hold="hold.id">
      <span>
        {{
          t(hold.refusal ? 'holds.wouldNotSign' : 'holds.onHold', {
            on: hold.on,
            by: hold.by,
            reason: hold.reason,
          })
        }}
        <span v-if="!hold.refusal" class="soft">{{ when(hold) }}</span>
      </span>
      <SayIt
        name="lift"
        :act="t(hold.refusal ? 'holds.takeBack' : 'holds.lift')"
        :ask="t('holds.whyLifted')"
        :go="t('holds.itIsOver')"
        optional
        :why-not="off(hold)"
        :busy="lift.isPending.value"
        :error="lift.error.value"
        @say="(why, done) => lift.mutate({ hold: hold.id, why }, { onSuccess: done })"
      />
    </li>
  </ul>
</template>

<style scoped>
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-4);
  align-items: baseline;
  padding: var(--space-1) 0 var(--space-1) var(--space-3);
  border-left: var(--line-bar) solid var(--trouble);
}
</style>
