<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useIntroduceCard, useRecogniseCard } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'

/** A card whose identity is not beyond doubt: which one is it, or is it a new one? */
const props = defineProps<{ slotData: Shapes['SlotOut']; cameras: Shapes['CameraOut'][] }>()
const { may } = useWho()
const label = ref('')
const camera = ref('')
const stay = computed(() => props.slotData.insertion_id ?? 0)
const introduce = useIntroduceCard()
const recognise = useRecogniseCard()
/** A label that the ledger knows: the card was formatted, say, and tells nothing of itself any more. */
const known = computed(() =>
  props.slotData.identity?.known.find((one) => one.toLowerCase() === label.value.trim().toLowerCase()),
)
function submit() {
  if (known.value) recognise.mutate({ stay: stay.value, label: known.value })
  else introduce.mutate({ stay: stay.value, label: label.value, camera: camera.value, is_another: false })
}
</script>

<template>
  <form @submit.prevent="submit">
    <h2 data-identity>{{ slotData.identity?.question ?? 'This card is not in the ledger.' }}</h2>
    <p v-if="slotData.identity?.candidates.length" class="known">
      <Button
        v-for="one in slotData.identity.candidates"
        :key="one"
        class="act"
        type="button"
        :label="`It is ${one}`"
        :disabled="!may('introduce_card')"
        :data-candidate="one"
        @click="recognise.mutate({ stay, label: one })"
      />
      <span>or a new card:</span>
    </p>
    <p v-else>
      Type the label that is written on it. A card that was formatted is known by its label alone; a new one
      also needs its camera.
    </p>
    <label>Label <InputText v-model="label" class="field" required maxlength="40" /></label>
    <label v-if="!known"
      >Camera
      <select v-model="camera" class="field" required>
        <option v-for="one in cameras" :key="one.letter" :value="one.letter">
          {{ one.letter }}: {{ one.name }}
        </option>
      </select></label
    >
    <Button
      class="act"
      :class="{ quiet: slotData.identity?.candidates.length }"
      type="submit"
      :label="known ? `It is ${known}, formatted` : 'Add card'"
      data-introduce
      :disabled="!may('introduce_card')"
    />
    <p v-if="introduce.error.value ?? recognise.error.value" role="alert" class="trouble">
      {{ (introduce.error.value ?? recognise.error.value)?.message }}
    </p>
  </form>
</template>

<style scoped>
form {
  margin-bottom: var(--space-4);
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3) var(--space-4);
  align-items: end;
}
h2,
p {
  width: 100%;
}
.known {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
}
label {
  display: grid;
}
</style>
