<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useBringRoll } from '../../api/acts/copies'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries'
import ChooseOne from '../../parts/ChooseOne.vue'
import { useWho } from '../../shell/me'

/** One more copy of a roll, from a verified one: the card is not needed. */
const props = defineProps<{ roll: Shapes['RollOut'] }>()
const { may } = useWho()
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
    <ChooseOne v-model="asked" label="One more copy on" :options="choices" placeholder="which store?" />
    <Button
      class="act quiet small"
      type="submit"
      :label="store ? `Copy ${roll.tag} to ${store}` : 'Copy it there'"
      :disabled="!store || !may('offload')"
    />
    <p v-if="bring.error.value" role="alert" class="trouble">{{ bring.error.value.message }}</p>
  </form>
</template>

<style scoped>
.line {
  margin-top: var(--space-3);
}
</style>
