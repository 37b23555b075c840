<script setup lang="ts">
import Dialog from 'primevue/dialog'

/** A question over the screen: focus stays inside, Escape leaves. */
const props = defineProps<{ title: string; wide?: boolean }>()
const visible = defineModel<boolean>('visible', { required: true })
const parts = {
  mask: { class: 'veil' },
  root: { class: props.wide ? 'box wide' : 'box' },
}
</script>

<template>
  <Dialog v-model:visible="visible" modal dismissable-mask :pt="parts" :aria-label="title">
    <template #container>
      <h2>{{ title }}</h2>
      <slot />
    </template>
  </Dialog>
</template>
