<script setup lang="ts">
import { computed } from 'vue'
import { useReceive, useWithdraw } from '../../api/acts/deliveries'
import type { Shapes } from '../../api/client'
import { HERE } from '../../api/here'
import { useWaterline } from '../../api/queries/useWaterline'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import SayIt from '../../parts/SayIt.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import { age, dayAndClock } from '../../words/times'
import { bytes, counted } from '../../words/units'
import PapersOnDrive from './PapersOnDrive.vue'

/** One delivery: what of it went out, who has it, and what may still be done. */
const props = defineProps<{ one: Shapes['ConsignmentOut'] }>()
const { whyNot } = useWho()
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const withdraw = useWithdraw()
const receive = useReceive()
const link = computed(() => {
  const { one } = props
  if (!one.link_until) return ''
  if (one.open) return t('deliveries.opensUntil', { at: dayAndClock(one.link_until, zone.value) })
  return t('deliveries.opensNothing')
})
const account = (edition: number) =>
  `/api/productions/${encodeURIComponent(HERE)}/accounts/editions/${edition}/account.csv`
</script>

<template>
  <li :data-delivery="one.to">
    <p class="line">
      <strong>{{ one.to }}</strong>
      <span class="soft">{{
        t('deliveries.by', { way: one.way, by: one.by, at: dayAndClock(one.at, zone), age: age(one.at) })
      }}</span>
    </p>
    <p class="line">
      <span v-for="roll in one.rolls" :key="roll.tag">
        <RouterLink class="tag" :to="`/tally/${roll.tag}`">{{ roll.tag }}</RouterLink>
        {{ roll.chosen ? t('deliveries.chosen') : '' }}
        <a :href="account(roll.edition)" download>{{ t('deliveries.account') }}</a>
      </span>
      <span>{{ counted(one.files, 'file') }}, {{ bytes(one.bytes) }}</span>
      <span v-if="one.way === 'link'" data-went-out>{{
        t('deliveries.wentOut', { fetched: number(one.fetched), files: number(one.files) })
      }}</span>
      <span v-if="link" :class="{ soft: !one.open }" data-link>{{ link }}</span>
    </p>
    <p v-for="receipt in one.receipts" :key="receipt.at" data-receipt>
      {{
        t(receipt.checked ? 'deliveries.receivedAndChecked' : 'deliveries.received', {
          name: receipt.name,
          at: dayAndClock(receipt.at, zone),
        })
      }}
      <span class="soft">{{
        receipt.by ? t('deliveries.notedBy', { by: receipt.by }) : t('deliveries.onThePage')
      }}</span>
    </p>
    <p v-if="one.withdrawn_at" class="soft" data-withdrawn>
      {{ t('deliveries.withdrawn', { at: dayAndClock(one.withdrawn_at, zone) }) }}
    </p>
    <p v-else class="line">
      <SayIt
        v-if="!one.receipts.length"
        name="receive"
        :act="t('deliveries.itArrived')"
        :ask="t('deliveries.whoHasIt')"
        :go="t('deliveries.hasIt')"
        :why-not="whyNot('deliver')"
        :busy="receive.isPending.value"
        :error="receive.error.value"
        @say="(name, done) => receive.mutate({ id: one.id, name, checked: false }, { onSuccess: done })"
      />
      <ActButton
        v-if="one.open || !one.receipts.length"
        link
        :label="one.open ? t('deliveries.revoke') : t('deliveries.takeBack')"
        :why-not="whyNot('deliver')"
        :busy="withdraw.isPending.value"
        data-withdraw
        @press="withdraw.mutate(one.id)"
      />
    </p>
    <PapersOnDrive v-if="one.way === 'drive' && !one.withdrawn_at" :delivery="one.id" />
    <SaidNo :error="withdraw.error.value" />
  </li>
</template>

<style scoped>
li {
  padding: var(--space-3) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.line {
  align-items: baseline;
}
li a {
  display: inline-block;
  min-height: 1.75rem;
  padding-inline: var(--space-1);
}
</style>
