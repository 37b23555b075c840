<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { useWhereIs } from '../api/queries/useWhereIs'
import type { Shapes } from '../api/client'
import SaidNo from '../parts/SaidNo.vue'
import { t } from '../words/say'
import { age } from '../words/times'
import { VERDICTS } from '../words/verdicts'
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
const verdict = (one: Shapes['FoundThingOut']) =>
  one.thing === 'card' && one.standing
    ? VERDICTS[one.standing as Shapes['CardStanding']]
    : (one.standing ?? '')
const pathOf = (one: Shapes['FoundThingOut']) => {
  if (one.thing === 'store') return { path: '/stores', query: { store: one.name } }
  return one.thing === 'card'
    ? `/cards/${encodeURIComponent(one.name)}`
    : `/tally/${encodeURIComponent(one.name)}`
}
function go(one: Shapes['FoundThingOut'] | undefined) {
  if (!one) return
  visible.value = false
  void router.push(pathOf(one))
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
    <ul aria-live="polite">
      <li v-for="one in found" :key="one.thing + one.name" :data-found-thing="one.name">
        <RouterLink class="tag" :to="pathOf(one)" @click="visible = false">{{ one.name }}</RouterLink>
        <span>
          <strong>{{ one.where }}</strong>
          <span v-if="one.since" class="soft">{{ t('whereIs.since', { age: age(one.since) }) }}</span>
        </span>
        <span class="verdict">{{ verdict(one) }}</span>
      </li>
    </ul>
    <p v-if="text && answer.data.value && !found.length" role="status">{{ t('whereIs.none') }}</p>
    <SaidNo :error="answer.error.value" />
  </BoxDialog>
</template>

<style scoped>
label {
  display: grid;
  gap: var(--space-2);
}
ul {
  display: grid;
  gap: var(--space-2);
  margin: var(--space-3) 0 0;
  padding: 0;
  list-style: none;
  min-height: 8rem;
}
li {
  display: grid;
  grid-template-columns: 7rem 1fr auto;
  gap: var(--space-3);
  align-items: baseline;
}
li .tag {
  font-size: var(--type-title);
}
.verdict {
  font: 700 var(--type-tag) / 1.2 var(--tag);
  text-transform: uppercase;
}
@media (--phone) {
  li {
    grid-template-columns: auto 1fr;
  }
}
</style>
