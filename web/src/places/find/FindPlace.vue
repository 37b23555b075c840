<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref, onMounted, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Shapes } from '../../api/client'
import { useFind } from '../../api/queries/useFind'
import { useTally } from '../../api/queries/useTally'
import { useSetUp } from '../../api/queries/useSetUp'
import ChooseOne from '../../parts/ChooseOne.vue'
import MoreRows from '../../parts/MoreRows.vue'
import SaidNo from '../../parts/SaidNo.vue'
import ThingLines from '../../parts/ThingLines.vue'
import LookThrough from '../../parts/look/LookThrough.vue'
import { number, t } from '../../words/say'
import { shortDay } from '../../words/times'
import { counted } from '../../words/units'
import FoundFile from './FoundFile.vue'
import KeptQuestions from './KeptQuestions.vue'
import SayOfFiles from './SayOfFiles.vue'
import SaidLine from './SaidLine.vue'

/** One box for whatever somebody remembers of it; and how to get to what is found, though nothing is plugged in. */
const ALL = '*'
const route = useRoute()
const router = useRouter()
const text = ref(typeof route.query.text === 'string' ? route.query.text : '')
const box = useTemplateRef<{ $el: HTMLInputElement }>('box')
/** After the page itself had the keyboard, as every page has when one goes there. */
onMounted(() => setTimeout(() => box.value?.$el.focus()))
const asked = refDebounced(text, 150)
const narrowed = reactive({ day: ALL, camera: ALL, store: ALL })
const sought = computed<Partial<Shapes['FindIn']>>(() => ({
  text: asked.value.trim(),
  ...(narrowed.day !== ALL && { day: narrowed.day }),
  ...(narrowed.camera !== ALL && { camera: narrowed.camera }),
  ...(narrowed.store.startsWith('+') && { on: narrowed.store.slice(1) }),
  ...(narrowed.store.startsWith('-') && { not_on: narrowed.store.slice(1) }),
}))
/** A question that was kept. */
function ask(one: Partial<Shapes['FindIn']>) {
  text.value = one.text ?? ''
  narrowed.day = one.day ?? ALL
  narrowed.camera = one.camera || ALL
  narrowed.store = one.on ? `+${one.on}` : one.not_on ? `-${one.not_on}` : ALL
}
watch(asked, (now) => void router.replace({ query: now.trim() ? { text: now.trim() } : {} }))
watch(
  () => route.query.text,
  (said) => {
    if (typeof said === 'string' && said !== asked.value.trim()) text.value = said
  },
)

const tally = useTally({})
const setUp = useSetUp()
const days = computed(() => [
  { name: t('soughtBar.anyDay'), value: ALL },
  ...(tally.data.value?.pages[0]?.days ?? []).map(({ day, number: n, rolls }) => ({
    name: t('soughtBar.day2', { number: n, day: shortDay(day), rolls: counted(rolls, 'roll') }),
    value: day,
  })),
])
const cameras = computed(() => [
  { name: t('soughtBar.anyCamera'), value: ALL },
  ...(setUp.data.value?.cameras ?? []).map(({ letter, name }) => ({
    name: `${letter}, ${name}`,
    value: letter,
  })),
])
const stores = computed(() => {
  const names = (tally.data.value?.pages[0]?.stores ?? []).map(({ name }) => name)
  return [
    { name: t('soughtBar.anyStore'), value: ALL },
    ...names.map((name) => ({ name: t('soughtBar.aCopyReadOn', { name }), value: `+${name}` })),
    ...names.map((name) => ({ name: t('soughtBar.noneReadOn', { name }), value: `-${name}` })),
  ]
})

const found = useFind(sought)
const pages = computed(() => (sought.value.text ? (found.data.value?.pages ?? []) : []))
const first = computed(() => pages.value[0])
const files = computed(() => pages.value.flatMap((page) => page.files))
const nothing = computed(
  () => first.value && !first.value.things.length && !first.value.said.length && !files.value.length,
)
const howMany = computed(() => {
  const one = first.value
  if (!one || !sought.value.text) return ''
  if (one.gave_up) return t('find.gaveUp')
  if (one.files_more) return t('find.more', { count: number(one.files_in_all) })
  return counted(one.files_in_all, 'file')
})

/** Files of which something is to be said, of those that are shown. */
const chosen = ref<string[]>([])
const key = (file: Shapes['FoundFileOut']) => `${file.tag}/${file.clip.path}`
watch(sought, () => (chosen.value = []))
const chosenFiles = computed(() =>
  files.value
    .filter((one) => chosen.value.includes(key(one)))
    .map((one) => ({ tag: one.tag, path: one.clip.path })),
)
const all = computed({
  get: () => files.value.length > 0 && chosenFiles.value.length === files.value.length,
  set: (on) => (chosen.value = on ? files.value.map(key) : []),
})

/** The clip that is looked at, large. */
const at = ref<number>()
const open = ref<Shapes['FoundFileOut']>()
function look(file: Shapes['FoundFileOut']) {
  open.value = file
  at.value = 0
}
watch(at, (now) => now === undefined && (open.value = undefined))
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.find') }}</h1>
    <form role="search" :aria-label="t('places.find')" @submit.prevent>
      <label class="ask"
        >{{ t('find.ask') }}
        <InputText
          ref="box"
          v-model="text"
          class="field"
          autocomplete="off"
          :placeholder="t('find.hint')"
          data-find
      /></label>
      <p class="narrow">
        <ChooseOne v-model="narrowed.day" :label="t('soughtBar.day')" :options="days" data-day />
        <ChooseOne v-model="narrowed.camera" :label="t('soughtBar.camera')" :options="cameras" data-camera />
        <ChooseOne v-model="narrowed.store" :label="t('soughtBar.store')" :options="stores" data-store />
        <span role="status" data-count>{{ howMany }}</span>
      </p>
    </form>
    <KeptQuestions :sought="sought" @ask="ask" />
    <SaidNo :error="found.error.value" />
    <p v-if="!sought.text" class="soft" data-none>
      {{ t('find.teach') }}
      <RouterLink to="/returns" data-returns-link>{{ t('returns.link') }}</RouterLink>
    </p>
    <p v-else-if="nothing && !first?.gave_up" data-none>{{ t('find.nothing') }}</p>
    <section v-if="first?.things.length" :aria-label="t('find.things')" data-things>
      <ThingLines :things="first.things" />
    </section>
    <section v-if="first?.said.length" data-said>
      <h2>{{ t('find.said') }}</h2>
      <SaidLine v-for="(one, n) in first.said" :key="n" :said="one" />
      <p v-if="first.said_more" class="soft">{{ t('find.saidMore') }}</p>
    </section>
    <section v-if="files.length" data-files>
      <h2>{{ t('find.files') }}</h2>
      <p class="all">
        <label class="ticked"><Checkbox v-model="all" binary data-choose-all /> {{ t('find.all') }}</label>
      </p>
      <SayOfFiles v-if="chosenFiles.length" :files="chosenFiles" @none="chosen = []" />
      <ol>
        <FoundFile v-for="one in files" :key="one.clip.id" :file="one" @look="look(one)">
          <Checkbox
            v-model="chosen"
            :value="key(one)"
            :aria-label="t('find.choose', { name: one.clip.path })"
            :data-choose-file="one.clip.path"
          />
        </FoundFile>
      </ol>
      <MoreRows
        v-if="found.hasNextPage.value"
        :words="t('find.next')"
        :asking="found.isFetchingNextPage.value"
        @more="found.fetchNextPage()"
      />
    </section>
    <LookThrough v-if="open" v-model:at="at" :clips="[open.clip]" :tag="open.tag" />
  </main>
</template>

<style scoped>
.ask {
  display: grid;
  gap: var(--space-1);
  font: 700 var(--type-lead) / 1.2 var(--tag);
}
.ask .field {
  width: 100%;
  font: 400 var(--type-head) / 1.3 var(--text);
}
.narrow {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-4);
  align-items: center;
  margin: var(--space-3) 0;
}
.narrow :deep(.choose) {
  min-width: 0;
  max-width: 12.5rem;
}
.narrow :deep(.chosen) {
  overflow: hidden;
  text-overflow: ellipsis;
}
h2 {
  padding: var(--space-4) 0 var(--space-1h);
  border-bottom: var(--line) solid var(--ink);
}
.all {
  margin: var(--space-2) 0 0;
}
ol {
  margin: 0;
  padding: 0;
  list-style: none;
}
@media (--phone) {
  .narrow {
    display: grid;
    grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
    align-items: end;
  }
  .narrow label {
    display: grid;
    gap: var(--space-half);
    min-width: 0;
  }
}
</style>
