<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref } from 'vue'
import { useDivide } from '../../api/acts/sets'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import WordsField from '../../parts/WordsField.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** Which rolls, onto what; and whether they join a set that is there. */
const props = defineProps<{ media: string[]; sets: Shapes['MediaSetOut'][] }>()
const { whyNot } = useWho()
const OTHER = ''
const tags = ref<string[]>([])
const medium = ref('Blu-ray, 25 GB')
const gigabytes = ref(50)
const tape = ref(false)
const into = ref(0)
const divide = useDivide()
const media = computed(() => [
  ...props.media.map((name) => ({ name, value: name })),
  { name: t('sets.another'), value: OTHER },
])
const sets = computed(() => [
  { name: t('sets.aNewOne'), value: 0 },
  ...props.sets.map((one) => ({ name: `${one.name} (${one.medium})`, value: one.number })),
])
const lacks = computed(() => (tags.value.length ? undefined : t('sets.sayWhich')))
function go() {
  const joined = props.sets.find((one) => one.number === into.value)
  const known = joined && props.media.includes(joined.medium) ? joined.medium : medium.value
  divide.mutate(
    {
      tags: tags.value,
      medium: known,
      capacity: known ? 0 : Math.round(gigabytes.value * 1e9),
      tape: tape.value,
      into: into.value,
    },
    { onSuccess: () => (tags.value = []) },
  )
}
</script>

<template>
  <form class="divide" data-divide @submit.prevent="lacks ?? whyNot('offload') ?? go()">
    <WordsField v-model="tags" class="wide" :label="t('deliveries.rolls')" />
    <ChooseOne v-model="into" :label="t('sets.into')" :options="sets" />
    <template v-if="!into">
      <ChooseOne v-model="medium" :label="t('sets.medium')" :options="media" data-medium />
      <template v-if="medium === OTHER">
        <NumberField v-model="gigabytes" :label="t('sets.gigabytes')" :min="1" :max="1000000" />
        <label class="ticked"><Checkbox v-model="tape" binary /> {{ t('sets.tape') }}</label>
      </template>
    </template>
    <p class="wide">
      <ActButton
        type="submit"
        :label="t('sets.divide')"
        :why-not="whyNot('offload') ?? lacks"
        :busy="divide.isPending.value"
        data-divide-go
      />
    </p>
    <SaidNo class="wide" :error="divide.error.value" />
  </form>
</template>

<style scoped>
.divide {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 22rem));
  gap: var(--space-3) var(--space-5);
  align-items: end;
  margin: var(--space-4) 0 var(--space-5);
}
.wide {
  grid-column: 1 / -1;
}
@media (--tablet) {
  .divide {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
