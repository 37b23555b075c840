<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import { useAcknowledgePull } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { WORDS } from '../../words/verdicts'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** A card left this slot in the middle of its offload: said until somebody knows, or it is put back. */
defineProps<{ pulled: Shapes['PulledOut']; slotName: string }>()
const { whyNot } = useWho()
const acknowledge = useAcknowledgePull()
</script>

<template>
  <div class="pulled" role="alert" :data-slot="slotName" :data-pulled="pulled.label">
    <p class="verdict">{{ WORDS.pulled }}</p>
    <p>
      <I18nT keypath="pulledCard.leftInTheMiddleOf" scope="global">
        <template #label
          ><strong>{{ pulled.label }}</strong></template
        >
        <template #roll
          ><RouterLink :to="`/tally/${pulled.tag}`">{{ pulled.tag }}</RouterLink></template
        >
      </I18nT>
    </p>
    <ActButton
      type="button"
      class="quiet small"
      :label="t('pulledCard.iKnow')"
      data-acknowledge
      :why-not="whyNot('offload')"
      :busy="acknowledge.isPending.value"
      @press="acknowledge.mutate(pulled.offload_id)"
    />
    <SaidNo :error="acknowledge.error.value" />
  </div>
</template>

<style scoped>
.pulled {
  display: grid;
  gap: var(--space-2);
  align-content: start;
  justify-items: start;
  padding: var(--space-3) var(--space-4);
  border: var(--line-bar) solid var(--trouble);
  border-top: 0;
  background: var(--sheet);
}
.verdict {
  padding: 0 var(--space-2);
  background: var(--trouble);
  color: var(--trouble-ink);
  font: 700 var(--type-slot)/1.2 var(--tag);
}
</style>
