<script setup lang="ts">
import { computed } from 'vue'
import { useBringBack, useStopLooking } from '../../api/acts/returns'
import type { Shapes } from '../../api/client'
import { useLook } from '../../api/queries/useReturns'
import ActButton from '../../parts/ActButton.vue'
import MoreRows from '../../parts/MoreRows.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t, type Sentence } from '../../words/say'
import { age } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** What came of looking into a folder: what is as it was in one sentence, everything else file by file. */
const props = defineProps<{ look: Shapes['FolderLookOut'] }>()
const { whyNot } = useWho()
const found = useLook(() => (props.look.finished_at && !props.look.trouble ? props.look.id : undefined))
const rows = computed(() => found.data.value?.pages.flatMap((page) => page.rows) ?? [])
const bring = useBringBack()
const stop = useStopLooking()
const unknown = computed(() => found.data.value?.pages[0]?.unknown ?? 0)
const standing = computed(() => {
  const one = props.look
  if (one.going && one.stopping) return t('returns.stopping')
  if (one.going) return one.read ? t('returns.reading', { read: bytes(one.read) }) : t('returns.going')
  if (one.trouble) return t('returns.trouble', { why: one.trouble })
  if (!one.expected) return t(one.list_name ? 'returns.noneListed' : 'returns.noRoll')
  const files = counted(one.expected, 'file')
  const same = number(one.same)
  if (one.same === one.expected && !one.cached && !unknown.value)
    return t(one.by_content ? 'returns.allThere' : 'returns.allByName', { files })
  return t(one.by_content ? 'returns.someThere' : 'returns.someByName', { files, same })
})
const WORDS: Record<Shapes['RowKind'], Sentence> = {
  missing: 'returns.missing',
  different: 'returns.different',
  unreadable: 'returns.unreadable',
  moved: 'returns.moved',
  renamed: 'returns.renamed',
  unknown: 'returns.unknown',
}
/** Without having been read, a file of the same name and size only seems to be the one. */
const says = (row: Shapes['FolderRowOut']) => {
  if (row.coming) return t('returns.coming')
  if (row.back_at) return t('returns.isBack', { age: age(row.back_at) })
  return row.kind === 'moved' && !props.look.by_content ? t('returns.seemsMoved') : t(WORDS[row.kind])
}
/** What a row's button does; a file that somebody renamed may well be wanted under its old name too. */
const label = (row: Shapes['FolderRowOut']) =>
  t(row.kind === 'different' ? 'returns.bringAside' : 'returns.bringOne')
const canCome = (row: Shapes['FolderRowOut']) =>
  !row.coming && !row.back_at && (row.kind === 'missing' || row.kind === 'moved' || row.kind === 'different')
const left = computed(() => found.data.value?.pages[0]?.missing_still ?? 0)
const one = (row: Shapes['FolderRowOut']) =>
  bring.mutate({
    look: props.look.id,
    rows: [row.n],
    aside: row.kind === 'different',
    system_disk_reason: '',
  })
const all = () => bring.mutate({ look: props.look.id, rows: [], aside: false, system_disk_reason: '' })
</script>

<template>
  <section class="chapter" :data-look="look.id">
    <h2>
      <code>{{ look.folder }}</code>
    </h2>
    <p class="soft">
      {{ t('returns.asked', { station: look.station, by: look.by, age: age(look.asked_at) }) }}
      <template v-if="look.list_name">{{ t('returns.byList', { name: look.list_name }) }}</template>
    </p>
    <p role="status" data-standing>{{ standing }}</p>
    <p v-if="unknown" data-unknown-names>{{ t('returns.unknownNames', {}, unknown) }}</p>
    <p v-if="look.cached" class="trouble">{{ t('compare.cached', {}, look.cached) }}</p>
    <p v-if="look.going || left" class="line">
      <ActButton
        v-if="look.going"
        type="button"
        class="quiet small"
        :label="t('compare.stop')"
        :why-not="whyNot('check')"
        :busy="stop.isPending.value || look.stopping"
        data-stop
        @press="stop.mutate(look.id)"
      />
      <ActButton
        v-else
        type="button"
        class="quiet small"
        :label="t('returns.bringAll', {}, left)"
        :why-not="whyNot('offload')"
        :busy="bring.isPending.value"
        data-bring-all
        @press="all()"
      />
    </p>
    <SaidNo :error="bring.error.value ?? stop.error.value ?? found.error.value" />
    <ul v-if="rows.length">
      <li v-for="row in rows" :key="row.n" :class="row.kind" :data-row="row.kind">
        <span class="file">
          <code>{{ row.path }}</code>
          <RouterLink v-if="row.tag" class="tag" :to="`/tally/${encodeURIComponent(row.tag)}`">{{
            row.tag
          }}</RouterLink>
        </span>
        <span>
          {{ says(row) }} <code v-if="row.elsewhere && !row.coming && !row.back_at">{{ row.elsewhere }}</code>
          <span v-if="row.reason" class="soft">{{ row.reason }}</span>
        </span>
        <ActButton
          v-if="canCome(row)"
          type="button"
          link
          :label="label(row)"
          :why-not="whyNot('offload')"
          :busy="bring.isPending.value"
          :data-bring="row.path"
          @press="one(row)"
        />
      </li>
    </ul>
    <MoreRows
      v-if="found.hasNextPage.value"
      :words="t('returns.moreRows')"
      :asking="found.isFetchingNextPage.value"
      @more="found.fetchNextPage()"
    />
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 5fr) minmax(0, 4fr) minmax(0, 3fr);
  gap: var(--space-2) var(--space-4);
  align-items: baseline;
  padding: var(--space-1h) 0 var(--space-1h) var(--space-3);
  border-bottom: var(--line-hair) solid var(--hair);
  box-shadow: inset var(--line-bar) 0 0 var(--care);
}
li.missing,
li.different {
  box-shadow: inset var(--line-bar) 0 0 var(--trouble);
}
.file {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
}
code {
  overflow-wrap: anywhere;
}
h2 code {
  font-size: var(--type-lead);
}
@media (--phone) {
  li {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
</style>
