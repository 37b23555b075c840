<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { listed, t } from '../../words/say'
import { bytes, counted } from '../../words/units'

/** What would be lost with a card, as it was last listed; shown before anybody says that it is. */
defineProps<{ lost: Shapes['IfLostOut'] }>()
</script>

<template>
  <span class="lost-with" role="note" data-lost-with>
    <strong v-if="lost.gone.files" class="trouble">{{
      t('cardPage.ifGone', {
        files: counted(lost.gone.files, 'file'),
        bytes: bytes(lost.gone.bytes),
        names: listed(lost.gone.paths),
      })
    }}</strong>
    <span v-if="lost.below.files">{{
      t('cardPage.ifBelow', { files: counted(lost.below.files, 'file') })
    }}</span>
    <span v-if="!lost.gone.files && !lost.below.files">{{ t('cardPage.ifSafe') }}</span>
  </span>
</template>

<style scoped>
.lost-with {
  display: grid;
  gap: var(--space-1);
  flex-basis: 100%;
}
</style>
