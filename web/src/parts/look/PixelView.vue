<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Shapes } from '../../api/client'
import { pictureOf, pixelsOf, whyNoPixels, type Spot } from '../../api/queries/useClips'
import { t } from '../../words/say'

/** A window on a clip, pixel for pixel, and where in the picture it is. */
const props = defineProps<{
  tag: string
  clip: Shapes['RollClip']
  /** Seconds within the frame that is meant. */
  seconds: number
  /** So many pixels of the screen for each that was recorded, each way. */
  magnified: number
}>()
const spot = defineModel<Spot>('spot', { required: true })
const why = ref('')
const there = ref(false)
const shown = () => pixelsOf(props.tag, props.clip, spot.value, props.seconds)
watch(shown, () => {
  why.value = ''
  there.value = false
})
async function ask() {
  const asked = shown()
  const said = await whyNoPixels(props.tag, props.clip, spot.value, props.seconds)
  if (asked === shown()) why.value = said
}
function point(event: MouseEvent) {
  const box = (event.currentTarget as HTMLElement).getBoundingClientRect()
  spot.value = {
    x: Math.min(1, Math.max(0, (event.clientX - box.left) / box.width)),
    y: Math.min(1, Math.max(0, (event.clientY - box.top) / box.height)),
  }
}
</script>

<template>
  <figure class="close" data-pixels>
    <p v-if="why" class="trouble pane" data-no-pixels>{{ why }}</p>
    <div v-else class="pane" :aria-busy="!there">
      <img
        :key="shown()"
        :src="shown()"
        :alt="t('pixelView.part', { name: clip.path.split('/').at(-1) ?? '' })"
        :style="{ transform: `scale(${String(magnified)})` }"
        data-pixels-shown
        @load="there = true"
        @error="ask"
      />
    </div>
    <div class="map" data-pixels-map @click="point">
      <img :src="pictureOf(tag, clip, 'small', 'large')" alt="" />
      <span class="spot" :style="{ left: `${String(100 * spot.x)}%`, top: `${String(100 * spot.y)}%` }" />
    </div>
  </figure>
</template>

<style scoped>
.close {
  position: relative;
  min-width: 0;
  margin: 0;
}
.pane {
  height: min(33.75rem, 52vh);
  overflow: hidden;
  background: var(--hair);
}
p.pane {
  padding: var(--space-4);
  background: none;
}
.pane img {
  width: 100%;
  height: 100%;
  object-fit: none;
  image-rendering: pixelated;
}
.map {
  position: absolute;
  right: 0;
  bottom: 0;
  border: var(--line) solid var(--ink);
  cursor: crosshair;
}
.map img {
  display: block;
  max-width: 9rem;
  max-height: 6rem;
}
.spot {
  position: absolute;
  width: 0.75rem;
  height: 0.75rem;
  margin: -0.375rem;
  border: var(--line-bold) solid var(--sheet);
  outline: var(--line) solid var(--ink);
}
</style>
