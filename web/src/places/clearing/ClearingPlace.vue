<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useClearing } from '../../api/queries/useClearing'
import { useSetUp } from '../../api/queries/useSetUp'
import MoreRows from '../../parts/MoreRows.vue'
import { counted } from '../../words/units'
import type { Shapes } from '../../api/client'
import CardGroup from './CardGroup.vue'
import SignBox from './SignBox.vue'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'

const clearing = useClearing()
const route = useRoute()
const signing = ref<number>()
/** By group, then by camera. */
const all = computed(() => clearing.data.value?.pages.flatMap((page) => page.cards) ?? [])
const counts = computed(() => clearing.data.value?.pages.at(-1)?.counts)
/** As it is now, and not as it was when the view was opened. */
const toSign = computed(() => all.value.find((one) => one.card_id === signing.value))
const scanned = computed(() => String(route.query['card'] ?? '').toUpperCase())
const known = computed(() => all.value.some((one) => one.label.toUpperCase() === scanned.value))

interface Group {
  group: Shapes['CardGroup']
  title: string
  empty?: string
}
const GROUPS: readonly Group[] = [
  { group: 'sign now', title: t('clearingPlace.signNow'), empty: t('clearingPlace.noCardWaitsForA') },
  {
    group: 'needs work',
    title: t('clearingPlace.needsWork'),
    empty: t('clearingPlace.noCardNeedsAnythingDone'),
  },
  { group: 'may go back', title: t('clearingPlace.mayGoBack'), empty: t('clearingPlace.noCardHereIsClear') },
  { group: 'handed back', title: t('clearingPlace.handedBack') },
]
const of = (group: Shapes['CardGroup']) => all.value.filter((one) => one.group === group)
const inAll = computed(() => Object.values(counts.value ?? {}).reduce((sum, one) => sum + one, 0))
const unseen = computed(() => of('never read'))
const setUp = useSetUp()
const cameras = computed(() => setUp.data.value?.cameras ?? [])

/** Whoever comes from a card's page to sign finds the view open. */
watch(
  () => route.query['sign'] && all.value.find((one) => one.label.toUpperCase() === scanned.value),
  (one) => {
    if (one && one.group === 'sign now') signing.value = one.card_id
  },
  { immediate: true },
)
watch(
  [scanned, () => all.value.length],
  async () => {
    if (scanned.value && !known.value && clearing.hasNextPage.value) void clearing.fetchNextPage()
    await nextTick()
    const row = document.querySelector<HTMLElement>(`[data-card="${CSS.escape(scanned.value)}"]`)
    row?.scrollIntoView({ block: 'center' })
    if (signing.value === undefined) row?.focus()
  },
  { immediate: true },
)
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.clearing') }}</h1>
    <LastKnown
      :error="clearing.error.value"
      :known="Boolean(clearing.data.value)"
      :updated-at="clearing.dataUpdatedAt.value"
      ><template v-if="clearing.data.value">
        <p v-if="scanned && !known && !clearing.hasNextPage.value" role="alert" class="trouble">
          {{ t('clearingPlace.thereIsNoCardIn', { scanned }) }}
        </p>
        <CardGroup
          v-for="{ group, title, empty } in GROUPS"
          :key="group"
          :data-group="group"
          :title="title"
          :empty="empty"
          :cards="of(group)"
          :in-all="counts?.[group] ?? 0"
          :cameras="cameras"
          :scanned="scanned"
          @sign="signing = $event"
        />
        <MoreRows
          v-if="clearing.hasNextPage.value"
          :words="t('clearingPlace.ofShownShowMore', { all: all.length, cards: counted(inAll, 'card') })"
          :asking="clearing.isFetchingNextPage.value"
          @more="clearing.fetchNextPage()"
        />
        <p v-if="unseen.length" class="soft">
          {{ t('clearingPlace.neverInAReaderHere', { unseen: unseen.map((one) => one.label).join(', ') }) }}
        </p>
      </template></LastKnown
    >
    <SignBox :one="toSign" @close="signing = undefined" />
  </main>
</template>
