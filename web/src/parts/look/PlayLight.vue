<script setup lang="ts">
import Slider from 'primevue/slider'
import { computed, onBeforeUnmount, ref, useTemplateRef } from 'vue'
import { t } from '../../words/say'
import { longClock } from '../../words/times'
import ActButton from '../ActButton.vue'
import { frameLength, timecodeAfter } from './timecode'

/** A light copy, played: with its timecode, and frame by frame. */
const props = defineProps<{
  from: string
  timecode: string
  rate: string
  poster?: string | undefined
  /** It has pictures; without them it is only heard. */
  seen: boolean
}>()
const emit = defineEmits<{ looked: [] }>()
/** The timecode of what is shown now; empty where the recording has none. */
const now = defineModel<string>('now', { default: '' })
/** Seconds within the frame that is shown; where it begins, when it comes up. */
const seconds = defineModel<number>('seconds', { default: 0 })
const player = useTemplateRef('player')
const at = ref(0)
const length = ref(0)
const playing = ref(false)
const broken = ref(false)
const step = computed(() => frameLength(props.rate))
const clock = computed(() => timecodeAfter(props.timecode, props.rate, at.value) || longClock(at.value))

function follow() {
  at.value = player.value?.currentTime ?? 0
  now.value = timecodeAfter(props.timecode, props.rate, at.value)
  seconds.value = at.value ? (frameAt(at.value) + 0.5) * step.value : 0
}
function begin() {
  length.value = player.value?.duration ?? 0
  if (seconds.value && player.value) player.value.currentTime = seconds.value
}
let frame = 0
function each() {
  follow()
  if (playing.value) frame = requestAnimationFrame(each)
}
function started() {
  playing.value = true
  each()
}
function stopped() {
  playing.value = false
  follow()
}
onBeforeUnmount(() => {
  cancelAnimationFrame(frame)
  now.value = ''
})
function toggle() {
  if (!player.value || broken.value) return
  if (playing.value) player.value.pause()
  else void player.value.play().catch(() => (broken.value = true))
}
/** To the middle of the frame before or after: what is shown is never between two. */
function go(by: number) {
  if (!player.value) return
  player.value.pause()
  seek(frameAt(player.value.currentTime) + by)
}
const frameAt = (seconds: number) => Math.floor(seconds / step.value + 0.02)
function seek(frame: number | number[]) {
  const to = (Math.max(0, Number(frame)) + 0.5) * step.value
  if (player.value) player.value.currentTime = Math.min(length.value, to)
}
function press(event: KeyboardEvent): boolean {
  if (event.key === ' ') toggle()
  else if (event.shiftKey && event.key === 'ArrowRight') go(1)
  else if (event.shiftKey && event.key === 'ArrowLeft') go(-1)
  else return false
  return true
}
defineExpose({ press })
</script>

<template>
  <figure class="play" data-play>
    <video
      v-show="seen"
      ref="player"
      :src="from"
      :poster="poster"
      preload="metadata"
      playsinline
      @loadedmetadata="begin"
      @play="started"
      @playing="emit('looked')"
      @pause="stopped"
      @ended="stopped"
      @seeked="follow"
      @error="broken = true"
    />
    <figcaption>
      <ActButton
        class="quiet small"
        :label="playing ? t('playLight.stop') : t('playLight.play')"
        :why-not="broken ? t('playLight.broken') : undefined"
        data-play-it
        @press="toggle"
      />
      <span class="tag clock" data-clock>{{ clock }}</span>
      <Slider
        class="slide"
        :model-value="frameAt(at)"
        :min="0"
        :max="Math.max(1, frameAt(length) - 1)"
        :aria-label="t('playLight.where')"
        :pt="{ handle: { 'aria-valuetext': clock } }"
        @update:model-value="seek"
      />
      <span class="soft">{{ t('playLight.keys') }}</span>
      <span v-if="seen" class="soft">{{ t('playLight.notSharp') }}</span>
    </figcaption>
  </figure>
</template>

<style scoped>
.play {
  display: grid;
  gap: var(--space-2);
  margin: 0;
}
video {
  justify-self: center;
  max-width: 100%;
  max-height: 45vh;
}
figcaption {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-4);
  align-items: center;
}
.clock {
  min-width: 7rem;
}
.slide {
  flex: 1 1 12rem;
}
</style>
