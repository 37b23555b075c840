<script setup lang="ts">
import { computed } from 'vue'
import { useDropQuestion, useKeepQuestion } from '../../api/acts/views'
import type { Shapes } from '../../api/client'
import { useQuestions } from '../../api/queries/useViews'
import KeptViews from '../../parts/KeptViews.vue'

/** What Find is often asked: one press asks it again. */
type Asked = Partial<Shapes['FindIn']>
const props = defineProps<{ sought: Asked }>()
defineEmits<{ ask: [sought: Asked] }>()
const questions = useQuestions()
const keep = useKeepQuestion()
const drop = useDropQuestion()
const EMPTY: Shapes['FindIn'] = { text: '', day: null, camera: '', on: '', not_on: '' }
const whole = (one: Asked) => ({ ...EMPTY, ...one })
const said = (one: Asked) => JSON.stringify(Object.entries(whole(one)).sort())
const kept = computed(() =>
  (questions.data.value ?? []).map((one) => ({
    id: one.id,
    name: one.name,
    shown: said(one.sought) === said(props.sought),
  })),
)
const askedFor = (id: number): Asked => questions.data.value?.find((one) => one.id === id)?.sought ?? {}
</script>

<template>
  <KeptViews
    :views="kept"
    :narrowed="Boolean(sought.text)"
    :keeping="keep.isPending.value"
    :dropping="drop.isPending.value"
    :error="keep.error.value ?? drop.error.value"
    @choose="$emit('ask', askedFor($event))"
    @keep="(name, done) => keep.mutate({ name, sought: whole(sought) }, { onSuccess: done })"
    @drop="drop.mutate"
  />
</template>
