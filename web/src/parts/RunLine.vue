<script setup lang="ts">
import { computed } from 'vue'
import { useCancelRun } from '../api/acts/runs'
import type { Shapes } from '../api/client'
import { runProgress } from '../api/live'
import ActButton from './ActButton.vue'
import SaidNo from './SaidNo.vue'
import { useWho } from '../shell/me'
import { number, t } from '../words/say'
import { age, roughly } from '../words/times'

/** A run that somebody asked for: how far it is, or what came of it, and in its slot what to do then. */
interface Line {
  run: number
  tag: string
  folder?: string
  by: string
  asked_at: string
  state: Shapes['RunState']
  outcome: string
}
const props = defineProps<{ line: Line; what?: string }>()
const { whyNot } = useWho()
const cancel = useCancelRun()
const STATES: Partial<Record<Shapes['RunState'], string>> = {
  waiting: t('returns.waiting'),
  paused: t('returns.paused'),
  running: t('returns.running'),
  stopping: t('returns.ending'),
}
/** As its station says now. */
const progress = computed(() => {
  const now = runProgress.get(props.line.run)
  if (!now?.total) return ''
  const share = t('making.share', { percent: number(Math.floor((100 * now.read) / now.total)) })
  return now.left_s == null ? share : `${share}, ${t('making.left', { time: roughly(now.left_s) })}`
})
</script>

<template>
  <p class="run" :data-run-of="line.tag">
    <RouterLink class="tag" :to="`/tally/${encodeURIComponent(line.tag)}`">{{ line.tag }}</RouterLink>
    <span>
      <template v-if="!line.outcome"
        ><template v-if="line.folder"
          >{{ what }} → <code>{{ line.folder }}</code>: </template
        >{{ STATES[line.state] }} <span v-if="progress" data-progress>{{ progress }}</span></template
      ><span v-else data-outcome>{{ line.outcome }}</span
      >{{ ' ' }}<span class="soft">{{ t('returns.askedBy', { by: line.by, age: age(line.asked_at) }) }}</span>
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
    <slot v-else />
    <SaidNo :error="cancel.error.value" />
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
.run span {
  overflow-wrap: anywhere;
}
</style>
