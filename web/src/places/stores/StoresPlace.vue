<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useRoom } from '../../api/queries/useRoom'
import { useUpkeep } from '../../api/queries/useUpkeep'
import type { Shapes } from '../../api/client'
import { useStores } from '../../api/queries/useStores'
import type { Loss } from '../../api/queries/useWhatIf'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'
import ActButton from '../../parts/ActButton.vue'
import { useWho } from '../../shell/me'
import BringOnward from './BringOnward.vue'
import CompareStores from './CompareStores.vue'
import StandingOrders from './StandingOrders.vue'
import ServerForm from './ServerForm.vue'
import StoreLine from './StoreLine.vue'
import WhatIf from './WhatIf.vue'

/** What room is left on each store, who has it and where; and what would be lost with it. */
const stores = useStores()
const room = useRoom()
const upkeep = useUpkeep()
const roomOf = (store: string) => room.data.value?.find((one) => one.store === store)
const careOf = (store: string) => upkeep.data.value?.cares.find((one) => one.store === store)
const loss = ref<Loss>()
const introducing = ref(false)
const { whyNot } = useWho()
const all = computed(() => stores.data.value ?? [])
/** The store that the address names, as a label's code or a question leads to it. */
const route = useRoute()
const named = computed(() => route.query['store'])
watch(
  [named, () => all.value.length],
  async () => {
    await nextTick()
    if (typeof named.value === 'string')
      document.querySelector(`[data-store="${CSS.escape(named.value)}"]`)?.scrollIntoView({ block: 'start' })
  },
  { immediate: true },
)
const places = computed(() => [...new Set(all.value.map((one) => one.location))].sort())
const bags = computed(() => {
  const carried = all.value.filter((one) => one.carrier)
  const found = new Map(carried.map((one) => [one.carried_by || one.carrier, one.carrier]))
  return [...found].map(([username, name]) => ({ username, name }))
})
/** What the loss of a device would do is told once, where it was asked. */
const isFirstOn = (store: Shapes['StoreOut']) =>
  all.value.find((one) => one.device === store.device) === store
const same = (of: Loss['of'], name: string) => loss.value?.of === of && loss.value.name === name
function ask(of: Loss['of'], name: string) {
  loss.value = same(of, name) ? undefined : { of, name }
}
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.stores') }}</h1>
    <LastKnown
      :error="stores.error.value"
      :known="Boolean(stores.data.value)"
      :updated-at="stores.dataUpdatedAt.value"
    >
      <p v-if="!all.length" class="soft">{{ t('storesPlace.none') }}</p>
      <ul>
        <StoreLine
          v-for="store in all"
          :key="store.name"
          :store="store"
          :room="roomOf(store.name)"
          :care="careOf(store.name)"
          :places="places"
          :asked="same('device', store.device)"
          :named="named === store.name"
          @ask="ask('device', store.device)"
        >
          <WhatIf v-if="loss && isFirstOn(store) && same('device', store.device)" :loss="loss" />
        </StoreLine>
      </ul>
      <p class="introduces">
        <ActButton
          type="button"
          link
          :label="t('storesPlace.introduceServer')"
          :why-not="whyNot('keep_stores')"
          data-introduce
          @press="introducing = !introducing"
        />
      </p>
      <ServerForm v-if="introducing" @introduced="introducing = false" />
      <p v-if="all.length" class="line asks">
        <span>{{ t('storesPlace.whatIf') }}</span>
        <button
          v-for="place in places"
          :key="place"
          type="button"
          class="pick"
          :aria-pressed="same('place', place)"
          :data-if-place="place"
          @click="ask('place', place)"
        >
          {{ t('storesPlace.burns', { place }) }}
        </button>
        <button
          v-for="bag in bags"
          :key="bag.username"
          type="button"
          class="pick"
          :aria-pressed="same('person', bag.username)"
          :data-if-person="bag.username"
          @click="ask('person', bag.username)"
        >
          {{ t('storesPlace.leaves', { name: bag.name }) }}
        </button>
      </p>
      <WhatIf v-if="loss && loss.of !== 'device'" :loss="loss" />
      <StandingOrders v-if="all.length" :stores="all" />
      <BringOnward v-if="all.length" :stores="all" />
      <CompareStores v-if="all.length > 1" :stores="all" />
    </LastKnown>
  </main>
</template>

<style scoped>
.introduces {
  margin-top: var(--space-3);
}
.asks {
  margin: var(--space-5) 0 var(--space-3);
}
</style>
