<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries'
import { useWho } from '../../shell/me'
import CamerasTable from './CamerasTable.vue'
import PlanSheet from './PlanSheet.vue'
import ProductionForm from './ProductionForm.vue'
import RigsTable from './RigsTable.vue'

const asked = useSetUp()
const { may } = useWho()
const setup = computed(() => asked.data.value)
const chosen = ref<string>()
const plan = computed(
  () => setup.value?.plans.find((one) => one.name === chosen.value) ?? setup.value?.plans[0],
)
const fresh = computed<Shapes['PlanIn'] | undefined>(() =>
  setup.value
    ? {
        name: '',
        folder: '{production}/{date}/{roll}',
        names: '',
        start: 1,
        mend_names: false,
        roll_prefix: '',
        roll_digits: 3,
        roll_start: 1,
        algorithm: 'xxh128',
        more_algorithms: [],
        read_twice: false,
        job: '',
        fleet: '',
        text: '',
        sidecars: false,
        creator: '',
        rights: '',
        keywords: [],
        stores: [],
      }
    : undefined,
)
const adding = ref(false)
</script>

<template>
  <main class="place">
    <h1 class="unseen">Set-up</h1>
    <p v-if="asked.error.value" role="alert" class="trouble">{{ asked.error.value.message }}</p>
    <template v-if="setup">
      <p v-if="!may('plan')" class="soft">Your role sees the set-up and does not change it.</p>
      <h2>{{ setup.name }}</h2>
      <ProductionForm :key="setup.time_zone + setup.first_day + setup.day_starts_at" :setup="setup" />
      <h2>Plans</h2>
      <nav aria-label="Plans" class="plans">
        <button
          v-for="one in setup.plans"
          :key="one.id"
          type="button"
          class="pick"
          :aria-pressed="!adding && one.id === plan?.id"
          :data-plan="one.name"
          @click="((chosen = one.name), (adding = false))"
        >
          {{ one.name }}
        </button>
        <Button
          class="act quiet small"
          label="New plan"
          :disabled="!may('plan')"
          data-new-plan
          @click="adding = true"
        />
      </nav>
      <PlanSheet v-if="adding && fresh" key="new" :plan="fresh" :setup="setup" @saved="adding = false" />
      <PlanSheet v-else-if="plan" :key="plan.id" :plan="plan" :setup="setup" />
      <h2>Cameras</h2>
      <CamerasTable :setup="setup" />
      <h2>Rigs</h2>
      <RigsTable :setup="setup" />
    </template>
  </main>
</template>

<style scoped>
h2 {
  margin: var(--space-6) 0 var(--space-2);
}
.plans {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
}
</style>
