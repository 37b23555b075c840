<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive } from 'vue'
import { useAddCamera, useChangeCamera } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import { useWho } from '../../shell/me'

const props = defineProps<{ setup: Shapes['SetUpOut'] }>()
const { may } = useWho()
const plans = computed(() => props.setup.plans.map((plan) => plan.name))
const choices = computed(() => plans.value.map((name) => ({ name, value: name })))
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
      <Select
        :model-value="camera.plan"
        :options="plans"
        :disabled="!may('plan')"
        :aria-label="`Plan of ${camera.letter}`"
        @update:model-value="
          (plan: string) =>
            change.mutate({ letter: camera.letter, name: camera.name, kind: camera.kind, plan })
        "
      />
    </li>
  </ul>
  <form class="line" @submit.prevent="add.mutate({ ...draft }, { onSuccess: clear })">
    <label>Letter <InputText v-model="draft.letter" class="field short" data-new-letter /></label>
    <label>Name <InputText v-model="draft.name" class="field" /></label>
    <label>Kind <InputText v-model="draft.kind" class="field mid" placeholder="stills, cinema …" /></label>
    <ChooseOne v-model="draft.plan" label="Plan" :options="choices" data-new-plan />
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
  grid-template-columns: repeat(auto-fill, minmax(24.5rem, 1fr));
  gap: var(--space-2) var(--space-6);
  margin-bottom: var(--space-3);
}
li {
  display: grid;
  grid-template-columns: 3rem 1fr auto;
  gap: var(--space-2);
  align-items: center;
}
.short {
  width: 4.75rem;
}
.mid {
  width: 10.5rem;
}
@media (--phone) {
  .cameras {
    grid-template-columns: 1fr;
  }
}
</style>
