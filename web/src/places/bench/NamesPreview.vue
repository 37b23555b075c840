<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Shapes } from '../../api/client'
import { counted } from '../../words/units'

/** The names that the files of this very card get, the troubled ones first. */
const props = defineProps<{ names: Shapes['NamesOut']; folder: string; open?: boolean }>()
const all = ref(false)
const renamed = computed(() => props.names.names.some((one) => one.path !== one.kept_as))
const shown = computed(() => props.names.names.slice(0, all.value ? undefined : 6))
</script>

<template>
  <div class="names" data-names>
    <p>
      <code>{{ folder }}/</code>
      <template v-if="!renamed"> the card’s own folders and names.</template>
      <span v-if="names.whole" class="soft">
        {{ counted(names.whole, 'clip') }} keep their names: other files refer to them by name.</span
      >
    </p>
    <p v-if="names.collisions" class="trouble" data-collisions>
      {{ counted(names.collisions, 'name') }} would be given to more than one file.
    </p>
    <p v-if="names.problems" :class="{ trouble: !names.mended }" data-problems>
      {{ counted(names.problems, 'name') }} that a store of this plan cannot hold{{
        names.mended ? ', mended as shown' : ''
      }}.
    </p>
    <table v-if="renamed || names.problems || open">
      <tbody>
        <tr v-for="one in shown" :key="one.path" :class="{ odd: one.trouble }">
          <td>
            <code>{{ one.path }}</code>
          </td>
          <td aria-hidden="true">→</td>
          <td>
            <code data-kept>{{ one.kept_as }}</code>
            <span v-if="one.trouble" class="trouble"> {{ one.trouble }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <button
      v-if="(renamed || names.problems || open) && names.names.length > 6"
      type="button"
      class="link"
      @click="all = !all"
    >
      {{ all ? 'fewer' : `${Math.min(names.names.length, names.files) - 6} more` }}
    </button>
  </div>
</template>

<style scoped>
.names {
  margin: var(--space-half) 0 var(--space-3);
}
table {
  border-collapse: collapse;
}
td {
  padding: var(--space-half) var(--space-3) var(--space-half) 0;
  vertical-align: baseline;
}
.odd td:first-child {
  border-left: var(--line-bar) solid var(--trouble);
  padding-left: var(--space-2);
}
</style>
