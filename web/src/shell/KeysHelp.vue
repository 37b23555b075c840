<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import { PLACES } from '../router'
import { keysOn } from '../theme/choices'
import BoxDialog from './BoxDialog.vue'

const visible = defineModel<boolean>('visible', { required: true })
const others = [
  ['1 … 9', 'on the Bench: that slot'],
  ['O', 'on the Bench: the next act for the chosen card'],
  ['N', 'daylight or night'],
  ['M', 'sound on or off'],
  ['?', 'this page'],
  ['scan', 'a card’s label or a roll’s tag and Enter, from any screen: to that card or roll'],
]
</script>

<template>
  <BoxDialog v-model:visible="visible" title="Keys">
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
      <label class="ticked"><Checkbox v-model="keysOn" binary /> single keys are shortcuts</label>
    </p>
    <p>
      <RouterLink to="/legend" @click="visible = false">What the marks mean</RouterLink> ·
      <a href="/api/docs" target="_blank">The API</a>
    </p>
    <Button class="act" label="Close" autofocus @click="visible = false" />
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
