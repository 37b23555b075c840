<script setup lang="ts">
import { computed } from 'vue'
import { useCancelRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** A check of a copy, or bringing it what it lacks: how far it is, and a way to stop it. */
const props = defineProps<{ work: Shapes['WorkOut'] }>()
const { whyNot } = useWho()
const isCheck = computed(() => props.work.kind === 'check')
const words = computed(() => {
  const { state, run_id } = props.work
  if (state === 'waiting')
    return isCheck.value ? t('workUnderWay.waitsToBeChecked') : t('workUnderWay.waitsToBeBroughtWhat')
  if (state === 'paused') return t('workUnderWay.paused')
  if (state === 'stopping') return t('workUnderWay.stopping')
  const now = runProgress.get(run_id)
  if (!now?.total)
    return isCheck.value ? t('workUnderWay.beingChecked') : t('workUnderWay.beingBroughtWhatItLacks')
  const done = isCheck.value ? now.read : (now.stores[0]?.verified ?? 0)
  return t(isCheck.value ? 'workUnderWay.read' : 'workUnderWay.readBack', {
    percent: Math.floor((100 * done) / now.total),
  })
})
const cancel = useCancelRun()
</script>

<template>
  <span class="under-way" :data-work="work.store">
    <span role="status">{{ words }}</span>
    <ActButton
      type="button"
      class="quiet small"
      :label="
        isCheck
          ? t('workUnderWay.stopChecking', { store: work.store })
          : t('workUnderWay.stopBringingItTo', { store: work.store })
      "
      :why-not="whyNot('offload')"
      :busy="work.state === 'stopping'"
      @press="cancel.mutate(work.run_id)"
    />
    <SaidNo :error="cancel.error.value" />
  </span>
</template>

<style scoped>
.under-way {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
}
</style>
