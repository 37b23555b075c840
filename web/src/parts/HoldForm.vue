<script setup lang="ts">
import DatePicker from 'primevue/datepicker'
import { computed, ref } from 'vue'
import { usePlaceHold } from '../api/acts/clearing'
import type { Shapes } from '../api/client'
import { useWho } from '../shell/me'
import { t } from '../words/say'
import ChooseOne from './ChooseOne.vue'
import SayIt from './SayIt.vue'

/** Placing a hold on a roll, a card, or whatever a camera shot; and what ends it beside somebody lifting it. */
const props = defineProps<{ on: Shapes['HoldOn']; name: string; words: string }>()
const { whyNot } = useWho()
const hold = usePlaceHold()
const ends = ref<Shapes['HoldEnd']>('lifted')
const until = ref<Date | null>(null)
const ENDS: { name: string; value: Shapes['HoldEnd'] }[] = [
  { name: t('holds.lifted'), value: 'lifted' },
  { name: t('holds.date'), value: 'date' },
  { name: t('holds.delivered'), value: 'delivered' },
  { name: t('holds.secondSignature'), value: 'second signature' },
]
const body = computed(() => ({
  on: props.on,
  name: props.name,
  ends: ends.value,
  until: ends.value === 'date' && until.value ? until.value.toISOString() : null,
}))
</script>

<template>
  <SayIt
    :name="`hold-${on}`"
    :act="words"
    :ask="t('holds.why')"
    :go="t('holds.hold')"
    :why-not="whyNot('hold')"
    :busy="hold.isPending.value"
    :error="hold.error.value"
    @say="(reason, done) => hold.mutate({ ...body, reason }, { onSuccess: done })"
  >
    <ChooseOne v-model="ends" :label="t('holds.until')" :options="ENDS" />
    <label v-if="ends === 'date'"
      >{{ t('holds.moment') }}
      <DatePicker v-model="until" show-time hour-format="24" date-format="yy-mm-dd" input-class="field"
    /></label>
  </SayIt>
</template>
