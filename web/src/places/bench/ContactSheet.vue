<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize } from '@vueuse/core'
import { computed, useTemplateRef } from 'vue'
import { HERE } from '../../api/here'
import HoldingMark from '../../marks/HoldingMark.vue'
import { clockToSecond } from '../../words/times'
import { clipAfter, type Clip } from './clips'

/** Pictures from the card's own embedded previews, in shooting order. Only what is on the screen is drawn. */
const props = defineProps<{ clips: Clip[]; timeZone: string; picked: ReadonlySet<string> }>()
const emit = defineEmits<{ pick: [path: string, through: boolean] }>()
const chosen = defineModel<string>({ required: true })

const TILE = 158
const ROW = 148
const box = useTemplateRef<HTMLElement>('box')
const { width } = useElementSize(box)
const across = computed(() => Math.max(2, Math.floor((width.value || 1180) / TILE)))
const virtual = useVirtualizer(
  computed(() => ({
    count: Math.ceil(props.clips.length / across.value),
    getScrollElement: () => box.value,
    estimateSize: () => ROW,
    overscan: 3,
  })),
)
const rows = computed(() =>
  virtual.value.getVirtualItems().map((row) => ({
    top: row.start,
    clips: props.clips.slice(row.index * across.value, (row.index + 1) * across.value),
  })),
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
  const to = clipAfter(event, props.clips, chosen.value, across.value)
  if (to === undefined) return
  event.preventDefault()
  chosen.value = props.clips[to]?.path ?? ''
  virtual.value.scrollToIndex(Math.floor(to / across.value))
}
</script>

<template>
  <div
    ref="box"
    class="sheet"
    tabindex="0"
    role="group"
    aria-label="Contact sheet; arrow keys choose a clip, Space picks it"
    data-sheet
    @keydown="move"
  >
    <div class="all" :style="{ height: `${virtual.getTotalSize()}px` }">
      <ul v-for="row in rows" :key="row.top" :style="{ transform: `translateY(${row.top}px)` }">
        <li
          v-for="clip in row.clips"
          :key="clip.path"
          :class="{ chosen: clip.path === chosen, picked: picked.has(clip.path) }"
          :data-picked="picked.has(clip.path)"
          :data-clip="clip.name"
          :data-holding="clip.holding"
          :data-odd="clip.odd >= 0"
          @click="press($event, clip.path)"
        >
          <span class="picture">
            <img
              v-if="clip.preview"
              :src="`/api/productions/${HERE}/footage/${clip.preview}/preview`"
              alt=""
              loading="lazy"
            />
            <span v-else class="none">{{ clip.kind }}</span>
            <HoldingMark class="mark" :holding="clip.holding" :odd="clip.odd >= 0" :size="22" />
          </span>
          <span class="name">{{ clip.name }}</span>
          <span class="when">{{ clockToSecond(clip.starts, timeZone) }}</span>
        </li>
      </ul>
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
ul {
  position: absolute;
  inset: 0 0 auto;
  display: grid;
  grid-template-columns: repeat(v-bind(across), 1fr);
}
li {
  display: grid;
  grid-template-columns: 1fr auto;
  align-content: start;
  gap: 0 var(--space-1h);
  min-width: 0;
  padding: var(--space-1h);
  font-size: var(--type-note);
  cursor: pointer;
}
li.chosen {
  box-shadow: inset 0 0 0 var(--line-bold) var(--ink);
}
li.picked .picture::after {
  content: '';
  position: absolute;
  inset: 0;
  border: var(--line-bar) solid var(--focus);
}
li.picked .picture::before {
  content: '✓';
  position: absolute;
  top: 0;
  left: 0;
  z-index: 1;
  padding: 0 var(--space-2);
  background: var(--focus);
  color: var(--sheet);
  font: 700 var(--type-tag)/var(--type-title) var(--tag);
}
.picture {
  position: relative;
  grid-column: 1 / -1;
  display: grid;
  place-items: center;
  height: 6.75rem;
  background: var(--hull);
  color: var(--hull-ink);
  overflow: hidden;
}
img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
[data-holding='held'] img,
[data-holding='left'] img {
  opacity: 0.5;
}
.mark {
  position: absolute;
  right: 0;
  bottom: 0;
  padding: var(--space-half);
  background: var(--sheet);
  color: var(--ink);
}
.name {
  overflow: hidden;
  font: 700 var(--type-body)/1.3 var(--tag);
  text-overflow: ellipsis;
  white-space: nowrap;
}
.when {
  color: var(--ink-soft);
}
</style>
