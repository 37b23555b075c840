<script setup lang="ts">
import { provide } from 'vue'
import type { Shapes } from '../api/client'
import { useLive } from '../api/live'
import { useAges } from '../words/times'
import { useBells } from './bells'
import { useKeys } from './keys'
import { ME } from './me'
import KeysHelp from './KeysHelp.vue'
import PlacesBar from './PlacesBar.vue'
import WaterLine from './WaterLine.vue'

const props = defineProps<{ me: Shapes['Me'] }>()
provide(ME, props.me)
useLive()
useAges()
useBells()
const { helpShown } = useKeys()
</script>

<template>
  <div class="shell">
    <PlacesBar :me="me" @help="helpShown = true" />
    <div class="above" tabindex="-1"><RouterView /></div>
    <WaterLine />
    <KeysHelp v-model:visible="helpShown" />
  </div>
</template>

<style scoped>
.shell {
  display: grid;
  grid-template-rows: auto 1fr auto;
  height: 100%;
}
.above {
  overflow-y: auto;
  outline: none;
}
</style>
