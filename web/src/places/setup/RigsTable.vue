<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useSaveRig } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'
import NumberField from '../../parts/NumberField.vue'

defineProps<{ setup: Shapes['SetUpOut'] }>()
const { whyNot } = useWho()
const name = ref('')
const letters = ref<string[]>([])
const first = ref(1)
const save = useSaveRig()
const go = () => save.mutate({ name: name.value, cameras: letters.value, first_shot: first.value })
</script>

<template>
  <ul>
    <li v-for="rig in setup.rigs" :key="rig.name" :data-rig-name="rig.name">
      <span class="tag">{{ rig.name }}</span>{{
        t('rigsTable.shotsFrom', { cameras: rig.cameras.join(', '), shot: rig.first_shot })
      }}
    </li>
    <li v-if="!setup.rigs.length" class="soft">
      {{ t('rigsTable.camerasThatRecordTheSame') }}
    </li>
  </ul>
  <form class="line" @submit.prevent="go()">
    <label>{{ t('rigsTable.name') }} <InputText v-model="name" class="field" data-rig-new /></label>
    <label v-for="camera in setup.cameras" :key="camera.letter" class="ticked">
      <Checkbox v-model="letters" :value="camera.letter" /> {{ camera.letter }}
    </label>
    <NumberField v-model="first" :label="t('rigsTable.shotsFrom2')" :min="1" />
    <ActButton
      class="quiet small"
      type="submit"
      :label="t('rigsTable.saveRig')"
      :why-not="whyNot('plan')"
      :busy="save.isPending.value"
    />
  </form>
  <SaidNo :error="save.error.value" />
</template>

<style scoped>
.short {
  width: 4.75rem;
}
.tag {
  font-size: var(--type-tag);
}
</style>
