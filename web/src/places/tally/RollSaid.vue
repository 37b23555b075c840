<script setup lang="ts">
import { computed } from 'vue'
import { useSayDelivered, useTakeDeliveryBack } from '../../api/acts/copies'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import HoldForm from '../../parts/HoldForm.vue'
import HoldList from '../../parts/HoldList.vue'
import SaidNo from '../../parts/SaidNo.vue'
import SayIt from '../../parts/SayIt.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import { age } from '../../words/times'
import { counted } from '../../words/units'

/** What is asked of a roll, and what people said of it: held, delivered, looked at. */
const props = defineProps<{ detail: Shapes['RollDetail'] }>()
const { whyNot } = useWho()
const deliver = useSayDelivered()
const back = useTakeDeliveryBack()
const tag = computed(() => props.detail.roll.tag)
const opened = computed(() =>
  t('rollSaid.opened', {
    opened: number(props.detail.opened),
    clips: counted(props.detail.clips, 'clip'),
  }),
)
</script>

<template>
  <p class="soft">
    {{ t('rollSaid.asked', { rule: detail.asked }) }}
    <span v-if="detail.clips" data-opened>{{ opened }}</span>
  </p>
  <p v-if="detail.double_of" data-double>{{ t('rollSaid.doubleOf', { tag: detail.double_of }) }}</p>
  <p v-if="detail.delivered_at" data-delivered>
    {{ t('rollSaid.delivered', { to: detail.delivered_to, age: age(detail.delivered_at) }) }}
    <ActButton
      type="button"
      link
      :label="t('rollSaid.notDelivered')"
      :why-not="whyNot('deliver')"
      :busy="back.isPending.value"
      @press="back.mutate(tag)"
    />
  </p>
  <HoldList :holds="detail.holds" />
  <p class="line">
    <HoldForm on="roll" :name="tag" :words="t('rollSaid.hold', { tag })" />
    <SayIt
      v-if="!detail.delivered_at"
      name="deliver"
      :act="t('rollSaid.wasDelivered', { tag })"
      :ask="t('rollSaid.toWhom')"
      :go="t('rollSaid.hasIt')"
      :why-not="whyNot('deliver')"
      :busy="deliver.isPending.value"
      :error="deliver.error.value"
      @say="(to, done) => deliver.mutate({ tags: [tag], to }, { onSuccess: done })"
    />
  </p>
  <SaidNo :error="back.error.value" />
</template>
