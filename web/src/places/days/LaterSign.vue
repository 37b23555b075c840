<script setup lang="ts">
import { t } from '../../words/say'

/** It became true after the day was handed over. */
</script>

<template>
  <span class="later" data-later>{{ t('days.later') }}</span>
</template>

<style scoped>
.later {
  padding: 0 var(--space-1h);
  border: var(--line-thin) solid var(--ink);
  font: 700 var(--type-note)/1.3 var(--tag);
}
</style>
