<script setup lang="ts">
import { computed } from 'vue'
import { useBringRoll } from '../../api/acts/copies'
import { useCancelRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import { age, roughly } from '../../words/times'

/** Room that is or was made: how far it is, or what came of it, and the way back. */
const props = defineProps<{ line: Shapes['RoomRunOut']; store: string }>()
const { whyNot } = useWho()
const cancel = useCancelRun()
const bring = useBringRoll()
const STATES: Partial<Record<Shapes['RunState'], string>> = {
  waiting: t('returns.waiting'),
  paused: t('returns.paused'),
  running: t('returns.running'),
  stopping: t('returns.ending'),
}
const progress = computed(() => {
  const now = runProgress.get(props.line.run)
  if (!now?.total) return ''
  const share = t('making.share', { percent: number(Math.floor((100 * now.read) / now.total)) })
  return now.left_s == null ? share : `${share}, ${t('making.left', { time: roughly(now.left_s) })}`
})
</script>

<template>
  <p class="run" :data-room-run="line.tag">
    <RouterLink class="tag" :to="`/tally/${encodeURIComponent(line.tag)}`">{{ line.tag }}</RouterLink>
    <span>
      <template v-if="!line.outcome">{{ STATES[line.state] }} {{ progress }}</template>
      <span v-else data-outcome>{{ line.outcome }}</span>{{ ' '
      }}<span class="soft">{{ t('returns.askedBy', { by: line.by, age: age(line.asked_at) }) }}</span>
    </span>
    <ActButton
      v-if="!line.outcome"
      type="button"
      link
      :label="t('returns.cancel')"
      :why-not="whyNot('offload')"
      :busy="cancel.isPending.value || line.state === 'stopping'"
      @press="cancel.mutate(line.run)"
    />
    <ActButton
      v-else-if="line.off"
      type="button"
      link
      :label="t('makeRoom.back')"
      :why-not="whyNot('offload')"
      :busy="bring.isPending.value"
      :data-back="line.tag"
      @press="bring.mutate({ roll: line.roll, store })"
    />
    <SaidNo :error="cancel.error.value ?? bring.error.value" />
  </p>
</template>

<style scoped>
.run {
  display: grid;
  grid-template-columns: 5rem minmax(0, 1fr) auto;
  gap: var(--space-3);
  align-items: baseline;
  margin: 0;
  padding: var(--space-1h) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
</style>
