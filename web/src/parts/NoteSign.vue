<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../api/client'
import { useNotesOn } from '../api/queries/useNotes'
import { t } from '../words/say'

/** That somebody wrote something about a thing: the newest words, wherever the thing is seen. */
const props = defineProps<{ on: Shapes['NoteOn']; name: string }>()
const notes = useNotesOn(props.on, () => props.name)
const more = computed(() =>
  notes.value.length > 1 ? t('notes.more', { count: notes.value.length - 1 }) : '',
)
</script>

<template>
  <small
    v-if="notes[0]"
    class="note-sign"
    :title="notes.map((one) => `${one.by}: ${one.words}`).join('\n')"
    :data-note-on="name"
    >“<span>{{ notes[0].words }}</span
    >”{{ more }}</small
  >
</template>

<style scoped>
.note-sign {
  display: flex;
  gap: 0;
  max-width: 22rem;
  font-style: italic;
}
span {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
