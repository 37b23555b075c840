<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { number, t } from '../../words/say'
import { shortDay } from '../../words/times'
import MaterialCells from './MaterialCells.vue'
import MaterialHeads from './MaterialHeads.vue'

/** A day beside the others. */
defineProps<{ days: readonly Shapes['DayFigures'][]; day: string }>()
</script>

<template>
  <section class="chapter" data-beside>
    <h2>{{ t('days.beside') }}</h2>
    <div class="figures-box" tabindex="0">
      <table class="figures">
        <thead>
          <tr>
            <th scope="col">{{ t('days.dayHead') }}</th>
            <MaterialHeads />
            <th scope="col" class="number">{{ t('days.unsafe') }}</th>
            <th scope="col" class="number">{{ t('days.troubles') }}</th>
            <th scope="col" class="number">{{ t('days.clearances') }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in days" :key="one.day" :class="{ this: one.day === day }">
            <th scope="row">
              <RouterLink :to="`/days/${one.day}`"
                >{{ t('days.day', { number: one.number }) }}, {{ shortDay(one.day) }}</RouterLink
              >
            </th>
            <td class="number">{{ number(one.rolls) }}</td>
            <MaterialCells :material="one.material" />
            <td class="number">{{ number(one.unsafe) }}</td>
            <td class="number">{{ number(one.troubles) }}</td>
            <td class="number">{{ number(one.clearances) }}</td>
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.this {
  font-weight: 700;
}
.this th {
  padding-left: var(--space-3);
  box-shadow: inset var(--line-bar) 0 0 var(--ink);
}
</style>
