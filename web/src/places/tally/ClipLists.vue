<script setup lang="ts">
import { HERE } from '../../api/here'
import { t } from '../../words/say'

/** A roll's clips as lists that editing programs and spreadsheets take. */
const props = defineProps<{ tag: string }>()
const at = (kind: 'csv' | 'otio') =>
  `/api/productions/${encodeURIComponent(HERE)}/reports/rolls/${encodeURIComponent(props.tag)}/clips.${kind}`
</script>

<template>
  <p class="line" data-clip-lists>
    <span class="soft">{{ t('rollPage.clipLists') }}</span>
    <a :href="at('csv')" download>{{ t('rollPage.clipsCsv') }}</a>
    <a :href="at('otio')" download>{{ t('rollPage.clipsOtio') }}</a>
  </p>
</template>
