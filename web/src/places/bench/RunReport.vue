<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import RaftMark from '../../marks/RaftMark.vue'
import { age, lasting, roughly } from '../../words/times'
import { bytes, counted } from '../../words/units'
import { t } from '../../words/say'

/** How the card's last run ended: what is safe, what is not, and how to go on. */
const props = defineProps<{ run: Shapes['OffloadOut']; label: string }>()
/** Green only if the run ended well and every copy counts at this moment. */
const well = computed(
  () => props.run.state === 'well' && props.run.stores.every((store) => store.state === 'verified'),
)
const heading = computed(() => {
  if (well.value) return props.run.sentence
  if (props.run.state === 'cancelled')
    return t('runReport.theRunWasStopped', { sentence: props.run.sentence })
  if (props.run.state === 'broke off') return t('runReport.theRunBrokeOff', { sentence: props.run.sentence })
  return t('runReport.theRunEndedWithTrouble', { sentence: props.run.sentence })
})
const took = computed(() => {
  const { started_at, finished_at, estimated_s } = props.run
  if (!started_at || !finished_at) return ''
  const seconds = (Date.parse(finished_at) - Date.parse(started_at)) / 1000
  const guess = estimated_s ? t('runReport.expected', { time: roughly(estimated_s) }) : ''
  return t('runReport.itTook', { time: lasting(Math.max(1, seconds)), guess })
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
        {{
          t('runReport.readOffTheCardStarted', {
            files: counted(run.read_files, 'file'),
            bytes: bytes(run.read_bytes),
            age: run.finished_at ? age(run.finished_at) : '',
            person: run.person,
          })
        }}
        {{ took }}
      </p>
      <template v-if="!well">
        <p>
          {{ t('runReport.nothingWasOverwrittenWhetherMay', { label }) }}
        </p>
        <ul>
          <li v-for="(finding, index) in run.findings" :key="index">
            <code v-if="finding.path">{{ finding.path }}</code>
            <template v-if="finding.files > 1"
              >{{ ' ' }}{{ t('runReport.and', { files: counted(finding.files - 1, 'otherFile') }) }}
            </template>
            {{ finding.store ? t('runReport.on', { store: finding.store }) : t('runReport.onTheCard') }}
            {{ finding.reason }}
          </li>
          <li v-if="run.findings_untold">{{ t('runReport.andMore', { more: run.findings_untold }) }}</li>
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
