<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { PLACES } from '../router'
import { keysOn } from '../theme/choices'
import BoxDialog from './BoxDialog.vue'
import { t } from '../words/say'

const visible = defineModel<boolean>('visible', { required: true })
const others = [
  ['1 … 9', t('keysHelp.onTheBenchThatSlot')],
  ['O', t('keysHelp.onTheBenchTheNext')],
  ['N', t('keysHelp.daylightOrNight')],
  ['M', t('keysHelp.soundOnOrOff')],
  ['/', t('keysHelp.whereIs')],
  ['?', t('keysHelp.thisPage')],
  [t('keysHelp.scan'), t('keysHelp.aCardsLabelOrA')],
]
</script>

<template>
  <BoxDialog v-model:visible="visible" :title="t('keysHelp.keys')">
    <dl>
      <template v-for="place in PLACES" :key="place.key">
        <dt>{{ place.key.toUpperCase() }}</dt>
        <dd>{{ place.name }}: {{ place.asks }}</dd>
      </template>
      <template v-for="[key, words] in others" :key="key">
        <dt>{{ key }}</dt>
        <dd>{{ words }}</dd>
      </template>
    </dl>
    <p>
      <label class="ticked"
        ><Checkbox v-model="keysOn" binary /> {{ t('keysHelp.singleKeysAreShortcuts') }}</label
      >
    </p>
    <p>
      <RouterLink to="/legend" @click="visible = false">{{ t('keysHelp.whatTheMarksMean') }}</RouterLink> ·
      <a href="/api/docs" target="_blank">{{ t('keysHelp.theApi') }}</a>
    </p>
    <Button class="act" :label="t('keysHelp.close')" autofocus @click="visible = false" />
  </BoxDialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 4rem 1fr;
  gap: var(--space-1h) var(--space-3);
}
dt {
  font: 700 var(--type-lead)/1.3 var(--tag);
}
p {
  margin: var(--space-3) 0;
}
</style>
