<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useMakeRoom } from '../../api/acts/room'
import { useMakingRoom } from '../../api/queries/useMakingRoom'
import { useStores } from '../../api/queries/useStores'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import LastKnown from '../../parts/LastKnown.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { bytes, counted } from '../../words/units'
import RoomRoll from './RoomRoll.vue'
import RoomRun from './RoomRun.vue'

/** What may be taken off a store, roll by roll, and why the rest stays; what was taken off comes back from here. */
const route = useRoute()
const router = useRouter()
const { whyNot } = useWho()
const stores = useStores()
const names = computed(() => (stores.data.value ?? []).map(({ name }) => ({ name, value: name })))
const store = computed({
  get: () => (typeof route.query['store'] === 'string' ? route.query['store'] : ''),
  set: (name) => void router.replace({ query: { store: name } }),
})
watch(
  names,
  ([first]) => {
    if (first && !store.value) store.value = first.value
  },
  { immediate: true },
)
const months = ref(6)
const MONTHS = [0, 1, 3, 6, 12, 24].map((value) => ({
  name: value ? t('makeRoom.monthsAgo', {}, value) : t('makeRoom.whenever'),
  value,
}))
const withKept = ref(false)
const sought = computed(() => ({ store: store.value, months: months.value, with_kept: withKept.value }))
const room = useMakingRoom(sought)
const found = computed(() => room.data.value)
const chosen = ref<string[]>([])
watch(sought, () => (chosen.value = []))
/** What somebody chose and is still there to choose, as it is shown. */
const wanted = computed(() => (found.value?.going ?? []).filter((one) => chosen.value.includes(one.tag)))
const all = computed({
  get: () => wanted.value.length > 0 && wanted.value.length === found.value?.going.length,
  set: (on) => (chosen.value = on ? (found.value?.going ?? []).map((one) => one.tag) : []),
})
const files = computed(() => wanted.value.reduce((sum, one) => sum + one.files, 0))
const gained = computed(() => wanted.value.reduce((sum, one) => sum + one.bytes, 0))
const make = useMakeRoom()
const lacks = computed(() => {
  if (!wanted.value.length) return t('makeRoom.lacks')
  return room.isPlaceholderData.value ? t('makeRoom.lacks') : undefined
})
const go = () =>
  make.mutate(
    {
      ...sought.value,
      rolls: wanted.value.map((one) => ({ tag: one.tag, files: one.files, bytes: one.bytes })),
    },
    { onSuccess: () => (chosen.value = []) },
  )
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/stores">{{ t('places.stores') }}</RouterLink>
    </p>
    <h1>{{ t('makeRoom.title') }}</h1>
    <p class="soft">{{ t('makeRoom.says') }}</p>
    <p class="line">
      <ChooseOne v-model="store" :label="t('makeRoom.store')" :options="names" data-room-store />
      <ChooseOne v-model="months" :label="t('makeRoom.months')" :options="MONTHS" data-months />
      <label class="ticked"
        ><Checkbox v-model="withKept" binary data-with-kept /> {{ t('makeRoom.withKept') }}</label
      >
    </p>
    <SaidNo :error="room.error.value" />
    <LastKnown :error="room.error.value" :known="Boolean(found)" :updated-at="room.dataUpdatedAt.value">
      <form v-if="found" class="chapter" @submit.prevent="lacks ?? go()">
        <p v-if="!found.going.length" data-none>{{ t('makeRoom.none') }}</p>
        <template v-else>
          <p v-if="found.going.length > 1">
            <label class="ticked"><Checkbox v-model="all" binary data-all /> {{ t('makeRoom.all') }}</label>
          </p>
          <ul>
            <RoomRoll v-for="one in found.going" :key="one.tag" :roll="one">
              <Checkbox v-model="chosen" :value="one.tag" :aria-label="one.tag" :data-choose="one.tag" />
            </RoomRoll>
          </ul>
          <p>
            <ActButton
              type="submit"
              :label="t('makeRoom.take', { store, files: counted(files, 'file'), bytes: bytes(gained) })"
              :why-not="whyNot('make_room') ?? lacks"
              :busy="make.isPending.value"
              data-take-off
            />
          </p>
        </template>
        <SaidNo :error="make.error.value" />
        <p v-if="found.more" class="soft">{{ t('makeRoom.more') }}</p>
      </form>
      <section v-if="found?.runs.length" class="chapter" data-room-made>
        <h2>{{ t('makeRoom.made') }}</h2>
        <RoomRun v-for="one in found.runs" :key="one.run" :line="one" :store="store" />
      </section>
      <section v-if="found && (found.staying.length || found.undelivered)" class="chapter" data-staying>
        <h2>{{ t('makeRoom.why') }}</h2>
        <p v-if="found.undelivered" class="soft">{{ t('makeRoom.undelivered', {}, found.undelivered) }}</p>
        <ul>
          <RoomRoll v-for="one in found.staying" :key="one.tag" :roll="one" />
        </ul>
      </section>
    </LastKnown>
  </main>
</template>

<style scoped>
h1 {
  font: 700 var(--type-large) / 1.2 var(--tag);
}
main > .line {
  margin: var(--space-4) 0;
}
ul {
  margin: 0 0 var(--space-4);
  padding: 0;
  list-style: none;
}
</style>
