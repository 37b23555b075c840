<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useWho } from '../shell/me'
import { t } from '../words/say'
import ActButton from './ActButton.vue'
import SaidNo from './SaidNo.vue'

/** Views that whoever looks keeps: one press asks again what was kept. */
const props = defineProps<{
  /** shown: it is what is asked now. */
  views: readonly { id: number; name: string; shown: boolean }[]
  /** Something is asked that could be kept. */
  narrowed: boolean
  keeping: boolean
  dropping: boolean
  error?: { message: string } | null | undefined
}>()
const emit = defineEmits<{
  choose: [id: number]
  keep: [name: string, done: () => void]
  drop: [id: number]
}>()
const { me } = useWho()
const naming = ref(false)
const name = ref('')
const kept = computed(() => props.views.some((one) => one.shown))
const keepIt = () =>
  emit('keep', name.value, () => {
    naming.value = false
    name.value = ''
  })
</script>

<template>
  <div v-if="!me.screen && (narrowed || views.length)" class="views" data-views>
    <span v-for="one in views" :key="one.id" class="view" :data-view="one.name">
      <button type="button" class="link" :aria-pressed="one.shown" @click="$emit('choose', one.id)">
        {{ one.name }}
      </button>
      <ActButton
        v-if="one.shown"
        type="button"
        link
        :label="t('views.drop')"
        :busy="dropping"
        :aria-label="t('views.dropIt', { name: one.name })"
        @press="$emit('drop', one.id)"
      />
    </span>
    <form v-if="naming" class="line" @submit.prevent="keepIt">
      <label>{{ t('views.name') }} <InputText v-model="name" class="field" data-view-name /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('views.keepIt')"
        :why-not="name.trim() ? undefined : t('views.lacksName')"
        :busy="keeping"
        data-keep-view
      />
    </form>
    <button v-else-if="narrowed && !kept" type="button" class="link" data-name-view @click="naming = true">
      {{ t('views.keep') }}
    </button>
    <SaidNo :error="error" />
  </div>
</template>

<style scoped>
.views {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-5);
  align-items: baseline;
  margin: 0 0 var(--space-3);
}
.view {
  display: inline-flex;
  gap: var(--space-2);
  align-items: baseline;
}
[aria-pressed='true'] {
  font-weight: 700;
  text-decoration-thickness: var(--line);
}
</style>
