<script setup lang="ts">
import { useIntersectionObserver, useTimeoutFn } from '@vueuse/core'
import { ref, useTemplateRef, watch } from 'vue'
import ActButton from './ActButton.vue'

/** The end of a list of which more is on the server: it is asked for when somebody comes near, or presses. */
const props = defineProps<{ words: string; asking: boolean }>()
const emit = defineEmits<{ more: [] }>()
const end = useTemplateRef<HTMLElement>('end')
const near = ref(false)
const ask = () => near.value && !props.asking && emit('more')
useIntersectionObserver(end, ([seen]) => {
  near.value = seen?.isIntersecting ?? false
  ask()
})
/** News that arrive meanwhile may take the question back: whoever still waits here has it asked again. */
const again = useTimeoutFn(ask, 1000, { immediate: false })
watch(
  () => props.asking,
  (asking) => (asking ? again.stop() : again.start()),
)
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
