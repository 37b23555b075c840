<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useIntroduceCard } from '../api/acts/cards'
import { useAnswerForGone } from '../api/acts/clearing'
import type { Shapes } from '../api/client'
import { sayWhy, useWho } from '../shell/me'
import { counted } from '../words/units'
import { t } from '../words/say'
import SaidNo from './SaidNo.vue'
import ActButton from './ActButton.vue'

/** Files that were on a card, are in no copy, and are not on it any more: somebody has to say what became of them. */
const props = defineProps<{
  cardId: number
  insertionId: number | null
  label: string
  paths: readonly string[]
  count: number
  cameras: readonly Shapes['CameraOut'][]
}>()
const { whyNot } = useWho()
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
      <strong>{{ t('goneFiles.notOnItAnyMore', { label }, count) }}</strong>{{ ' ' }}
      <code>{{ paths.slice(0, 12).join(', ') }}{{ count > 12 ? ' …' : '' }}</code>
    </p>
    <form class="line" @submit.prevent="answerForThem()">
      <label
        >{{ t('goneFiles.whatBecameOf', {}, count) }}
        <InputText v-model="reason" class="field" data-gone-reason
      /></label>
      <ActButton
        class="quiet small"
        type="submit"
        :label="t('goneFiles.iAnswerFor', { files: counted(count, 'file') })"
        data-gone-answer
        :why-not="whyNot('waive') ?? sayWhy(reason)"
        :busy="answer.isPending.value"
      />
      <button v-if="insertionId" type="button" class="link" :aria-expanded="twin" @click="twin = !twin">
        {{ t('goneFiles.thisIsNotButAnother', { label }) }}
      </button>
    </form>
    <form v-if="twin && insertionId" class="line" @submit.prevent="sayAnother()">
      <label
        >{{ t('goneFiles.itsOwnLabel') }}
        <InputText v-model="newLabel" class="field" maxlength="40" data-twin-label
      /></label>
      <label
        >{{ t('goneFiles.camera') }}
        <select v-model="camera" class="field" required data-twin-camera>
          <option v-for="one in cameras" :key="one.letter" :value="one.letter">
            {{ one.letter }}: {{ one.name }}
          </option>
        </select></label
      >
      <ActButton
        class="quiet small"
        type="submit"
        :label="t('goneFiles.itIsNot', { label })"
        data-twin
        :why-not="
          whyNot('introduce_card') ?? (newLabel.trim() && camera ? undefined : t('goneFiles.labelAndCamera'))
        "
        :busy="another.isPending.value"
      />
    </form>
    <SaidNo :error="answer.error.value ?? another.error.value" />
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
