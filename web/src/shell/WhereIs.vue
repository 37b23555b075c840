<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useWhereIs } from '../api/queries/useWhereIs'
import type { Shapes } from '../api/client'
import SaidNo from '../parts/SaidNo.vue'
import ThingLines from '../parts/ThingLines.vue'
import { thingPath } from '../parts/things'
import { t } from '../words/say'
import BoxDialog from './BoxDialog.vue'

/** "Where is card 14?", asked over the radio: typed as it is asked, and answered while it is typed. */
const visible = defineModel<boolean>('visible', { required: true })
const router = useRouter()
const asked = ref('')
const text = refDebounced(
  computed(() => asked.value.trim()),
  120,
)
const answer = useWhereIs(text, visible)
const found = computed(() => (text.value ? (answer.data.value ?? []) : []))
watch(visible, () => (asked.value = ''))
/** To the first thing of that name; without one, to whatever else holds the words. */
function go(one: Shapes['FoundThingOut'] | undefined) {
  if (!text.value) return
  visible.value = false
  void router.push(one ? thingPath(one) : { path: '/find', query: { text: text.value } })
}
</script>

<template>
  <BoxDialog v-model:visible="visible" :title="t('whereIs.title')">
    <form @submit.prevent="go(found[0])">
      <label
        >{{ t('whereIs.ask') }}
        <InputText
          v-model="asked"
          class="field"
          autofocus
          autocomplete="off"
          :placeholder="t('whereIs.hint')"
          data-where-is
      /></label>
    </form>
    <ThingLines class="found" :things="found" @gone="visible = false" />
    <p v-if="text && answer.data.value && !found.length" role="status">{{ t('whereIs.none') }}</p>
    <p v-if="text">
      <RouterLink :to="{ path: '/find', query: { text } }" data-find-more @click="visible = false">{{
        t('whereIs.findMore')
      }}</RouterLink>
    </p>
    <SaidNo :error="answer.error.value" />
  </BoxDialog>
</template>

<style scoped>
label {
  display: grid;
  gap: var(--space-2);
}
.found {
  min-height: 8rem;
}
</style>
