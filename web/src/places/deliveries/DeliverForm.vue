<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useDeliver } from '../../api/acts/deliveries'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SecretField from '../../parts/SecretField.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import WordsField from '../../parts/WordsField.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** Rolls, or the clips of them that somebody keeps, for somebody, by one way. */
const props = defineProps<{ first: string }>()
const { whyNot } = useWho()
const WAYS: { name: string; value: Shapes['DeliveryWay'] }[] = [
  { name: t('deliveries.byLink'), value: 'link' },
  { name: t('deliveries.byDrive'), value: 'drive' },
  { name: t('deliveries.byBucket'), value: 'bucket' },
  { name: t('deliveries.byOther'), value: 'other' },
]
const tags = ref<string[]>(props.first ? [props.first] : [])
const to = ref('')
const way = ref<Shapes['DeliveryWay']>('link')
const note = ref('')
const kept = ref(false)
const days = ref(14)
const password = ref('')
const deliver = useDeliver()
const made = computed(() => deliver.data.value)
const lacks = computed(() => {
  if (!tags.value.length) return t('deliveries.sayWhich')
  return to.value.trim() ? undefined : t('deliveries.sayWho')
})
const go = () =>
  deliver.mutate({
    tags: tags.value,
    to: to.value,
    way: way.value,
    note: note.value,
    kept_only: kept.value,
    days: days.value,
    password: way.value === 'link' ? password.value : '',
  })
const copy = () => void navigator.clipboard?.writeText(made.value?.address ?? '')
</script>

<template>
  <form class="deliver" data-deliver @submit.prevent="lacks ?? whyNot('deliver') ?? go()">
    <WordsField v-model="tags" class="wide" :label="t('deliveries.rolls')" />
    <label>{{ t('deliveries.to') }} <InputText v-model="to" class="field" maxlength="120" data-to /></label>
    <ChooseOne v-model="way" :label="t('deliveries.way')" :options="WAYS" data-way />
    <template v-if="way === 'link'">
      <NumberField v-model="days" :label="t('deliveries.days')" :min="1" :max="90" data-days />
      <SecretField v-model="password" :label="t('deliveries.password')" autocomplete="new-password" />
    </template>
    <label class="wide"
      >{{ t('deliveries.note') }} <InputText v-model="note" class="field" maxlength="500"
    /></label>
    <label class="ticked wide"
      ><Checkbox v-model="kept" binary data-kept-only /> {{ t('deliveries.kept') }}</label
    >
    <p class="wide">
      <ActButton
        type="submit"
        :label="t('deliveries.make')"
        :why-not="whyNot('deliver') ?? lacks"
        :busy="deliver.isPending.value"
        data-deliver-go
      />
    </p>
    <SaidNo class="wide" :error="deliver.error.value" />
    <p v-if="made?.address" class="wide made" role="status" data-address>
      {{ t('deliveries.onlyNow') }} <code>{{ made.address }}</code>
      <button type="button" class="act quiet small" @click="copy">{{ t('deliveries.copy') }}</button>
    </p>
    <p v-else-if="made" class="wide" role="status">{{ t('deliveries.made') }}</p>
  </form>
</template>

<style scoped>
.deliver {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 22rem));
  gap: var(--space-3) var(--space-5);
  align-items: end;
}
.wide {
  grid-column: 1 / -1;
}
.made {
  padding: var(--space-3);
  border: var(--line-bold) solid var(--ink);
  overflow-wrap: anywhere;
}
@media (--tablet) {
  .deliver {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
