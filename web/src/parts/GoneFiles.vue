<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useIntroduceCard } from '../api/acts/cards'
import { useAnswerForGone } from '../api/acts/clearing'
import type { Shapes } from '../api/client'
import { useWho } from '../shell/me'
import { counted } from '../words/units'

/** Files that were on a card, are in no copy, and are not on it any more: somebody has to say what became of them. */
const props = defineProps<{
  cardId: number
  insertionId: number | null
  label: string
  paths: readonly string[]
  count: number
  cameras: readonly Shapes['CameraOut'][]
}>()
const { may } = useWho()
const reason = ref('')
const newLabel = ref('')
const camera = ref('')
const twin = ref(false)
const answer = useAnswerForGone()
const another = useIntroduceCard()
const answerForThem = () => answer.mutate({ card: props.cardId, reason: reason.value, count: props.count })
const sayAnother = () =>
  another.mutate({
    stay: props.insertionId ?? 0,
    label: newLabel.value,
    camera: camera.value,
    is_another: true,
  })
</script>

<template>
  <div class="gone" role="alert" data-gone>
    <p class="trouble">
      <strong
        >{{ counted(count, 'file') }} that {{ count === 1 ? 'was' : 'were' }} on {{ label }}
        {{ count === 1 ? 'is' : 'are' }} not on it any more, and in no copy:</strong
      >{{ ' ' }}
      <code>{{ paths.slice(0, 12).join(', ') }}{{ count > 12 ? ' …' : '' }}</code>
    </p>
    <form class="line" @submit.prevent="answerForThem()">
      <label
        >What became of {{ count === 1 ? 'it' : 'them' }}?
        <InputText v-model="reason" class="field" data-gone-reason
      /></label>
      <Button
        class="act quiet small"
        type="submit"
        :label="`I answer for ${counted(count, 'file')}`"
        :disabled="!may('waive') || !reason.trim() || answer.isPending.value"
        data-gone-answer
      />
      <button v-if="insertionId" type="button" class="link" :aria-expanded="twin" @click="twin = !twin">
        This is not {{ label }}, but another card
      </button>
    </form>
    <form v-if="twin && insertionId" class="line" @submit.prevent="sayAnother()">
      <label
        >Its own label <InputText v-model="newLabel" class="field" maxlength="40" data-twin-label
      /></label>
      <label
        >Camera
        <select v-model="camera" class="field" required data-twin-camera>
          <option v-for="one in cameras" :key="one.letter" :value="one.letter">
            {{ one.letter }}: {{ one.name }}
          </option>
        </select></label
      >
      <Button
        class="act quiet small"
        type="submit"
        :label="`It is not ${label}`"
        :disabled="!may('introduce_card') || !newLabel.trim() || !camera || another.isPending.value"
        data-twin
      />
    </form>
    <p v-if="answer.error.value ?? another.error.value" class="trouble">
      {{ (answer.error.value ?? another.error.value)?.message }}
    </p>
  </div>
</template>

<style scoped>
.gone {
  display: grid;
  gap: var(--space-2);
  padding: var(--space-3) var(--space-3);
  border: var(--line-bold) solid var(--trouble);
}
</style>
