<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core'
import { useTemplateRef } from 'vue'
import ActButton from './ActButton.vue'

/** The end of a list of which more is on the server: it is asked for when somebody comes near, or presses. */
const props = defineProps<{ words: string; asking: boolean }>()
const emit = defineEmits<{ more: [] }>()
const end = useTemplateRef<HTMLElement>('end')
useIntersectionObserver(end, ([seen]) => {
  if (seen?.isIntersecting && !props.asking) emit('more')
})
</script>

<template>
  <p ref="end" class="more">
    <ActButton
      type="button"
      class="quiet small"
      :label="words"
      :busy="asking"
      data-more
      @press="emit('more')"
    />
  </p>
</template>

<style scoped>
.more {
  padding: var(--space-3) 0;
}
</style>
