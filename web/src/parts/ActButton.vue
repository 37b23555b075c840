<script setup lang="ts">
import Button from 'primevue/button'
import { computed, useId } from 'vue'

/**
 * An act as a button. While something keeps it off it can still be come to, and says why to whoever points at it, comes
 * to it by keyboard or hears it; pressing it does nothing.
 */
const props = defineProps<{
  label: string
  /** What keeps it off, in a sentence. */
  whyNot?: string | undefined
  /** Why stands on the screen beside it already: it is only told to readers of the screen. */
  whyShown?: boolean
  /** It is being done already. */
  busy?: boolean
  /** A lesser act, in the shape of a link. */
  link?: boolean
}>()
defineOptions({ inheritAttrs: false })
const emit = defineEmits<{ press: [] }>()
const id = useId()
const off = computed(() => props.busy || Boolean(props.whyNot))

function press(event: MouseEvent) {
  if (off.value)
    event.preventDefault() // of a form's own button: nothing is sent
  else emit('press')
}
</script>

<template>
  <span class="may">
    <Button
      v-bind="$attrs"
      :class="link ? 'link' : 'act'"
      :label="label"
      :aria-disabled="off ? 'true' : undefined"
      :aria-describedby="whyNot ? id : undefined"
      @click="press"
    />
    <span v-if="whyNot" :id="id" class="why-not" :class="{ unseen: whyShown }" data-why-not>{{
      whyNot
    }}</span>
  </span>
</template>
