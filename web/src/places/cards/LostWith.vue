<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { listed, t } from '../../words/say'
import { age } from '../../words/times'
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
    <strong v-if="!lost.read_at" class="trouble">{{ t('cardPage.ifUnknown') }}</strong>
    <span v-else-if="!lost.gone.files && !lost.below.files">{{
      t('cardPage.ifSafe', { age: age(lost.read_at) })
    }}</span>
  </span>
</template>

<style scoped>
.lost-with {
  display: grid;
  gap: var(--space-1);
  flex-basis: 100%;
}
</style>
