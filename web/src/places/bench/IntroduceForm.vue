<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useIntroduceCard, useRecogniseCard, useSayNotOurs } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import ChooseOne from '../../parts/ChooseOne.vue'
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
const notOurs = useSayNotOurs()
const refusal = computed(() => introduce.error.value ?? recognise.error.value ?? notOurs.error.value)
const choices = computed(() =>
  props.cameras.map(({ letter, name }) => ({ name: `${letter}: ${name}`, value: letter })),
)
function submit() {
  if (known.value) recognise.mutate({ stay: stay.value, label: known.value })
  else introduce.mutate({ stay: stay.value, label: label.value, camera: camera.value, is_another: false })
}
</script>

<template>
  <div v-if="slotData.not_ours_by" class="not-ours" data-said-not-ours>
    <h2>This card is not ours, says {{ slotData.not_ours_by }}.</h2>
    <p>Nothing on it is looked after here, and nobody waits for it.</p>
    <Button
      class="act quiet small"
      label="It may be ours after all"
      :disabled="!may('introduce_card')"
      data-ours-after-all
      @click="notOurs.mutate({ stay, not: false })"
    />
    <p v-if="refusal" role="alert" class="trouble">{{ refusal.message }}</p>
  </div>
  <form v-else @submit.prevent="submit">
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
    <ChooseOne v-if="!known" v-model="camera" label="Camera" :options="choices" data-introduce-camera />
    <Button
      class="act"
      :class="{ quiet: slotData.identity?.candidates.length }"
      type="submit"
      :label="known ? `It is ${known}, formatted` : 'Add card'"
      data-introduce
      :disabled="!may('introduce_card')"
    />
    <button
      type="button"
      class="link"
      :disabled="!may('introduce_card')"
      data-not-ours
      @click="notOurs.mutate({ stay, not: true })"
    >
      This card is not ours
    </button>
    <p v-if="refusal" role="alert" class="trouble">{{ refusal.message }}</p>
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
form h2,
form p {
  width: 100%;
}
.not-ours {
  display: grid;
  gap: var(--space-2);
  justify-items: start;
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
