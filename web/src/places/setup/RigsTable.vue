<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useSaveRig } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'

defineProps<{ setup: Shapes['SetUpOut'] }>()
const { may } = useWho()
const name = ref('')
const letters = ref<string[]>([])
const first = ref('1')
const save = useSaveRig()
const go = () =>
  save.mutate({ name: name.value, cameras: letters.value, first_shot: Number(first.value) || 1 })
</script>

<template>
  <ul>
    <li v-for="rig in setup.rigs" :key="rig.name" :data-rig-name="rig.name">
      <span class="tag">{{ rig.name }}</span>: {{ rig.cameras.join(', ') }}; shots from {{ rig.first_shot }}
    </li>
    <li v-if="!setup.rigs.length" class="soft">
      Cameras that record the same action together are a rig: their clips are lined up, and an odd one is
      named.
    </li>
  </ul>
  <form class="line" @submit.prevent="go()">
    <label>Name <InputText v-model="name" class="field" data-rig-new /></label>
    <label v-for="camera in setup.cameras" :key="camera.letter" class="ticked">
      <Checkbox v-model="letters" :value="camera.letter" /> {{ camera.letter }}
    </label>
    <label>Shots from <InputText v-model="first" class="field short" inputmode="numeric" /></label>
    <Button class="act quiet small" type="submit" label="Save rig" :disabled="!may('plan')" />
  </form>
  <p v-if="save.error.value" role="alert" class="trouble">{{ save.error.value.message }}</p>
</template>

<style scoped>
.short {
  width: 4.75rem;
}
.tag {
  font-size: var(--type-tag);
}
</style>
