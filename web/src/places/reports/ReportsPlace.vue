<script setup lang="ts">
import { useWithdrawReport } from '../../api/acts/cameraReports'
import type { Shapes } from '../../api/client'
import { useCameraReports } from '../../api/queries/useCameraReports'
import ActButton from '../../parts/ActButton.vue'
import LastKnown from '../../parts/LastKnown.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { listed, number, t } from '../../words/say'
import { age } from '../../words/times'
import TakeInReport from './TakeInReport.vue'

/** What camera crews wrote, held against the rolls: what one has and the other has not is named. */
const { whyNot } = useWho()
const reports = useCameraReports()
const withdraw = useWithdrawReport()
const standing = (one: Shapes['ReportOut']) =>
  [
    one.lines ? t('reports.fit', { fit: number(one.fit), lines: number(one.lines) }) : t('reports.newer'),
    one.rolls.length ? t('reports.rolls', { rolls: listed(one.rolls) }) : '',
  ].join(' ')
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/tally">{{ t('places.tally') }}</RouterLink>
    </p>
    <h1>{{ t('reports.title') }}</h1>
    <TakeInReport />
    <LastKnown
      :error="reports.error.value"
      :known="Boolean(reports.data.value)"
      :updated-at="reports.dataUpdatedAt.value"
    >
      <p v-if="!reports.data.value?.length" data-no-report>{{ t('reports.none') }}</p>
      <section v-for="one in reports.data.value" :key="one.id" class="chapter" :data-report="one.name">
        <h2>{{ one.name }}</h2>
        <p class="soft">
          {{ t('reports.from', { by: one.by, age: age(one.at) }) }}
          {{ standing(one) }}
          <ActButton
            type="button"
            link
            :label="t('reports.withdraw')"
            :why-not="whyNot('note')"
            :data-withdraw="one.name"
            @press="withdraw.mutate(one.id)"
          />
        </p>
        <p v-if="one.lines && !one.mismatches.length" data-agrees>{{ t('reports.agrees') }}</p>
        <ul v-else class="differ">
          <li v-for="differ in one.mismatches" :key="`${differ.line}${differ.sentence}`" data-mismatch>
            {{ differ.sentence }}
            <RouterLink v-if="one.rolls.includes(differ.roll)" :to="`/tally/${differ.roll}`" class="tag">{{
              differ.roll
            }}</RouterLink>
          </li>
        </ul>
      </section>
      <SaidNo :error="withdraw.error.value" />
    </LastKnown>
  </main>
</template>

<style scoped>
h1 {
  font: 700 var(--type-large)/1.2 var(--tag);
}
.differ li {
  padding: var(--space-1h) 0 var(--space-1h) var(--space-3);
  border-bottom: var(--line-hair) solid var(--hair);
  box-shadow: inset var(--line-bar) 0 0 var(--care);
}
</style>
