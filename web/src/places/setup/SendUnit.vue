<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useSendUnit } from '../../api/acts/units'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** One more unit goes away: its name, and the roll numbers that are kept for it. */
const props = defineProps<{ letters: readonly string[] }>()
const { whyNot } = useWho()
const send = useSendUnit()
const name = ref('')
const letter = ref(props.letters[0] ?? '')
const first = ref(501)
const last = ref(599)
const letters = computed(() => props.letters.map((one) => ({ name: one, value: one })))
const lacks = computed(() => (name.value.trim() ? undefined : t('unitsTable.nameIt')))
const go = () =>
  send.mutate(
    { name: name.value, numbers: { [letter.value]: [first.value, last.value] } },
    { onSuccess: () => (name.value = '') },
  )
</script>

<template>
  <form v-if="letters.length" @submit.prevent="go">
    <label>{{ t('unitsTable.name') }} <InputText v-model="name" class="field" data-unit-name /></label>
    <ChooseOne v-model="letter" :label="t('unitsTable.camera')" :options="letters" />
    <NumberField v-model="first" :label="t('unitsTable.from')" />
    <NumberField v-model="last" :label="t('unitsTable.to')" />
    <ActButton
      type="submit"
      class="small"
      :label="t('unitsTable.send')"
      :why-not="whyNot('set_up') ?? lacks"
      :busy="send.isPending.value"
      data-send-unit
    />
  </form>
  <SaidNo :error="send.error.value" />
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
  margin-top: var(--space-3);
}
label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
</style>
