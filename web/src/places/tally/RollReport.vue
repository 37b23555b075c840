<script setup lang="ts">
import { useReportOn } from '../../api/queries/useCameraReports'
import { t } from '../../words/say'
import { age } from '../../words/times'

/** What the camera crew wrote of a roll, and what of it does not agree with what the roll holds. */
const props = defineProps<{ tag: string }>()
const report = useReportOn(() => props.tag)
</script>

<template>
  <section v-if="report.data.value" class="chapter" data-roll-report>
    <h2>{{ t('reports.ofRoll') }}</h2>
    <p class="soft">
      {{ report.data.value.name }},
      {{ t('reports.from', { by: report.data.value.by, age: age(report.data.value.at) }) }}
      <RouterLink to="/reports">{{ t('reports.title') }}</RouterLink>
    </p>
    <ul>
      <li v-for="one in report.data.value.mismatches" :key="one.sentence" class="differ" data-mismatch>
        {{ one.sentence }}
      </li>
    </ul>
    <div class="figures-box" tabindex="0">
      <table class="figures">
        <thead>
          <tr>
            <th scope="col">{{ t('reports.clip') }}</th>
            <th scope="col">{{ t('reports.scene') }}</th>
            <th scope="col">{{ t('reports.take') }}</th>
            <th scope="col">{{ t('reports.remark') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="line in report.data.value.lines" :key="line.line" :data-reported="line.clip">
            <th scope="row">{{ line.path.split('/').at(-1) || line.clip }}</th>
            <td>{{ line.scene }}</td>
            <td>{{ line.take }}</td>
            <td>{{ line.remark }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.differ {
  padding: var(--space-1h) 0 var(--space-1h) var(--space-3);
  box-shadow: inset var(--line-bar) 0 0 var(--care);
}
</style>
