<script setup lang="ts">
import { useLetGo } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** Having a reader let go of its card, so that it may be pulled. */
defineProps<{ slotData: Shapes['SlotOut'] }>()
const { whyNot } = useWho()
const letGo = useLetGo()
</script>

<template>
  <p v-if="slotData.card_id && slotData.label" class="line">
    <span v-if="slotData.release_trouble" class="trouble" data-release-trouble>{{
      t('letGo.couldNot', { trouble: slotData.release_trouble })
    }}</span>
    <span v-else-if="slotData.letting_go" role="status" data-letting-go>{{
      t('letGo.goingSoon', { label: slotData.label })
    }}</span>
    <ActButton
      v-else
      type="button"
      link
      :label="t('letGo.letGo', { label: slotData.label })"
      data-let-go
      :why-not="whyNot('read_card')"
      :busy="letGo.isPending.value"
      @press="letGo.mutate(slotData.card_id)"
    />
    <SaidNo :error="letGo.error.value" />
  </p>
</template>
