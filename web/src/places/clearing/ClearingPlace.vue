<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import type { Shapes } from '../../api/client'
import { useBench, useClearing } from '../../api/queries'
import CaseRow from './CaseRow.vue'
import SignBox from './SignBox.vue'

const clearing = useClearing()
const route = useRoute()
const signing = ref<number>()
/** As it is now, and not as it was when the view was opened. */
const toSign = computed(() => clearing.data.value?.find((one) => one.card_id === signing.value))
const scanned = computed(() => String(route.query['card'] ?? '').toUpperCase())
const known = computed(() => clearing.data.value?.some((one) => one.label.toUpperCase() === scanned.value))

const ORDER: Shapes['CardStanding'][] = [
  'files gone',
  'ready to sign',
  'waiting for a signature',
  'not clear',
  'not offloaded',
  'being offloaded',
  'not read since',
]
const rank = (one: Shapes['CaseOut']) => {
  const at = ORDER.indexOf(one.standing)
  return at < 0 ? ORDER.length : at
}
const all = computed(() => clearing.data.value ?? [])
/** Nothing is known of what is on these now. */
const AWAY: Shapes['CardStanding'][] = ['never read', 'handed back']
const staying = computed(() =>
  all.value
    .filter((one) => !one.may_go_back && !AWAY.includes(one.standing))
    .toSorted(
      (a, b) =>
        Number(!a.gone_in_all) - Number(!b.gone_in_all) ||
        Number(!a.slot) - Number(!b.slot) ||
        rank(a) - rank(b),
    ),
)
const going = computed(() => all.value.filter((one) => one.may_go_back))
const out = computed(() => all.value.filter((one) => one.standing === 'handed back'))
const unseen = computed(() => all.value.filter((one) => one.standing === 'never read'))
const bench = useBench()
const cameras = computed(() => bench.data.value?.cameras ?? [])

watch(
  [scanned, () => clearing.isSuccess.value],
  async () => {
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
    <p v-if="clearing.error.value" role="alert" class="trouble">{{ clearing.error.value.message }}</p>
    <template v-else-if="clearing.data.value">
      <p v-if="scanned && !known" role="alert" class="trouble">
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
      <p v-if="unseen.length" class="soft">
        Never in a reader here, so nothing is known of {{ unseen.map((one) => one.label).join(', ') }}.
      </p>
    </template>
    <SignBox :one="toSign" @close="signing = undefined" />
  </main>
</template>

<style scoped>
section {
  margin-bottom: 26px;
}
h2 {
  margin-bottom: 6px;
  padding-bottom: 4px;
  border-bottom: 2px solid var(--ink);
}
</style>
