<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { reactive } from 'vue'
import { useAddCamera, useChangeCamera } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import { useWho } from '../../shell/me'

defineProps<{ setup: Shapes['SetUpOut'] }>()
const { may } = useWho()
const draft = reactive({ letter: '', name: '', kind: '', plan: '' })
const add = useAddCamera()
const change = useChangeCamera()
const clear = () => Object.assign(draft, { letter: '', name: '', kind: '', plan: '' })
</script>

<template>
  <ul class="cameras">
    <li v-for="camera in setup.cameras" :key="camera.letter" :data-camera="camera.letter">
      <PennantMark :letter="camera.letter" :size="30" />
      <span>{{ camera.name }}, {{ camera.kind }}</span>
      <label>
        <span class="unseen">Plan of {{ camera.letter }}</span>
        <select
          class="field"
          :value="camera.plan"
          :disabled="!may('plan')"
          @change="
            change.mutate({
              letter: camera.letter,
              name: camera.name,
              kind: camera.kind,
              plan: ($event.target as HTMLSelectElement).value,
            })
          "
        >
          <option v-for="plan in setup.plans" :key="plan.id">{{ plan.name }}</option>
        </select>
      </label>
    </li>
  </ul>
  <form class="line" @submit.prevent="add.mutate({ ...draft }, { onSuccess: clear })">
    <label>Letter <InputText v-model="draft.letter" class="field short" data-new-letter /></label>
    <label>Name <InputText v-model="draft.name" class="field" /></label>
    <label>Kind <InputText v-model="draft.kind" class="field mid" placeholder="stills, cinema …" /></label>
    <label>
      Plan
      <select v-model="draft.plan" class="field">
        <option v-for="plan in setup.plans" :key="plan.id">{{ plan.name }}</option>
      </select>
    </label>
    <Button class="act quiet small" type="submit" label="Add camera" :disabled="!may('plan')" />
  </form>
  <p v-if="add.error.value ?? change.error.value" role="alert" class="trouble" data-camera-trouble>
    {{ (add.error.value ?? change.error.value)?.message }}
  </p>
  <p v-else-if="change.isSuccess.value" role="status" class="soft">Saved.</p>
  <p v-else-if="add.isSuccess.value" role="status" class="soft">The camera is in the production.</p>
</template>

<style scoped>
.cameras {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(390px, 1fr));
  gap: 8px 24px;
  margin-bottom: 12px;
}
li {
  display: grid;
  grid-template-columns: 48px 1fr auto;
  gap: 10px;
  align-items: center;
}
.short {
  width: 76px;
}
.mid {
  width: 170px;
}
@media (max-width: 600px) {
  .cameras {
    grid-template-columns: 1fr;
  }
}
</style>
