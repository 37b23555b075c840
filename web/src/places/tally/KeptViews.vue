<script setup lang="ts">
import { computed } from 'vue'
import { useDropView, useKeepView } from '../../api/acts/views'
import { useViews } from '../../api/queries/useViews'
import KeptViews from '../../parts/KeptViews.vue'
import { asAsked, FOR_ALL, seek, sought, type Asked } from './sought'

/** Views of the Tally: one press narrows the list to one of them. */
defineProps<{ narrowed: boolean }>()
const views = useViews()
const keep = useKeepView()
const drop = useDropView()
const asked = computed(() => JSON.stringify(asAsked(sought)))
const isShown = (one: Asked) => JSON.stringify(asAsked(seek(one))) === asked.value
const kept = computed(() =>
  (views.data.value ?? []).map((one) => ({ id: one.id, name: one.name, shown: isShown(one.sought) })),
)
function choose(id: number) {
  const one = views.data.value?.find((view) => view.id === id)
  if (one) Object.assign(sought, seek(one.sought))
}
</script>

<template>
  <KeptViews
    :views="kept"
    :narrowed="narrowed"
    :keeping="keep.isPending.value"
    :dropping="drop.isPending.value"
    :error="keep.error.value ?? drop.error.value"
    @choose="choose"
    @keep="
      (name, done) => keep.mutate({ name, sought: { ...FOR_ALL, ...asAsked(sought) } }, { onSuccess: done })
    "
    @drop="drop.mutate"
  />
</template>
