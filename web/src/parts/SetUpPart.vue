<script setup lang="ts">
import AccordionContent from 'primevue/accordioncontent'
import AccordionHeader from 'primevue/accordionheader'
import AccordionPanel from 'primevue/accordionpanel'

/** One part of the set-up: its name and, in a line, how it stands; opened, what it is made of. */
defineProps<{ part: string; title: string; stands: string; trouble?: boolean }>()
</script>

<template>
  <AccordionPanel :value="part" :data-part="part">
    <AccordionHeader>
      <h2>{{ title }}</h2>
      <span class="stands" :class="{ trouble }">{{ stands }}</span>
    </AccordionHeader>
    <AccordionContent><slot /></AccordionContent>
  </AccordionPanel>
</template>

<style scoped>
.stands {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-align: left;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
