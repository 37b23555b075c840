<script setup lang="ts">
import { computed } from 'vue'
import { useRoom } from '../api/queries/useRoom'
import { fullAbout, rangeOf } from '../words/foreseen'

/** Which of these stores, or of all, may be full within days; nothing where none may. */
const props = defineProps<{ of?: readonly string[] }>()
const room = useRoom()
const soon = computed(() =>
  (room.data.value ?? []).flatMap(({ store, foreseen }) =>
    foreseen?.soon && (!props.of || props.of.includes(store)) ? [{ store, foreseen }] : [],
  ),
)
</script>

<template>
  <li v-for="one in soon" :key="one.store" :data-soon-full="one.store" :title="rangeOf(one.foreseen)">
    <span class="tag">{{ one.store }}</span> {{ fullAbout(one.foreseen) }}
  </li>
</template>
