<script setup lang="ts">
import { HERE } from '../../api/here'
import { t } from '../../words/say'

/** A roll's pictures on one line, in the order of its files; more of them to the right. */
defineProps<{ pictures: readonly { preview: number; name: string; body: string }[] }>()
</script>

<template>
  <ul class="rope" tabindex="0" role="list" :aria-label="t('hungPictures.picturesOfThisRoll')" data-hung>
    <li v-for="one in pictures" :key="one.name + one.preview">
      <img
        :src="`/api/productions/${HERE}/footage/${one.preview}/preview`"
        :title="one.body"
        alt=""
        loading="lazy"
      />
      <span class="tag">{{ one.name }}</span>
    </li>
  </ul>
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
img {
  height: 6rem;
}
</style>
