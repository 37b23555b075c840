<script setup lang="ts">
import { computed, ref } from 'vue'
import { useBringRoll } from '../../api/acts/copies'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries/useSetUp'
import ChooseOne from '../../parts/ChooseOne.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** One more copy of a roll, from a verified one: the card is not needed. */
const props = defineProps<{ roll: Shapes['RollOut'] }>()
const { whyNot } = useWho()
const setUp = useSetUp()
const bring = useBringRoll()
const asked = ref('')

const choices = computed(() => {
  const there = new Set(props.roll.planks.filter((plank) => plank.ever_read).map((plank) => plank.store))
  const free = (setUp.data.value?.stores ?? []).filter((store) => !store.lost && !there.has(store.name))
  return free.map(({ name }) => ({ name, value: name }))
})
const store = computed(() => choices.value.find((one) => one.value === asked.value)?.value ?? '')
</script>

<template>
  <form
    v-if="choices.length"
    class="line"
    data-copy-to
    @submit.prevent="store && bring.mutate({ roll: roll.roll_id, store })"
  >
    <ChooseOne
      v-model="asked"
      :label="t('copyTo.oneMoreCopyOn')"
      :options="choices"
      :placeholder="t('copyTo.whichStore')"
    />
    <ActButton
      class="quiet small"
      type="submit"
      :label="store ? t('copyTo.copyTo', { tag: roll.tag, store }) : t('copyTo.copyItThere')"
      :why-not="whyNot('offload') ?? (store ? undefined : t('copyTo.chooseAStore'))"
      :busy="bring.isPending.value"
    />
    <SaidNo :error="bring.error.value" />
  </form>
</template>

<style scoped>
.line {
  margin-top: var(--space-3);
}
</style>
