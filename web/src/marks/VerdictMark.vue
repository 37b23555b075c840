<script setup lang="ts">
import { saysGo, speaksAgainst } from '../words/verdicts'

/** What a card's standing comes to: filled where it may go back, in alarm where something speaks against it. */
defineProps<{ verdict: string }>()
</script>

<template>
  <span
    class="verdict"
    :class="{ yes: saysGo(verdict), no: speaksAgainst(verdict) }"
    :data-verdict="verdict"
    >{{ verdict }}</span
  >
</template>

<style scoped>
.verdict {
  display: inline-block;
  padding: var(--space-half) var(--space-2) 0;
  border: var(--line-bold) dashed var(--ink);
  font: 700 var(--type-slot)/1.1 var(--tag);
  text-align: center;
  white-space: nowrap;
}
.verdict.yes {
  border: var(--line-bold) solid var(--safe);
  background: var(--safe);
  color: var(--safe-ink);
}
.verdict.no {
  border: var(--line-bold) solid var(--trouble);
  color: var(--trouble);
}
</style>
