<script setup lang="ts">
import { ref } from 'vue'
import { useNoteOpening } from '../../api/acts/copies'
import { HERE } from '../../api/here'
import BoxDialog from '../../shell/BoxDialog.vue'
import { t } from '../../words/say'

/** A roll's pictures on one line, in the order of its files; one that is opened is noted as looked at. */
interface Picture {
  path: string
  preview: number
  name: string
  body: string
}
const props = defineProps<{ pictures: readonly Picture[]; tag: string }>()
const opened = ref<Picture>()
const shown = ref(false)
const note = useNoteOpening()
const of = (one: Picture) => `/api/productions/${HERE}/footage/${one.preview}/preview`
function open(one: Picture) {
  opened.value = one
  shown.value = true
}
/** Only a picture that came up was looked at. */
function seen() {
  if (opened.value) note.mutate({ tag: props.tag, path: opened.value.path })
}
</script>

<template>
  <ul class="rope" tabindex="0" role="list" :aria-label="t('hungPictures.picturesOfThisRoll')" data-hung>
    <li v-for="one in pictures" :key="one.name + one.preview">
      <button type="button" :aria-label="t('hungPictures.open', { name: one.name })" @click="open(one)">
        <img :src="of(one)" :title="one.body" alt="" loading="lazy" />
      </button>
      <span class="tag">{{ one.name }}</span>
    </li>
  </ul>
  <BoxDialog v-model:visible="shown" :title="opened?.name ?? ''">
    <img v-if="opened" class="large" :src="of(opened)" :alt="opened.name" data-opened-picture @load="seen" />
    <p class="soft">{{ opened?.body }}</p>
  </BoxDialog>
</template>

<style scoped>
.rope {
  display: flex;
  margin-top: var(--space-4);
  border-top: var(--line) solid var(--ink-soft);
  overflow-x: auto;
}
li {
  display: grid;
  flex: none;
  justify-items: center;
  padding: 0 var(--space-2) var(--space-1);
}
/* The peg that holds it. */
li::before {
  content: '';
  width: 0.5rem;
  height: 0.75rem;
  margin-top: calc(-1 * var(--space-1));
  background: var(--ink);
}
button {
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
li img {
  height: 6rem;
}
.large {
  width: 100%;
}
</style>
