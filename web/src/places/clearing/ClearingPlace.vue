<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useClearing, useSetUp } from '../../api/queries'
import MoreRows from '../../parts/MoreRows.vue'
import { counted } from '../../words/units'
import CaseRow from './CaseRow.vue'
import SignBox from './SignBox.vue'
import LastKnown from '../../parts/LastKnown.vue'

const clearing = useClearing()
const route = useRoute()
const signing = ref<number>()
/** In the server's order: those that keep somebody waiting first, the ones in readers ahead. */
const all = computed(() => clearing.data.value?.pages.flatMap((page) => page.cards) ?? [])
const inAll = computed(() => clearing.data.value?.pages[0]?.in_all ?? 0)
/** As it is now, and not as it was when the view was opened. */
const toSign = computed(() => all.value.find((one) => one.card_id === signing.value))
const scanned = computed(() => String(route.query['card'] ?? '').toUpperCase())
const known = computed(() => all.value.some((one) => one.label.toUpperCase() === scanned.value))

/** Nothing is known of what is on these now. */
const AWAY: readonly string[] = ['never read', 'handed back']
const staying = computed(() => all.value.filter((one) => !one.may_go_back && !AWAY.includes(one.standing)))
const going = computed(() => all.value.filter((one) => one.may_go_back))
const out = computed(() => all.value.filter((one) => one.standing === 'handed back'))
const unseen = computed(() => all.value.filter((one) => one.standing === 'never read'))
const setUp = useSetUp()
const cameras = computed(() => setUp.data.value?.cameras ?? [])

watch(
  [scanned, () => all.value.length],
  async () => {
    if (scanned.value && !known.value && clearing.hasNextPage.value) void clearing.fetchNextPage()
    await nextTick()
    const row = document.querySelector<HTMLElement>(`[data-card="${CSS.escape(scanned.value)}"]`)
    row?.scrollIntoView({ block: 'center' })
    row?.focus()
  },
  { immediate: true },
)
</script>

<template>
  <main class="place">
    <h1 class="unseen">Clearing</h1>
    <LastKnown
      :error="clearing.error.value"
      :known="Boolean(clearing.data.value)"
      :updated-at="clearing.dataUpdatedAt.value"
      ><template v-if="clearing.data.value">
        <p v-if="scanned && !known && !clearing.hasNextPage.value" role="alert" class="trouble">
          There is no card {{ scanned }} in this production.
        </p>
        <section>
          <h2>May not go back yet</h2>
          <ul>
            <CaseRow
              v-for="one in staying"
              :key="one.card_id"
              :one="one"
              :cameras="cameras"
              :scanned="one.label.toUpperCase() === scanned"
              @sign="signing = one.card_id"
            />
          </ul>
          <p v-if="!staying.length" class="soft">No card is waiting.</p>
        </section>
        <section>
          <h2>May go back</h2>
          <ul>
            <CaseRow
              v-for="one in going"
              :key="one.card_id"
              :one="one"
              :cameras="cameras"
              :scanned="one.label.toUpperCase() === scanned"
            />
          </ul>
          <p v-if="!going.length" class="soft">No card here is clear.</p>
        </section>
        <section v-if="out.length">
          <h2>Handed back</h2>
          <ul>
            <CaseRow
              v-for="one in out"
              :key="one.card_id"
              :one="one"
              :cameras="cameras"
              :scanned="one.label.toUpperCase() === scanned"
            />
          </ul>
        </section>
        <MoreRows
          v-if="clearing.hasNextPage.value"
          :words="`${all.length} of ${counted(inAll, 'card')} shown: show more`"
          :asking="clearing.isFetchingNextPage.value"
          @more="clearing.fetchNextPage()"
        />
        <p v-if="unseen.length" class="soft">
          Never in a reader here, so nothing is known of {{ unseen.map((one) => one.label).join(', ') }}.
        </p>
      </template></LastKnown
    >
    <SignBox :one="toSign" @close="signing = undefined" />
  </main>
</template>

<style scoped>
section {
  margin-bottom: var(--space-6);
}
h2 {
  margin-bottom: var(--space-1h);
  padding-bottom: var(--space-1);
  border-bottom: var(--line) solid var(--ink);
}
</style>
