<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, reactive } from 'vue'
import { useAddCamera } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import CameraRow from './CameraRow.vue'

const props = defineProps<{ setup: Shapes['SetUpOut'] }>()
const { whyNot } = useWho()
const plans = computed(() => props.setup.plans.map((plan) => plan.name))
const choices = computed(() => plans.value.map((name) => ({ name, value: name })))
const draft = reactive({ letter: '', name: '', kind: '', plan: '' })
const add = useAddCamera()
const clear = () => Object.assign(draft, { letter: '', name: '', kind: '', plan: '' })
</script>

<template>
  <ul>
    <CameraRow v-for="camera in setup.cameras" :key="camera.letter" :camera="camera" :plans="plans" />
  </ul>
  <p class="soft">{{ t('camerasTable.whatALetterIs') }}</p>
  <form class="line" @submit.prevent="add.mutate({ ...draft }, { onSuccess: clear })">
    <label
      >{{ t('camerasTable.letter') }}
      <InputText v-model="draft.letter" class="field short" maxlength="4" data-new-letter
    /></label>
    <label>{{ t('camerasTable.name') }} <InputText v-model="draft.name" class="field" /></label>
    <label
      >{{ t('camerasTable.kind') }}
      <InputText v-model="draft.kind" class="field mid" :placeholder="t('camerasTable.stillsCinema')"
    /></label>
    <ChooseOne v-model="draft.plan" :label="t('camerasTable.plan')" :options="choices" data-new-plan />
    <ActButton
      class="quiet small"
      type="submit"
      :label="t('camerasTable.addCamera')"
      :why-not="whyNot('plan')"
      :busy="add.isPending.value"
    />
  </form>
  <SaidNo :error="add.error.value" data-camera-trouble />
  <p v-if="add.isSuccess.value" role="status" class="soft">
    {{ t('camerasTable.theCameraIsInThe') }}
  </p>
</template>

<style scoped>
ul {
  margin-bottom: var(--space-3);
}
.short {
  width: 4.75rem;
}
.mid {
  width: 10.5rem;
}
</style>
