<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useSayOfFiles } from '../../api/acts/keywords'
import type { Shapes } from '../../api/client'
import { useKeywords } from '../../api/queries/useKeywords'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { counted } from '../../words/units'

/** Something that is said of all chosen files at once: keywords, with those of earlier files at hand; a caption; rights. */
const props = defineProps<{ files: Shapes['FileNamedIn'][] }>()
defineEmits<{ none: [] }>()
const { whyNot } = useWho()
type What = 'keywords' | 'caption' | 'rights'
const what = ref<What>('keywords')
const WHATS: { name: string; value: What }[] = [
  { name: t('sayOf.keywords'), value: 'keywords' },
  { name: t('sayOf.caption'), value: 'caption' },
  { name: t('sayOf.rights'), value: 'rights' },
]
const text = ref('')
const words = computed(() => text.value.split(',').map((one) => one.trim()))
const last = computed(() => words.value.at(-1) ?? '')
const earlier = useKeywords(refDebounced(last, 150))
const proposed = computed(() =>
  (earlier.data.value?.keywords ?? []).filter((one) => !words.value.includes(one)).slice(0, 8),
)
const take = (word: string) => (text.value = [...words.value.slice(0, -1), word, ''].join(', '))
const say = useSayOfFiles()
const lacks = computed(() => (text.value.trim() ? undefined : t('sayOf.lacks')))
function said(how: 'add' | 'remove') {
  const all = { files: props.files }
  const clear = { onSuccess: () => (text.value = '') }
  if (what.value !== 'keywords')
    return say.mutate({ ...all, [what.value]: how === 'add' ? text.value : '' }, clear)
  if (!lacks.value) say.mutate({ ...all, [how]: words.value.filter(Boolean) }, clear)
}
const done = computed(() =>
  say.data.value ? t('sayOf.done', { files: counted(say.data.value.files, 'file') }) : '',
)
</script>

<template>
  <form class="say-of" data-say-of @submit.prevent="lacks ?? said('add')">
    <p class="line">
      <strong>{{ t('sayOf.chosen', { files: counted(files.length, 'file') }) }}</strong>
      <ChooseOne v-model="what" :label="t('sayOf.what')" :options="WHATS" data-what />
      <InputText
        v-model="text"
        class="field"
        autocomplete="off"
        :aria-label="t('sayOf.words')"
        :placeholder="what === 'keywords' ? t('sayOf.hint') : ''"
        data-words
      />
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('sayOf.add')"
        :why-not="whyNot('note') ?? lacks"
        :busy="say.isPending.value"
        data-add
      />
      <ActButton
        type="button"
        link
        :label="t(what === 'keywords' ? 'sayOf.remove' : 'sayOf.nothing')"
        :why-not="whyNot('note') ?? (what === 'keywords' ? lacks : undefined)"
        :busy="say.isPending.value"
        data-remove
        @press="said('remove')"
      />
      <button type="button" class="link" data-choose-none @click="$emit('none')">
        {{ t('sayOf.none') }}
      </button>
    </p>
    <p v-if="what === 'keywords' && proposed.length" class="line soft" data-proposed>
      {{ t('sayOf.earlier') }}
      <button v-for="one in proposed" :key="one" type="button" class="link" @click="take(one)">
        {{ one }}
      </button>
    </p>
    <p role="status" class="soft">{{ done || t('sayOf.says') }}</p>
    <SaidNo :error="say.error.value" />
  </form>
</template>

<style scoped>
.say-of {
  position: sticky;
  z-index: 1;
  top: 0;
  padding: var(--space-2) 0;
  border-bottom: var(--line) solid var(--ink);
  background: var(--paper);
}
.say-of p {
  margin: 0 0 var(--space-1h);
}
@media (--phone) {
  .say-of {
    position: static;
  }
}
.field {
  flex: 1 1 16rem;
  max-width: 28rem;
}
</style>
