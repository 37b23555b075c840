<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useWithdrawNote, useWriteNote } from '../api/acts/notes'
import type { Shapes } from '../api/client'
import { useNotesOn } from '../api/queries/useNotes'
import { useWho } from '../shell/me'
import { t } from '../words/say'
import { age } from '../words/times'
import ActButton from './ActButton.vue'
import ChooseOne from './ChooseOne.vue'
import SaidNo from './SaidNo.vue'

/** What people wrote about a thing, and a line to write one more. */
const props = defineProps<{
  on: Shapes['NoteOn']
  name: string
  /** Paths of a roll's clips, where a note may be about one. */
  clips?: readonly string[]
}>()
const { whyNot } = useWho()
const notes = useNotesOn(props.on, () => props.name)
const writing = ref(false)
const words = ref('')
const clip = ref('')
const write = useWriteNote()
const withdraw = useWithdrawNote()
const about = computed(() => [
  { name: t('notes.all'), value: '' },
  ...(props.clips ?? []).map((path) => ({ name: path.split('/').at(-1) ?? path, value: path })),
])
const keep = () =>
  write.mutate(
    { on: props.on, name: props.name, words: words.value, clip: clip.value },
    {
      onSuccess: () => {
        words.value = clip.value = ''
        writing.value = false
      },
    },
  )
</script>

<template>
  <section class="notes" :aria-label="t('notes.title')" :data-notes="name">
    <ul v-if="notes.length">
      <li v-for="one in notes" :key="one.id" :class="{ mine: one.for_me }" data-note>
        <span
          ><b v-if="one.clip" class="tag">{{ one.clip.split('/').at(-1) }}: </b>{{ one.words }}</span
        >
        <span class="soft">{{ one.by }}, {{ age(one.at) }}</span>
        <b v-if="one.for_me">{{ t('notes.forYou') }}</b>
        <ActButton
          type="button"
          link
          :label="t('notes.withdraw')"
          :why-not="one.mine ? whyNot('note') : whyNot('set_up')"
          @press="withdraw.mutate(one.id)"
        />
      </li>
    </ul>
    <ActButton
      type="button"
      link
      :label="t('notes.write')"
      :aria-expanded="writing"
      :why-not="whyNot('note')"
      data-write-note
      @press="writing = !writing"
    />
    <form v-if="writing" class="line" @submit.prevent="keep">
      <label
        >{{ t('notes.words') }}
        <InputText
          v-model="words"
          class="field wide"
          autofocus
          :placeholder="t('notes.hint')"
          data-note-words
      /></label>
      <ChooseOne v-if="clips?.length" v-model="clip" :label="t('notes.about')" :options="about" data-clip />
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('notes.keep')"
        :why-not="words.trim() ? undefined : t('notes.sayIt')"
        :busy="write.isPending.value"
        data-keep-note
      />
    </form>
    <SaidNo :error="write.error.value ?? withdraw.error.value" />
  </section>
</template>

<style scoped>
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-3);
  align-items: baseline;
  padding: var(--space-1) 0 var(--space-1) var(--space-3);
  border-left: var(--line-bold) solid var(--hair);
}
li.mine {
  border-left-color: var(--ink);
}
.wide {
  width: min(28rem, 80vw);
}
</style>
