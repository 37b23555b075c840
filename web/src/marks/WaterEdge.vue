<script setup lang="ts">
/** The surface: what is drawn below it is not safe. */
const WAVES = 24
const path = Array.from({ length: WAVES }, (_, n) => `Q${n * 50 + 12.5} 0 ${n * 50 + 25} 6T${n * 50 + 50} 6`)
</script>

<template>
  <svg viewBox="0 0 1200 12" preserveAspectRatio="none" aria-hidden="true">
    <path :d="`M0 12V6${path.join('')}V12Z`" fill="currentColor" />
  </svg>
</template>

<style scoped>
svg {
  display: block;
  width: 100%;
  height: 0.5rem;
}
</style>
