<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, useTemplateRef } from 'vue'
import HoldingMark from '../../marks/HoldingMark.vue'
import { HOLDING_WORDS } from '../../marks/holding'
import { clockToSecond, lasting } from '../../words/times'
import { bytes, counted } from '../../words/units'
import { clipAfter, type Clip } from './clips'

/** The same clips as rows, for those who want to read rather than look. */
const props = defineProps<{ clips: Clip[]; timeZone: string; picked: ReadonlySet<string> }>()
const emit = defineEmits<{ pick: [path: string, through: boolean] }>()
const chosen = defineModel<string>({ required: true })

const ROW = 34
const box = useTemplateRef<HTMLElement>('box')
const virtual = useVirtualizer(
  computed(() => ({
    count: props.clips.length,
    getScrollElement: () => box.value,
    estimateSize: () => ROW,
    overscan: 8,
  })),
)
const rows = computed(() =>
  virtual.value.getVirtualItems().flatMap((row) => {
    const clip = props.clips[row.index]
    return clip ? [{ top: row.start, clip }] : []
  }),
)

function press(event: MouseEvent, path: string) {
  if (event.ctrlKey || event.metaKey || event.shiftKey) emit('pick', path, event.shiftKey)
  chosen.value = path
}
function move(event: KeyboardEvent) {
  if (event.key === ' ' && chosen.value) {
    event.preventDefault()
    emit('pick', chosen.value, event.shiftKey)
    return
  }
  const to = clipAfter(event, props.clips, chosen.value, 1)
  if (to === undefined) return
  event.preventDefault()
  chosen.value = props.clips[to]?.path ?? ''
  virtual.value.scrollToIndex(to)
}
</script>

<template>
  <div
    ref="box"
    class="list"
    tabindex="0"
    role="group"
    aria-label="Clips as a list; arrow keys choose a clip, Space picks it"
    data-list
    @keydown="move"
  >
    <ul :style="{ height: `${virtual.getTotalSize()}px` }">
      <li
        v-for="{ top, clip } in rows"
        :key="clip.path"
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
        <span class="words soft">{{ HOLDING_WORDS[clip.holding].split(':')[0] }} {{ clip.roll }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.list {
  max-height: min(66vh, 40rem);
  overflow-y: auto;
  border: var(--line) solid var(--hair);
  background: var(--sheet);
}
ul {
  position: relative;
}
li {
  position: absolute;
  inset: 0 0 auto;
  display: grid;
  grid-template-columns: 1.5rem 12rem 5.25rem 4.5rem 10.5rem 1fr 9.5rem;
  gap: var(--space-2);
  align-items: center;
  height: 2rem;
  padding: 0 var(--space-2);
  border-bottom: var(--line-hair) solid var(--hair);
  white-space: nowrap;
}
li.chosen {
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
  li {
    grid-template-columns: 1.5rem 1fr 5rem;
  }
  li > :nth-child(n + 4) {
    display: none;
  }
}
li.picked {
  border-left: var(--line-bar) solid var(--focus);
}
</style>
