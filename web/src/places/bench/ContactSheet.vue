<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { HERE } from '../../api/here'
import HoldingMark from '../../marks/HoldingMark.vue'
import { clockToSecond } from '../../words/times'
import { counted } from '../../words/units'
import { useClipList } from './clipList'
import type { Clip } from './clips'
import { hung, type Hung } from './hanging'
import { CLIP_KINDS } from '../../words/kinds'
import { t } from '../../words/say'

/** Pictures hang along their time from a line, a new line after each pause in the shooting; a peg says what is held. */
const props = defineProps<{ clips: Clip[]; timeZone: string; picked: ReadonlySet<string> }>()
const emit = defineEmits<{ pick: [paths: string[], add: boolean] }>()
const chosen = defineModel<string>({ required: true })

const PICTURE = 166
const HEADING = 34
const ROW = 150

const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const across = computed(() => Math.max(2, Math.floor((width.value || 1180) / PICTURE)))
const rows = computed(() => hung(props.clips, across.value))
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => box.value,
    estimateSize: (index: number) => (rows.value[index]?.pause ? HEADING : ROW),
    overscan: 4,
  })),
)
const drawn = computed(() =>
  virtual.value.getVirtualItems().flatMap(({ index, start }) => {
    const row = rows.value[index]
    return row ? [{ top: start, row }] : []
  }),
)
const stretch = ({ pause }: Hung) =>
  pause
    ? t('times.fromTo', {
        from: clockToSecond(pause.from, props.timeZone).slice(0, 5),
        to: clockToSecond(pause.until, props.timeZone).slice(0, 5),
      })
    : ''

const { press, move, optionId } = useClipList({
  clips: () => props.clips,
  chosen,
  pick: (paths, add) => emit('pick', paths, add),
  across: () => across.value,
  above: (at) => rows.value.findIndex((row) => row.clips.some((clip) => clip.path === props.clips[at]?.path)),
  show: (row) => virtual.value.scrollToIndex(row),
})
</script>

<template>
  <div
    ref="box"
    class="sheet"
    tabindex="0"
    role="listbox"
    aria-multiselectable="true"
    :aria-activedescendant="chosen ? optionId(chosen) : undefined"
    :aria-label="t('contactSheet.picturesArrowKeysChooseOne')"
    data-sheet
    @keydown="move"
  >
    <div class="all" role="presentation" :style="{ height: `${virtual.getTotalSize()}px` }">
      <div
        v-for="{ top, row } in drawn"
        :key="top"
        class="row"
        role="presentation"
        :style="{ transform: `translateY(${top}px)` }"
      >
        <p v-if="row.pause" class="stretch" role="presentation" data-stretch>
          <span class="tag">{{ stretch(row) }}</span>
          <span class="soft">{{ counted(row.pause.clips, 'clip') }}</span>
        </p>
        <div v-else class="line" role="presentation">
          <div
            v-for="clip in row.clips"
            :id="optionId(clip.path)"
            :key="clip.path"
            role="option"
            class="hung"
            :aria-selected="picked.has(clip.path)"
            :class="{ chosen: clip.path === chosen, picked: picked.has(clip.path) }"
            :data-picked="picked.has(clip.path)"
            :data-clip="clip.name"
            :data-holding="clip.holding"
            :data-odd="clip.odd >= 0"
            @click="press($event, clip.path)"
          >
            <HoldingMark class="peg" :holding="clip.holding" :odd="clip.odd >= 0" :size="24" />
            <img
              v-if="clip.preview"
              :src="`/api/productions/${HERE}/footage/${clip.preview}/preview`"
              alt=""
              loading="lazy"
            />
            <span v-else class="none">{{ CLIP_KINDS[clip.kind] ?? clip.kind }}</span>
            <span class="name">{{ clip.name }}</span>
            <span class="unseen">{{ clockToSecond(clip.starts, timeZone) }}</span>
          </div>
        </div>
      </div>
    </div>
  </div>
</template>

<style scoped>
.sheet {
  max-height: min(66vh, 40rem);
  overflow-y: auto;
  border: var(--line) solid var(--hair);
  background: var(--sheet);
}
.all {
  position: relative;
}
.row {
  position: absolute;
  inset: 0 0 auto;
}
.stretch {
  display: flex;
  gap: var(--space-3);
  align-items: end;
  height: 2.125rem;
  padding: 0 var(--space-3) var(--space-1);
}
.line {
  display: grid;
  grid-template-columns: repeat(v-bind(across), 1fr);
  padding: 0 var(--space-1);
}
.hung {
  position: relative;
  display: grid;
  grid-template-rows: 1.5rem 6rem 1.5rem;
  justify-items: center;
  min-width: 0;
  padding-top: var(--space-half);
  font-size: var(--type-note);
  cursor: pointer;
}
/* The line that the pictures hang from runs behind the pegs, through every picture of the row. */
.hung::before {
  content: '';
  position: absolute;
  top: 0.875rem;
  left: 0;
  justify-self: stretch;
  width: 100%;
  border-top: var(--line) solid var(--ink-soft);
}
.peg {
  position: relative;
  background: var(--sheet);
}
img,
.none {
  position: relative;
  width: calc(100% - 0.75rem);
  height: 6rem;
  object-fit: contain;
}
.none {
  display: grid;
  place-items: center;
  border: var(--line-thin) dashed var(--ink-soft);
}
.name {
  max-width: 100%;
  overflow: hidden;
  padding: 0 var(--space-1);
  font: 700 var(--type-body)/1.5rem var(--tag);
  text-overflow: ellipsis;
  white-space: nowrap;
}
.hung.chosen {
  box-shadow: inset 0 0 0 var(--line-bold) var(--ink);
}
.hung.picked .name {
  background: var(--focus);
  color: var(--sheet);
}
.hung.picked::after {
  content: '';
  position: absolute;
  inset: 0;
  border: var(--line-bar) solid var(--focus);
  pointer-events: none;
}
</style>
