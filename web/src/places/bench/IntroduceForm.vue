<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useIntroduceCard, useRecogniseCard, useSayNotOurs } from '../../api/acts/cards'
import { useAddCamera } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries/useSetUp'
import ChooseOne from '../../parts/ChooseOne.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** A card whose identity is not beyond doubt: which one is it, or is it a new one? */
const props = defineProps<{ slotData: Shapes['SlotOut']; cameras: Shapes['CameraOut'][] }>()
const { may, whyNot } = useWho()
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
/** No camera is called so. */
const ANOTHER = '*'
const letter = ref('')
const setUp = useSetUp()
const plan = ref('')
const plans = computed(() => (setUp.data.value?.plans ?? []).map(({ name }) => ({ name, value: name })))
const addCamera = useAddCamera()
const choices = computed(() => [
  ...props.cameras.map(({ letter, name }) => ({ name: `${letter}: ${name}`, value: letter })),
  ...(may('plan') ? [{ name: t('introduceForm.anotherCamera'), value: ANOTHER }] : []),
])
const refusal = computed(
  () => addCamera.error.value ?? introduce.error.value ?? recognise.error.value ?? notOurs.error.value,
)
const newCamera = computed(() => letter.value.trim().toUpperCase())
const bring = (to: string) =>
  introduce.mutate({ stay: stay.value, label: label.value, camera: to, is_another: false })
function submit() {
  if (known.value) recognise.mutate({ stay: stay.value, label: known.value })
  else if (camera.value !== ANOTHER) bring(camera.value)
  else {
    const said = {
      letter: newCamera.value,
      name: t('introduceForm.cameraNamed', { letter: newCamera.value }),
    }
    const of = plan.value || (plans.value[0]?.name ?? '')
    addCamera.mutate({ ...said, kind: 'camera', plan: of }, { onSuccess: () => bring(newCamera.value) })
  }
}
</script>

<template>
  <div v-if="slotData.not_ours_by" class="not-ours" data-said-not-ours>
    <h2>{{ t('introduceForm.thisCardIsNotOurs', { person: slotData.not_ours_by }) }}</h2>
    <p>{{ t('introduceForm.nothingOnItIsLooked') }}</p>
    <ActButton
      type="button"
      class="quiet small"
      :label="t('introduceForm.itMayBeOursAfter')"
      data-ours-after-all
      :why-not="whyNot('introduce_card')"
      :busy="notOurs.isPending.value"
      @press="notOurs.mutate({ stay, not: false })"
    />
    <SaidNo :error="refusal" />
  </div>
  <form v-else @submit.prevent="submit">
    <h2 data-identity>{{ slotData.identity?.question ?? t('introduceForm.thisCardIsNotIn') }}</h2>
    <p v-if="slotData.identity?.candidates.length" class="known">
      <ActButton
        v-for="one in slotData.identity.candidates"
        :key="one"
        type="button"
        :label="t('introduceForm.itIs', { one })"
        :data-candidate="one"
        :why-not="whyNot('introduce_card')"
        :busy="recognise.isPending.value"
        @press="recognise.mutate({ stay, label: one })"
      />
      <span>{{ t('introduceForm.orANewCard') }}</span>
    </p>
    <p v-else>
      {{ t(slotData.kind === 'package' ? 'introduceForm.packageName' : 'introduceForm.typeTheLabelThatIs') }}
    </p>
    <label
      >{{ t('introduceForm.label') }} <InputText v-model="label" class="field" required maxlength="40"
    /></label>
    <ChooseOne
      v-if="!known"
      v-model="camera"
      :label="t('introduceForm.camera')"
      :options="choices"
      data-introduce-camera
    />
    <span v-if="!known && camera === ANOTHER" class="line">
      <label
        >{{ t('camerasTable.letter') }}
        <InputText v-model="letter" class="field short" maxlength="4" data-new-camera
      /></label>
      <ChooseOne v-if="plans.length > 1" v-model="plan" :label="t('camerasTable.plan')" :options="plans" />
    </span>
    <ActButton
      :class="{ quiet: slotData.identity?.candidates.length }"
      type="submit"
      :label="known ? t('introduceForm.itIsFormatted', { known }) : t('introduceForm.addCard')"
      data-introduce
      :why-not="whyNot('introduce_card')"
      :busy="introduce.isPending.value"
    />
    <ActButton
      type="button"
      data-not-ours
      link
      :label="t('introduceForm.thisCardIsNotOurs2')"
      :why-not="whyNot('introduce_card')"
      :busy="notOurs.isPending.value"
      @press="notOurs.mutate({ stay, not: true })"
    />
    <SaidNo :error="refusal" />
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
.short {
  width: 4.75rem;
}
</style>
