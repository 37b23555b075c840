<script setup lang="ts">
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, reactive, watch } from 'vue'
import { useChangeCamera } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** A camera, written over where it stands: leaving a field keeps what was written. */
const props = defineProps<{ camera: Shapes['SetUpCameraOut']; plans: readonly string[] }>()
const { may, whyNot } = useWho()
const change = useChangeCamera()
const draft = reactive({ name: props.camera.name, kind: props.camera.kind })
watch(
  () => [props.camera.name, props.camera.kind],
  ([name = '', kind = '']) => Object.assign(draft, { name, kind }),
)
const plan = computed({ get: () => props.camera.plan, set: (name) => keep(name) })
function keep(to: string = props.camera.plan) {
  const { letter, name, kind, plan } = props.camera
  if (draft.name === name && draft.kind === kind && to === plan) return
  change.mutate({ letter, name: draft.name, kind: draft.kind, plan: to })
}
</script>

<template>
  <li :data-camera="camera.letter" :title="whyNot('plan')">
    <PennantMark :letter="camera.letter" :size="34" />
    <InputText
      v-model="draft.name"
      class="field over"
      :disabled="!may('plan')"
      :aria-label="t('cameraRow.nameOf', { letter: camera.letter })"
      data-camera-name
      @change="keep()"
    />
    <InputText
      v-model="draft.kind"
      class="field over kind"
      :disabled="!may('plan')"
      :aria-label="t('cameraRow.kindOf', { letter: camera.letter })"
      @change="keep()"
    />
    <Select
      v-model="plan"
      :options="[...plans]"
      :disabled="!may('plan')"
      :aria-label="t('cameraRow.planOf', { letter: camera.letter })"
    />
    <span class="soft" role="status">{{ change.isSuccess.value ? t('cameraRow.saved') : '' }}</span>
    <SaidNo class="refusal" :error="change.error.value" />
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 3.25rem minmax(8rem, 1fr) minmax(6rem, 12rem) auto 4rem;
  gap: var(--space-2);
  align-items: center;
  border-bottom: var(--line-hair) solid var(--hair);
}
.refusal {
  grid-column: 2 / -1;
}
@media (--phone) {
  li {
    grid-template-columns: 3.25rem 1fr;
  }
}
</style>
