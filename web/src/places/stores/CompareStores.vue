<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref } from 'vue'
import { useBringOnward } from '../../api/acts/copies'
import { useCompareStores, useStopComparing } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import { useComparison, useDifferences, type Sides } from '../../api/queries/useComparison'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import MoreRows from '../../parts/MoreRows.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t, type Sentence } from '../../words/say'
import { age } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** Two stores side by side, one way: totals first, then every difference; and what is missing brought there. */
const props = defineProps<{ stores: readonly Shapes['StoreOut'][] }>()
const { whyNot } = useWho()
const compare = useCompareStores()
const stop = useStopComparing()
const byContent = ref(false)
const fill = useBringOnward()
/** A store may be called anything: what is chosen says which it is. */
const LEDGER = '*'
const chosen = ref('')
const left = computed(() => (chosen.value.startsWith('=') ? chosen.value.slice(1) : ''))
const right = ref('')
const sides = computed<Sides | undefined>(() =>
  right.value && chosen.value && left.value !== right.value
    ? { left: left.value, right: right.value }
    : undefined,
)
const answer = useComparison(sides)
const found = computed(() => (sides.value ? answer.data.value : undefined))
const done = computed(() => Boolean(found.value?.asked_at && !found.value.going && !found.value.trouble))
const rows = useDifferences(sides, done)
const shown = computed(() => rows.data.value?.pages.flatMap((page) => page.rows) ?? [])
const names = computed(() => props.stores.map(({ name }) => ({ name, value: name })))
const lefts = computed(() => [
  { name: t('compare.ledger'), value: LEDGER },
  ...props.stores.map(({ name }) => ({ name, value: `=${name}` })),
])
const lacks = computed(() => (sides.value ? undefined : t('compare.sayWhich')))
const missing = computed(() => found.value?.kinds.find((one) => one.kind === 'missing'))
/** What of the missing belongs to rolls is brought by runs of their own. */
const fillable = computed(() => left.value && (missing.value?.files ?? 0) > (found.value?.no_roll ?? 0))
const KINDS: Record<Shapes['Kind'], Sentence> = {
  identical: 'compare.identical',
  missing: 'compare.missing',
  different: 'compare.different',
  unreadable: 'compare.unreadable',
  moved: 'compare.moved',
  'working file': 'compare.working',
  extra: 'compare.extra',
}
const standing = computed(() => {
  const one = found.value
  if (!one?.asked_at) return ''
  if (one.going && one.stopping) return t('compare.stopping')
  if (one.going) return one.by_content ? t('compare.reading', { read: bytes(one.read) }) : t('compare.going')
  if (one.trouble) return t('compare.trouble', { why: one.trouble })
  const each = {
    age: age(one.asked_at),
    left: t('compare.side', { files: counted(one.left_files, 'file'), bytes: bytes(one.left_bytes) }),
    right: t('compare.side', { files: counted(one.right_files, 'file'), bytes: bytes(one.right_bytes) }),
  }
  const how = t(one.by_content ? 'compare.byContent' : 'compare.byNames')
  return t(one.identical ? 'compare.areIdentical' : 'compare.areNot', { ...each, how })
})
const size = (count: number | null) => (count === null ? '' : bytes(count))
function go() {
  if (sides.value) compare.mutate({ ...sides.value, by_content: byContent.value })
}
</script>

<template>
  <section data-compare>
    <h2>{{ t('compare.title') }}</h2>
    <form class="line" @submit.prevent="go()">
      <ChooseOne
        v-model="chosen"
        :label="t('compare.what')"
        :options="lefts"
        :placeholder="t('copyTo.whichStore')"
        data-left
      />
      <ChooseOne
        v-model="right"
        :label="t('compare.with')"
        :options="names"
        :placeholder="t('copyTo.whichStore')"
        data-right
      />
      <label class="tick" data-by-content
        ><Checkbox v-model="byContent" binary /> {{ t('compare.readAll') }}</label
      >
      <ActButton
        class="quiet small"
        type="submit"
        :label="t('compare.go')"
        :why-not="whyNot('check') ?? lacks"
        :busy="compare.isPending.value || (found?.going ?? false)"
        data-compare-go
      />
      <ActButton
        v-if="found?.going && found.by_content"
        class="quiet small"
        type="button"
        :label="t('compare.stop')"
        :why-not="whyNot('check')"
        :busy="stop.isPending.value || found.stopping"
        data-stop-comparing
        @press="sides && stop.mutate(sides)"
      />
      <SaidNo :error="compare.error.value ?? stop.error.value ?? fill.error.value ?? answer.error.value" />
    </form>
    <p v-if="standing" role="status" data-compared>{{ standing }}</p>
    <template v-if="done && found">
      <ul class="kinds">
        <li v-for="one in found.kinds" :key="one.kind" :data-kind="one.kind">
          {{ t(KINDS[one.kind], { files: counted(one.files, 'file'), bytes: bytes(one.bytes) }) }}
        </li>
      </ul>
      <p v-if="found.cached" class="trouble" data-cached>{{ t('compare.cached', {}, found.cached) }}</p>
      <p v-if="found.doubted" data-doubted>
        {{ t(found.by_content ? 'compare.readAgain' : 'compare.lookedAt', {}, found.doubted) }}
      </p>
      <p v-if="missing && left" class="line">
        <ActButton
          v-if="fillable"
          type="button"
          class="quiet small"
          :label="t('compare.fill', { right })"
          :why-not="whyNot('offload')"
          :busy="fill.isPending.value"
          data-fill
          @press="fill.mutate({ of: 'a store', which: left, store: right })"
        />
        <span v-if="found.no_roll" class="soft" data-no-roll>{{
          t('compare.noRoll', {}, found.no_roll)
        }}</span>
      </p>
      <div v-if="shown.length" class="rows" tabindex="0" :aria-label="t('compare.rows')">
        <table>
          <thead>
            <tr>
              <th scope="col">{{ t('compare.path') }}</th>
              <th scope="col">{{ t('compare.how') }}</th>
              <th scope="col">{{ left || t('compare.ledger') }}</th>
              <th scope="col">{{ right }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in shown" :key="row.kind + row.path" data-difference>
              <td>
                <code>{{ row.path }}</code>
              </td>
              <td>
                {{ row.kind }}
                <code v-if="row.elsewhere">→ {{ row.elsewhere }}</code>
                <span v-if="row.reason" class="soft">{{ row.reason }}</span>
              </td>
              <td>{{ size(row.left) }}</td>
              <td>{{ size(row.right) }}</td>
            </tr>
          </tbody>
        </table>
        <MoreRows
          v-if="rows.hasNextPage.value"
          :words="t('compare.more')"
          :asking="rows.isFetchingNextPage.value"
          @more="rows.fetchNextPage()"
        />
      </div>
    </template>
  </section>
</template>

<style scoped>
section {
  margin-top: var(--space-5);
}
.tick {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
.kinds {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-5);
}
.rows {
  max-height: 24rem;
  overflow: auto;
  margin-top: var(--space-2);
  border-top: var(--line) solid var(--ink);
}
td,
th {
  padding: var(--space-half) var(--space-4) var(--space-half) 0;
  text-align: left;
  vertical-align: top;
}
code {
  overflow-wrap: anywhere;
}
</style>
