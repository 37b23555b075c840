<script setup lang="ts">
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useNoteOpening } from '../../api/acts/copies'
import type { Shapes } from '../../api/client'
import { pictureOf, wantLight } from '../../api/queries/useClips'
import BoxDialog from '../../shell/BoxDialog.vue'
import { useWho } from '../../shell/me'
import ActButton from '../ActButton.vue'
import { t } from '../../words/say'
import ClipMarks from './ClipMarks.vue'
import PixelView from './PixelView.vue'
import PlayLight from './PlayLight.vue'
import SwingLines from './SwingLines.vue'
import WhetherDecoded from './WhetherDecoded.vue'
import { useCloseUp } from './closeUp'
import { headerSays } from './headerSays'

/** The clips of a roll, one after the other, large. Arrows go on; a clip that came up is noted as opened. */
type Clip = Shapes['RollClip']
const props = defineProps<{ tag: string; clips: readonly Clip[] }>()
const at = defineModel<number | undefined>('at', { required: true })
const note = useNoteOpening()
const { me, may } = useWho()
const clip = computed(() => (at.value === undefined ? undefined : props.clips[at.value]))
const { close, possible, wanted, spot, magnified, toggle, press: pressCloseUp } = useCloseUp(clip)
const marks = useTemplateRef('marks')
const player = useTemplateRef('player')
const box = useTemplateRef('box')
/** Where the player stands, as the recording counts. */
const standing = ref('')
const light = computed(() =>
  clip.value?.pictures.light ? pictureOf(props.tag, clip.value, 'light') : undefined,
)
/** Why a recording that was gone through cannot be played. */
const unplayed = computed(() => {
  if (!clip.value?.gone_through || light.value || clip.value.kind === 'still') return ''
  const note = clip.value.light_note
  return note ? t('lookThrough.noLight', { note }) : t('lookThrough.lightLater')
})
/** Where the player stands, in seconds. */
const seconds = ref(0)
/** Stays beside those that one goes on to. */
const held = ref<Clip>()
const beside = computed(() => (held.value && held.value.id !== clip.value?.id ? held.value : undefined))
const nameOf = (one: Clip) => one.path.split('/').at(-1) ?? ''
const name = computed(() => (clip.value ? nameOf(clip.value) : ''))
const shown = computed({
  get: () => clip.value !== undefined,
  set: (open) => {
    if (!open) at.value = undefined
  },
})
const large = (one: Clip | undefined) => one && pictureOf(props.tag, one, 'large', 'small')
const strip = computed(() =>
  clip.value?.pictures.strip ? pictureOf(props.tag, clip.value, 'strip') : undefined,
)
const sound = computed(() =>
  clip.value?.pictures.wave ? pictureOf(props.tag, clip.value, 'wave') : undefined,
)

function go(to: number) {
  const last = props.clips.length - 1
  if (at.value !== undefined) at.value = Math.min(last, Math.max(0, to))
}
const STEPS: Record<string, (now: number) => number> = {
  ArrowLeft: (now) => now - 1,
  ArrowRight: (now) => now + 1,
  Home: () => 0,
  End: () => props.clips.length - 1,
}
function press(event: KeyboardEvent) {
  if (at.value === undefined || event.ctrlKey || event.metaKey || event.altKey) return
  const target = event.target as HTMLElement
  const itsOwn = target.matches('input, [role=slider], [role=combobox]')
  if (itsOwn || (event.key === ' ' && target.matches('button'))) return
  const step = event.shiftKey ? undefined : STEPS[event.key]
  if (step) go(step(at.value))
  else if (event.key.toLowerCase() === 'b') hold()
  else if (!pressCloseUp(event) && !player.value?.press(event) && !marks.value?.press(event)) return
  event.preventDefault()
}
function hold() {
  held.value = held.value?.id === clip.value?.id ? undefined : clip.value
}
/** The preview that a recording carries is not the recording: where that could not be shown, nobody looked at it. */
const counts = computed(
  () => !clip.value?.note || Boolean(clip.value.pictures.large ?? clip.value.pictures.small),
)
function looked() {
  const now = clip.value
  if (!now || now.opened || me.screen || !may('see_work')) return // nobody knows who looks, or they answer for nothing
  note.mutate({ tag: props.tag, path: now.path })
}
/** A picture that comes when one has gone on to the next clip was not looked at, and neither was the next. */
function came(event: Event) {
  if ((event.target as HTMLImageElement).isConnected && counts.value) looked()
}
function heard() {
  if (clip.value?.kind === 'sound') looked()
}
/** The next ones are fetched while one looks at this one, so that nobody waits for them. */
watch(at, async (now) => {
  seconds.value = 0
  if (now === undefined) {
    wanted.value = false
    held.value = undefined
    return
  }
  if (clip.value?.light_forgotten) void wantLight(props.tag, clip.value)
  for (const next of [now + 1, now + 2, now - 1]) {
    const address = large(props.clips[next])
    if (address) new Image().src = address
  }
  await nextTick()
  if (document.activeElement === document.body) box.value?.focus() // what had the keyboard went with its clip
})
</script>

<template>
  <BoxDialog v-model:visible="shown" :title="name" wide>
    <div v-if="clip" ref="box" class="look" data-look-through tabindex="0" autofocus @keydown="press">
      <p class="where">
        <span data-look-at>{{ t('lookThrough.of', { at: (at ?? 0) + 1, all: clips.length }) }}</span>
        <span class="soft">{{ headerSays(clip) }}</span>
      </p>
      <div v-if="close" class="pair" :class="{ two: beside }">
        <PixelView
          v-if="beside"
          v-model:spot="spot"
          :tag="tag"
          :clip="beside"
          :seconds="0"
          :magnified="magnified"
        />
        <PixelView v-model:spot="spot" :tag="tag" :clip="clip" :seconds="seconds" :magnified="magnified" />
        <p class="soft">
          {{ t(clip.carried ? 'lookThrough.closeRaw' : 'lookThrough.close') }}
          {{ t('lookThrough.closeKeys', { times: magnified }) }}
        </p>
      </div>
      <div v-else class="pair" :class="{ two: beside }">
        <figure v-if="beside" class="held" data-held>
          <img :src="large(beside)" :alt="beside.path" />
          <figcaption class="soft">{{ t('lookThrough.held', { name: nameOf(beside) }) }}</figcaption>
        </figure>
        <PlayLight
          v-if="light"
          :key="light"
          ref="player"
          v-model:now="standing"
          v-model:seconds="seconds"
          :from="light"
          :timecode="clip.timecode"
          :rate="clip.rate"
          :poster="large(clip)"
          :seen="clip.kind === 'video'"
          @looked="looked"
        />
        <div class="stage" :class="{ unseen: light }">
          <img
            v-if="large(clip)"
            :key="clip.id"
            :src="large(clip)"
            :alt="name"
            data-opened-picture
            @load="came"
          />
          <p v-else-if="!sound" class="soft">
            {{ clip.gone_through ? t('lookThrough.nothing') : t('lookThrough.notYet') }}
          </p>
        </div>
      </div>
      <p v-if="unplayed" class="soft" data-unplayed>{{ unplayed }}</p>
      <p v-if="clip.note" class="trouble" data-look-note>{{ t('lookThrough.note', { note: clip.note }) }}</p>
      <img v-if="strip" class="strip" :src="strip" :alt="t('lookThrough.strip')" data-look-strip />
      <WhetherDecoded v-if="clip.decoded" :found="clip.decoded" />
      <SwingLines v-if="sound" :key="sound" :from="sound" @drawn="heard" />
      <p class="acts">
        <ActButton
          class="quiet small"
          :label="t('lookThrough.back')"
          :why-not="at === 0 ? t('lookThrough.first') : undefined"
          @press="go((at ?? 0) - 1)"
        />
        <ActButton
          class="quiet small"
          :label="t('lookThrough.on')"
          :why-not="at === clips.length - 1 ? t('lookThrough.last') : undefined"
          @press="go((at ?? 0) + 1)"
        />
        <ActButton
          class="quiet small"
          :label="close ? t('lookThrough.fit') : t('lookThrough.pixels')"
          :why-not="possible ? undefined : t('lookThrough.noPixels')"
          data-close
          @press="toggle"
        />
        <ActButton
          class="quiet small"
          :label="held?.id === clip.id ? t('lookThrough.letGo') : t('lookThrough.hold')"
          data-hold
          @press="hold"
        />
        <span class="soft">{{ t('lookThrough.keys') }}</span>
      </p>
      <ClipMarks v-if="may('see_work')" ref="marks" :tag="tag" :path="clip.path" :standing="standing" />
    </div>
  </BoxDialog>
</template>

<style scoped>
.look {
  display: grid;
  gap: var(--space-2);
}
.where,
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: baseline;
}
.stage {
  display: grid;
  place-items: center;
  min-height: 8rem;
  max-height: 55vh;
  overflow: auto;
}
.stage img {
  max-width: 100%;
  max-height: 55vh;
}
.stage.unseen {
  display: none;
}
.pair {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: var(--space-2) var(--space-4);
}
.pair.two {
  grid-template-columns: repeat(2, minmax(0, 1fr));
}
.pair > p {
  grid-column: 1 / -1;
}
.held {
  margin: 0;
}
.held img {
  max-width: 100%;
  max-height: 45vh;
}
.strip {
  width: 100%;
}
</style>
