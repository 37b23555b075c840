<script setup lang="ts">
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import { number, t } from '../../words/say'
import MaterialCells from './MaterialCells.vue'
import MaterialHeads from './MaterialHeads.vue'

/** What each camera shot, and all of them together. */
defineProps<{ account: Shapes['DayAccount'] }>()
</script>

<template>
  <section v-if="account.rolls.length" class="chapter" data-shot>
    <h2>{{ t('days.shot') }}</h2>
    <div class="figures-box" tabindex="0">
      <table class="figures">
        <thead>
          <tr>
            <th scope="col">{{ t('days.camera') }}</th>
            <MaterialHeads />
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in account.cameras" :key="one.letter" :data-camera="one.letter">
            <th scope="row">
              <span class="camera"><PennantMark :letter="one.letter" :size="28" />{{ one.name }}</span>
            </th>
            <td class="number">{{ number(one.rolls) }}</td>
            <MaterialCells :material="one.material" />
          </tr>
          <tr class="all" data-all>
            <th scope="row">{{ t('days.all') }}</th>
            <td class="number">{{ number(account.rolls.length) }}</td>
            <MaterialCells :material="account.material" />
          </tr>
        </tbody>
      </table>
    </div>
  </section>
</template>

<style scoped>
.camera {
  display: inline-flex;
  gap: var(--space-3);
  align-items: center;
}
.all {
  font-weight: 700;
}
</style>
