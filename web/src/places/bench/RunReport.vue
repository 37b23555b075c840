<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import RaftMark from '../../marks/RaftMark.vue'
import { age, lasting, roughly } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** How the card's last run ended: what is safe, what is not, and how to go on. */
const props = defineProps<{ run: Shapes['OffloadOut']; label: string }>()
/** Green only if the run ended well and every copy counts at this moment. */
const well = computed(
  () => props.run.state === 'well' && props.run.stores.every((store) => store.state === 'verified'),
)
const heading = computed(() => {
  if (well.value) return props.run.sentence
  if (props.run.state === 'cancelled') return `The run was stopped. ${props.run.sentence}`
  if (props.run.state === 'broke off') return `The run broke off. ${props.run.sentence}`
  return `The run ended with trouble. ${props.run.sentence}`
})
const took = computed(() => {
  const { started_at, finished_at, estimated_s } = props.run
  if (!started_at || !finished_at) return ''
  const seconds = (Date.parse(finished_at) - Date.parse(started_at)) / 1000
  const guess = estimated_s ? `, ${roughly(estimated_s)} ${estimated_s < 10 ? 'were' : 'was'} expected` : ''
  return ` It took ${lasting(Math.max(1, seconds))}${guess}.`
})
const planks = computed(() =>
  props.run.stores.map((store) => ({
    store: store.store,
    state: store.state,
    same_device: false,
  })),
)
</script>

<template>
  <section class="report" :class="{ well }" :data-outcome="well ? 'well' : 'trouble'" aria-live="polite">
    <RaftMark :planks="planks" :needed="run.stores.length" :met="well" :size="96" />
    <div>
      <h3 data-run-sentence>{{ heading }}</h3>
      <p>
        {{ counted(run.read_files, 'file') }}, {{ bytes(run.read_bytes) }} read off the card,
        {{ run.finished_at ? age(run.finished_at) : '' }}, started by {{ run.person }}.{{ took }}
      </p>
      <template v-if="!well">
        <p>
          Nothing was overwritten. Whether {{ label }} may go is said in Clearing; offload again, and only
          what is missing is written.
        </p>
        <ul>
          <li v-for="(finding, index) in run.findings" :key="index">
            <code v-if="finding.path">{{ finding.path }}</code>
            <template v-if="finding.files > 1"> and {{ counted(finding.files - 1, 'other file') }} </template>
            {{ finding.store ? `on ${finding.store}:` : 'on the card:' }}
            {{ finding.reason }}
          </li>
          <li v-if="run.findings_untold">and {{ run.findings_untold }} more.</li>
        </ul>
      </template>
    </div>
  </section>
</template>

<style scoped>
.report {
  display: flex;
  gap: var(--space-5);
  align-items: start;
  margin-top: var(--space-4);
  padding: var(--space-4) var(--space-4);
  border: var(--line) solid var(--trouble);
}
.report.well {
  border-color: var(--safe);
}
h3 {
  font-size: var(--type-title);
  margin-bottom: var(--space-1);
}
ul {
  margin-top: var(--space-2);
}
</style>
