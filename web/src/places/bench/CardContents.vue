<script setup lang="ts">
import { computed, ref } from 'vue'
import { useJoinChapters } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import HoldingMark from '../../marks/HoldingMark.vue'
import { HOLDING_BRIEF, HOLDING_WORDS, type Holding } from '../../marks/holding'
import { useWho } from '../../shell/me'
import ClipList from './ClipList.vue'
import ContactSheet from './ContactSheet.vue'
import type { Clip } from './clips'
import { number, t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** The clips of a card to look at: a contact sheet or a list, all of them or only what is new, changed or odd. */
const props = defineProps<{
  contents: Shapes['ContentsOut']
  clips: Clip[]
  timeZone: string
  picked: ReadonlySet<string>
  cardId: number | null
}>()
defineEmits<{ pick: [paths: string[], add: boolean] }>()
const { whyNot } = useWho()
const join = useJoinChapters()
const asList = ref(false)
const only = ref<Holding | 'odd'>()
const chosen = ref('')

const shown = computed(() =>
  props.clips.filter((clip) =>
    only.value === undefined ? true : only.value === 'odd' ? clip.odd >= 0 : clip.holding === only.value,
  ),
)
const counts = computed(() =>
  (Object.keys(HOLDING_WORDS) as Holding[])
    .map((holding) => ({ holding, count: props.contents.clip_holdings[holding] ?? 0 }))
    .filter((one) => one.count),
)
const odd = computed(() => props.contents.clips_odd)
const one = computed(() => props.clips.find((clip) => clip.path === chosen.value))
const pick = (what: Holding | 'odd') => (only.value = only.value === what ? undefined : what)
</script>

<template>
  <section class="clips" :aria-label="t('cardContents.clipsOnThisCard')">
    <div class="bar">
      <span class="soft">{{ t('cardContents.clips') }}</span>
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
        {{ number(count) }} {{ HOLDING_BRIEF[holding] }}
      </button>
      <button
        v-if="odd"
        type="button"
        class="pick"
        :aria-pressed="only === 'odd'"
        data-pick="odd"
        @click="pick('odd')"
      >
        <HoldingMark holding="new" odd :size="22" /> {{ t('cardContents.odd', { odd: number(odd) }) }}
      </button>
      <span v-if="contents.clips_in_all > clips.length" class="soft" data-more-coming>{{
        t('cardContents.more', { count: number(contents.clips_in_all - clips.length) })
      }}</span>
      <span v-if="!contents.headers_read" class="soft" data-arriving>{{
        t('cardContents.readingHeadersAndPreviews')
      }}</span>
      <button type="button" class="pick turn" data-turn @click="asList = !asList">
        {{ asList ? t('cardContents.asPictures') : t('cardContents.asAList') }}
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
        <span v-if="one.roll">{{ t('cardContents.in', { roll: one.roll }) }}</span>
        <ActButton
          v-if="cardId && one.kind === 'video' && one.holding === 'held' && one.chapters > 1"
          type="button"
          class="quiet small"
          :label="t('cardContents.joinItsChaptersBesideThe', { chapters: one.chapters })"
          data-join
          :why-not="whyNot('offload')"
          :busy="join.isPending.value"
          @press="join.mutate({ card: cardId, path: one.path })"
        />
        <span v-if="join.isSuccess.value" class="soft">{{ t('cardContents.askedForTheLogSays') }}</span>
        <SaidNo :error="join.error.value" />
        <span v-if="contents.findings[one.odd]" class="trouble">{{
          contents.findings[one.odd]?.sentence
        }}</span>
      </template>
      <span v-else class="soft">{{ t('cardContents.chooseAClipToRead') }}</span>
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
