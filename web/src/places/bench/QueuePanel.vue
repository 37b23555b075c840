<script setup lang="ts">
import { computed } from 'vue'
import { useOrderRuns, usePauseRun, useResumeRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { useQueue } from '../../api/queries/useQueue'
import PennantMark from '../../marks/PennantMark.vue'
import { useWho } from '../../shell/me'
import { roughly } from '../../words/times'
import { listed, t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** The cards that run or wait, in their order, and when each will be free. */
const { whyNot } = useWho()
const asked = useQueue()
const queues = computed(() => (asked.data.value ?? []).filter((queue) => queue.runs.length > 0))
const waiting = (queue: Shapes['QueueOut']) => queue.runs.filter((run) => !run.running && !run.paused)
const movable = (queue: Shapes['QueueOut']) => queue.runs.filter((run) => !run.running)

const order = useOrderRuns()
const pause = usePauseRun()
const resume = useResumeRun()

function up(queue: Shapes['QueueOut'], id: number) {
  const ids = movable(queue).map((run) => run.id)
  const at = ids.indexOf(id)
  const before = ids[at - 1]
  if (before === undefined) return
  ids[at - 1] = id
  ids[at] = before
  order.mutate({ station: queue.station, ids })
}
function how(run: Shapes['QueuedOut']) {
  if (run.running) return t('queuePanel.running')
  if (run.paused) return ''
  return run.waits_for.length
    ? t('queuePanel.waitsFor', { stores: listed(run.waits_for) })
    : t('queuePanel.waits')
}
const words = (run: Shapes['QueuedOut']) =>
  run.paused
    ? t('queuePanel.paused')
    : run.free_in_s === null
      ? ''
      : t('queuePanel.freeIn', { time: roughly(run.free_in_s) })
const refusal = computed(() => order.error.value ?? pause.error.value ?? resume.error.value)
</script>

<template>
  <section
    v-for="queue in queues"
    :key="queue.station"
    class="queue"
    :aria-label="t('queuePanel.cardsUnderWay')"
    data-queue
  >
    <h2>{{ t('queuePanel.cardsUnderWay') }}</h2>
    <ol>
      <li
        v-for="(run, place) in queue.runs"
        :key="run.id"
        :data-queued="run.tag"
        :data-running="run.running"
        :class="{ running: run.running }"
      >
        <PennantMark v-if="run.camera" :letter="run.camera.letter" :size="24" /><span v-else></span>
        <span class="tag">{{ run.camera ? run.tag : t('queuePanel.ofAnother') }}</span>
        <span class="soft" data-how>{{ run.label }}{{ how(run) }}</span>
        <span class="free" data-free>{{ words(run) }}</span>
        <span v-if="run.camera" class="acts">
          <ActButton
            v-if="!run.running && place > 0 && !queue.runs[place - 1]?.running"
            type="button"
            class="quiet small"
            :label="t('queuePanel.sooner', { tag: run.tag })"
            data-sooner
            :why-not="whyNot('offload')"
            @press="up(queue, run.id)"
          />
          <ActButton
            type="button"
            class="quiet small"
            :label="run.paused ? t('queuePanel.goOn') : t('queuePanel.pause')"
            data-pause
            :why-not="whyNot('offload')"
            :busy="run.cancelling"
            @press="(run.paused ? resume : pause).mutate(run.id)"
          />
        </span>
      </li>
    </ol>
    <p v-if="queue.best.length && waiting(queue).length > 1">
      {{ t('queuePanel.anotherOrderGivesCamerasTheir') }}
      <ActButton
        type="button"
        class="quiet small"
        :label="t('queuePanel.useIt')"
        data-better
        :why-not="whyNot('offload')"
        @press="
          order.mutate({
            station: queue.station,
            ids: [
              ...queue.best,
              ...movable(queue)
                .filter((run) => run.paused)
                .map((run) => run.id),
            ],
          })
        "
      />
    </p>
    <SaidNo :error="refusal" />
  </section>
</template>

<style scoped>
.queue {
  margin-top: var(--space-2);
  padding: var(--space-2) var(--space-3);
  border-left: var(--line-bar) solid var(--ink);
}
ol {
  display: grid;
  gap: var(--space-half);
}
li {
  display: grid;
  grid-template-columns: 2.5rem 7rem minmax(10.5rem, 23rem) 1fr auto;
  gap: var(--space-3);
  align-items: center;
  min-height: 2.25rem;
}
.tag {
  font-size: var(--type-head);
}
.acts {
  display: flex;
  gap: var(--space-2);
}
@media (--upright) {
  li {
    grid-template-columns: 2.5rem auto 1fr;
  }
}
</style>
