<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { nextTick, ref, useTemplateRef, watch } from 'vue'
import { sayWhy } from '../shell/me'
import ActButton from './ActButton.vue'
import SaidNo from './SaidNo.vue'

/** An act that asks for a few words: it is a link until somebody wants it, and then a line to say them in. */
const props = defineProps<{
  /** What the link says. */
  act: string
  /** What is asked for. */
  ask: string
  /** What the button says that does it. */
  go: string
  whyNot?: string | undefined
  busy?: boolean
  error?: { message: string } | null | undefined
  /** Nothing need be said. */
  optional?: boolean
  name: string
}>()
const emit = defineEmits<{ say: [words: string, done: () => void] }>()
const open = ref(false)
const words = ref('')
const field = useTemplateRef<{ $el: HTMLInputElement }>('field')
/** Who opens it types at once; without this, letters would be taken for keys of the page. */
watch(open, async (now) => {
  await nextTick()
  if (now) field.value?.$el.focus()
})
const done = () => {
  open.value = false
  words.value = ''
}
const missing = () => (props.optional ? undefined : sayWhy(words.value))
</script>

<template>
  <span class="say">
    <ActButton
      type="button"
      link
      :label="act"
      :aria-expanded="open"
      :why-not="whyNot"
      :data-say="name"
      @press="open = !open"
    />
    <form v-if="open" class="line" @submit.prevent="emit('say', words, done)">
      <label>{{ ask }} <InputText ref="field" v-model="words" class="field" :data-said="name" /></label>
      <slot />
      <ActButton
        type="submit"
        class="quiet small"
        :label="go"
        :why-not="missing()"
        :busy="busy"
        :data-go="name"
      />
    </form>
    <SaidNo v-if="open" :error="error" />
  </span>
</template>

<style scoped>
.say {
  display: inline-grid;
  gap: var(--space-1);
  justify-items: start;
}
.say:has(form) {
  flex-basis: 100%;
}
.field {
  width: 22rem;
  max-width: 70vw;
}
</style>
