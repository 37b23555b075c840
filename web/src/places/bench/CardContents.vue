<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useJoinChapters } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import HoldingMark from '../../marks/HoldingMark.vue'
import { HOLDING_WORDS, type Holding } from '../../marks/holding'
import { useWho } from '../../shell/me'
import ClipList from './ClipList.vue'
import ContactSheet from './ContactSheet.vue'
import type { Clip } from './clips'

/** The clips of a card to look at: a contact sheet or a list, all of them or only what is new, changed or odd. */
const props = defineProps<{
  contents: Shapes['ContentsOut']
  clips: Clip[]
  timeZone: string
  picked: ReadonlySet<string>
  cardId: number | null
}>()
defineEmits<{ pick: [paths: string[], add: boolean] }>()
const { may } = useWho()
const join = useJoinChapters()
const asList = ref(false)
const only = ref<Holding | 'odd'>()
const chosen = ref('')

const shown = computed(() =>
  props.clips.filter((clip) =>
    only.value === undefined ? true : only.value === 'odd' ? clip.odd >= 0 : clip.holding === only.value,
  ),
)
const counts = computed(() => {
  const found = new Map<Holding, number>()
  for (const clip of props.clips) found.set(clip.holding, (found.get(clip.holding) ?? 0) + 1)
  return (Object.keys(HOLDING_WORDS) as Holding[])
    .map((holding) => ({ holding, count: found.get(holding) ?? 0 }))
    .filter((one) => one.count)
})
const odd = computed(() => props.clips.filter((clip) => clip.odd >= 0).length)
const one = computed(() => props.clips.find((clip) => clip.path === chosen.value))
const pick = (what: Holding | 'odd') => (only.value = only.value === what ? undefined : what)
</script>

<template>
  <section class="clips" aria-label="Clips on this card">
    <div class="bar">
      <button
        v-for="{ holding, count } in counts"
        :key="holding"
        type="button"
        class="pick"
        :aria-pressed="only === holding"
        :data-pick="holding"
        @click="pick(holding)"
      >
        <HoldingMark :holding="holding" :size="22" />
        {{ count.toLocaleString('en') }} {{ HOLDING_WORDS[holding].split(':')[0] }}
      </button>
      <button
        v-if="odd"
        type="button"
        class="pick"
        :aria-pressed="only === 'odd'"
        data-pick="odd"
        @click="pick('odd')"
      >
        <HoldingMark holding="new" odd :size="22" /> {{ odd.toLocaleString('en') }} odd
      </button>
      <span v-if="!contents.headers_read" class="soft" data-arriving>reading headers and previews…</span>
      <button type="button" class="pick turn" data-turn @click="asList = !asList">
        {{ asList ? 'as pictures' : 'as a list' }}
      </button>
    </div>
    <ClipList
      v-if="asList"
      v-model="chosen"
      :clips="shown"
      :time-zone="timeZone"
      :picked="picked"
      @pick="(paths, add) => $emit('pick', paths, add)"
    />
    <ContactSheet
      v-else
      v-model="chosen"
      :clips="shown"
      :time-zone="timeZone"
      :picked="picked"
      @pick="(paths, add) => $emit('pick', paths, add)"
    />
    <p class="one" aria-live="polite">
      <template v-if="one">
        <code>{{ one.path }}</code> {{ one.body }} {{ one.words }}
        <span v-if="one.roll">in {{ one.roll }}</span>
        <Button
          v-if="cardId && one.kind === 'video' && one.holding === 'held' && one.chapters > 1"
          class="act quiet small"
          :label="`Join its ${one.chapters} chapters beside the copies`"
          :disabled="!may('offload') || join.isPending.value"
          data-join
          @click="join.mutate({ card: cardId, path: one.path })"
        />
        <span v-if="join.isSuccess.value" class="soft">Asked for; the Log says what came of it.</span>
        <span v-if="join.error.value" role="alert" class="trouble">{{ join.error.value.message }}</span>
        <span v-if="contents.findings[one.odd]" class="trouble">{{
          contents.findings[one.odd]?.sentence
        }}</span>
      </template>
      <span v-else class="soft">Choose a clip to read what its header says.</span>
    </p>
  </section>
</template>

<style scoped>
.clips {
  margin-top: var(--space-4);
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-3);
  align-items: center;
  margin-bottom: var(--space-2);
}
.turn {
  margin-left: auto;
}
.one {
  min-height: 1.5rem;
  margin-top: var(--space-1h);
}
</style>
