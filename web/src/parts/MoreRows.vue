<script setup lang="ts">
import Button from 'primevue/button'
import { useIntersectionObserver } from '@vueuse/core'
import { useTemplateRef } from 'vue'

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
    <Button class="act quiet small" :label="words" :disabled="asking" data-more @click="emit('more')" />
  </p>
</template>

<style scoped>
.more {
  padding: var(--space-3) 0;
}
</style>
