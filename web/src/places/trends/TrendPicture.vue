<script setup lang="ts">
import type { EChartsCoreOption } from 'echarts/core'
import ChartBox from '../../parts/ChartBox.vue'
import type { Looks } from '../../parts/chartLooks'
import { t } from '../../words/say'

/** A question, its answer in a sentence, the picture, and the figures that it is drawn from. */
defineProps<{
  asks: string
  answer: string
  alarm?: boolean
  note: string
  high: number
  option: (of: Looks) => EChartsCoreOption
  heads: readonly string[]
  rows: readonly (readonly string[])[]
}>()
</script>

<template>
  <section class="chapter">
    <h2>{{ asks }}</h2>
    <p :class="{ alarm }" data-answer>{{ answer }}</p>
    <ChartBox :answer="answer" :high="high" :option="option" />
    <p class="soft">{{ note }}</p>
    <details>
      <summary>{{ t('trends.figures') }}</summary>
      <div class="figures-box" tabindex="0">
        <table class="figures">
          <thead>
            <tr>
              <th v-for="head in heads" :key="head" scope="col">{{ head }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.join('/')">
              <td v-for="(cell, n) in row" :key="n">{{ cell }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </details>
  </section>
</template>

<style scoped>
.alarm {
  color: var(--trouble);
  font-weight: 700;
}
p {
  margin: var(--space-1) 0;
}
</style>
