<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref, useTemplateRef } from 'vue'
import HoldingMark from '../../marks/HoldingMark.vue'
import { HOLDING_BRIEF } from '../../marks/holding'
import { clockToSecond, lasting } from '../../words/times'
import { bytes, counted } from '../../words/units'
import { useClipList } from './clipList'
import type { Clip } from './clips'
import { t } from '../../words/say'

/** The same clips as rows, for those who want to read rather than look; ordered by any of their columns. */
const props = defineProps<{ clips: Clip[]; timeZone: string; picked: ReadonlySet<string> }>()
const emit = defineEmits<{ pick: [paths: string[], add: boolean] }>()
const chosen = defineModel<string>({ required: true })

const ROW = 34
const COLUMNS = [
  { key: 'holding', words: t('clipList.held') },
  { key: 'name', words: t('clipList.clip') },
  { key: 'starts', words: t('clipList.from') },
  { key: 'length', words: t('clipList.lasts') },
  { key: 'bytes', words: t('clipList.size') },
  { key: 'words', words: t('clipList.header') },
  { key: 'roll', words: t('clipList.in') },
] as const
type Key = (typeof COLUMNS)[number]['key']

const order = ref<{ key: Key; down: boolean }>({ key: 'starts', down: false })
const sorted = computed(() => {
  const { key, down } = order.value
  const by = (a: Clip, b: Clip) =>
    typeof a[key] === 'number'
      ? Number(a[key]) - Number(b[key])
      : String(a[key]).localeCompare(String(b[key]))
  return props.clips.toSorted((a, b) => (down ? by(b, a) : by(a, b)))
})
const sortBy = (key: Key) =>
  (order.value = { key, down: order.value.key === key ? !order.value.down : false })

const box = useTemplateRef<HTMLElement>('box')
const virtual = useVirtualizer(
  computed(() => ({
    count: sorted.value.length,
    getScrollElement: () => box.value,
    estimateSize: () => ROW,
    overscan: 8,
  })),
)
const rows = computed(() =>
  virtual.value.getVirtualItems().flatMap((row) => {
    const clip = sorted.value[row.index]
    return clip ? [{ top: row.start, clip }] : []
  }),
)
const { press, move, optionId } = useClipList({
  clips: () => sorted.value,
  chosen,
  pick: (paths, add) => emit('pick', paths, add),
  across: () => 1,
  above: (at) => at,
  show: (row) => virtual.value.scrollToIndex(row),
})
</script>

<template>
  <div class="columns heads">
    <button
      v-for="{ key, words } in COLUMNS"
      :key="key"
      type="button"
      class="head"
      :aria-pressed="order.key === key"
      :data-sort="key"
      @click="sortBy(key)"
    >
      {{ words }}
      <span
        v-if="order.key === key"
        :aria-label="order.down ? t('clipList.falling') : t('clipList.rising')"
        role="img"
        >{{ order.down ? '↓' : '↑' }}</span
      >
    </button>
  </div>
  <div
    ref="box"
    class="list"
    tabindex="0"
    role="listbox"
    aria-multiselectable="true"
    :aria-activedescendant="chosen ? optionId(chosen) : undefined"
    :aria-label="t('clipList.clipsAsAListArrow')"
    data-list
    @keydown="move"
  >
    <div class="all" role="presentation" :style="{ height: `${virtual.getTotalSize()}px` }">
      <div
        v-for="{ top, clip } in rows"
        :id="optionId(clip.path)"
        :key="clip.path"
        role="option"
        class="columns row"
        :aria-selected="picked.has(clip.path)"
        :style="{ transform: `translateY(${top}px)` }"
        :class="{ chosen: clip.path === chosen, picked: picked.has(clip.path) }"
        :data-picked="picked.has(clip.path)"
        :data-clip="clip.name"
        :data-holding="clip.holding"
        :data-odd="clip.odd >= 0"
        @click="press($event, clip.path)"
      >
        <HoldingMark :holding="clip.holding" :odd="clip.odd >= 0" :size="20" />
        <span class="tag">{{ clip.name }}</span>
        <span>{{ clockToSecond(clip.starts, timeZone) }}</span>
        <span>{{ lasting(clip.length) }}</span>
        <span>{{ bytes(clip.bytes) }}, {{ counted(clip.files, 'file') }}</span>
        <span class="words">{{ clip.words }}</span>
        <span class="words soft">{{ HOLDING_BRIEF[clip.holding] }} {{ clip.roll }}</span>
      </div>
    </div>
  </div>
</template>

<style scoped>
.list {
  max-height: min(60vh, 37rem);
  overflow-y: auto;
  border: var(--line) solid var(--hair);
  background: var(--sheet);
}
.all {
  position: relative;
}
.columns {
  display: grid;
  grid-template-columns: 3.5rem 12rem 5.25rem 5rem 10.5rem 1fr 9.5rem;
  gap: var(--space-2);
  align-items: center;
  padding: 0 var(--space-2);
  white-space: nowrap;
}
.head {
  padding: var(--space-1) 0;
  border: 0;
  background: none;
  color: inherit;
  font: 700 var(--type-body)/1.2 var(--tag);
  text-align: left;
  cursor: pointer;
}
.row {
  position: absolute;
  inset: 0 0 auto;
  height: 2rem;
  border-bottom: var(--line-hair) solid var(--hair);
}
.row.chosen {
  box-shadow: inset 0 0 0 var(--line-bold) var(--ink);
}
.words,
.tag {
  overflow: hidden;
  text-overflow: ellipsis;
}
.tag {
  font-size: var(--type-lead);
  line-height: 1.3;
}
@media (--tablet) {
  .columns {
    grid-template-columns: 3.5rem 1fr 5rem;
  }
  .columns > :nth-child(n + 4) {
    display: none;
  }
}
.row.picked {
  border-left: var(--line-bar) solid var(--focus);
}
</style>
