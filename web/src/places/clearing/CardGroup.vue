<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import PennantMark from '../../marks/PennantMark.vue'
import { counted } from '../../words/units'
import CaseRow from './CaseRow.vue'
import { t } from '../../words/say'

/** Cards of which the same is asked, each camera's under its pennant, so that one is found by its camera first. */
const props = defineProps<{
  title: string
  cards: readonly Shapes['CaseOut'][]
  /** How many there are in all; the rest is on later pages. */
  inAll: number
  empty?: string
  scanned: string
  cameras: readonly Shapes['CameraOut'][]
}>()
defineEmits<{ sign: [card: number] }>()

interface OfCamera {
  camera: Shapes['CameraOut']
  cards: Shapes['CaseOut'][]
}
const byCamera = computed(() =>
  props.cards.reduce<OfCamera[]>((found, one) => {
    const last = found.at(-1)
    if (last?.camera.letter === one.camera.letter) last.cards.push(one)
    else found.push({ camera: one.camera, cards: [one] })
    return found
  }, []),
)
</script>

<template>
  <section v-if="inAll || empty">
    <h2>
      {{ title }} <span v-if="inAll" class="soft">{{ counted(inAll, 'card') }}</span>
    </h2>
    <p v-if="!inAll" class="soft">{{ empty }}</p>
    <div v-for="of in byCamera" :key="of.camera.letter" class="camera" :data-camera="of.camera.letter">
      <h3>
        <PennantMark :letter="of.camera.letter" :size="44" />
        <span class="unseen">{{ t('cardGroup.camera', { letter: of.camera.letter }) }}</span>
      </h3>
      <ul>
        <CaseRow
          v-for="one in of.cards"
          :key="one.card_id"
          :one="one"
          :cameras="cameras"
          :scanned="one.label.toUpperCase() === scanned"
          @sign="$emit('sign', one.card_id)"
        />
      </ul>
    </div>
  </section>
</template>

<style scoped>
section {
  margin-bottom: var(--space-6);
}
h2 {
  padding-bottom: var(--space-1);
  border-bottom: var(--line) solid var(--ink);
}
h2 .soft {
  font: 400 var(--type-body) / 1 var(--text);
}
.camera {
  display: grid;
  grid-template-columns: 4rem minmax(0, 1fr);
  border-bottom: var(--line-hair) solid var(--hair);
}
h3 {
  padding-top: var(--space-3);
}
ul > :last-child {
  border-bottom: 0;
}
@media (--tablet) {
  .camera {
    grid-template-columns: minmax(0, 1fr);
  }
  h3 {
    padding: var(--space-2) 0 0;
  }
}
</style>
