<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Shapes } from '../../api/client'
import { useCardList } from '../../api/queries/useCardList'
import { useSetUp } from '../../api/queries/useSetUp'
import ChooseOne from '../../parts/ChooseOne.vue'
import LastKnown from '../../parts/LastKnown.vue'
import MoreRows from '../../parts/MoreRows.vue'
import { number, t } from '../../words/say'
import { counted } from '../../words/units'
import CardLine from './CardLine.vue'
import LabelsForm from './LabelsForm.vue'
import { LIVES } from './lives'

/** Every card: where it is, who has it, what is on it, and whether it may be used. */
const ALL = 'all'
const typed = ref('')
const text = refDebounced(typed, 200)
const camera = ref(ALL)
const life = ref<Shapes['CardLife'] | typeof ALL>(ALL)
const list = useCardList(() => ({
  text: text.value.trim() || undefined,
  camera: camera.value === ALL ? undefined : camera.value,
  life: life.value === ALL ? undefined : life.value,
}))
const setUp = useSetUp()
const pages = computed(() => list.data.value?.pages ?? [])
const cards = computed(() => pages.value.flatMap((page) => page.cards))
const last = computed(() => pages.value.at(-1))
const cameras = computed(() => [
  { name: t('cardsPlace.anyCamera'), value: ALL },
  ...(setUp.data.value?.cameras ?? []).map(({ letter, name }) => ({
    name: `${letter}, ${name}`,
    value: letter,
  })),
])
const lives = computed(() => [
  { name: t('cardsPlace.anywhere'), value: ALL },
  ...Object.entries(LIVES).map(([value, words]) => ({
    name: t('cardsPlace.soMany', {
      words,
      count: number(last.value?.counts[value as Shapes['CardLife']] ?? 0),
    }),
    value,
  })),
])
const narrowed = computed(() => Boolean(typed.value.trim()) || camera.value !== ALL || life.value !== ALL)
function all() {
  typed.value = ''
  camera.value = life.value = ALL
}
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.cards') }}</h1>
    <LastKnown
      :error="list.error.value"
      :known="Boolean(list.data.value)"
      :updated-at="list.dataUpdatedAt.value"
    >
      <template v-if="last">
        <form class="line seek" role="search" :aria-label="t('places.cards')" @submit.prevent>
          <label>{{ t('cardsPlace.find') }} <InputText v-model="typed" class="field" data-seek /></label>
          <ChooseOne v-model="camera" :label="t('cardsPlace.camera')" :options="cameras" data-camera />
          <ChooseOne v-model="life" :label="t('cardsPlace.where')" :options="lives" data-life />
          <span role="status" data-count>{{ counted(last.in_all, 'card') }}</span>
          <button v-if="narrowed" type="button" class="link" @click="all">{{ t('cardsPlace.all') }}</button>
        </form>
        <LabelsForm :listed="cards.map((card) => card.label)" />
        <p v-if="!cards.length" class="soft">
          {{ narrowed ? t('cardsPlace.noneLikeThat') : t('cardsPlace.noneYet') }}
        </p>
        <ul>
          <CardLine v-for="card in cards" :key="card.card_id" :card="card" />
        </ul>
        <MoreRows
          v-if="list.hasNextPage.value"
          :words="
            t('cardsPlace.ofShown', { shown: number(cards.length), cards: counted(last.in_all, 'card') })
          "
          :asking="list.isFetchingNextPage.value"
          @more="list.fetchNextPage()"
        />
      </template>
    </LastKnown>
  </main>
</template>

<style scoped>
.seek {
  padding-bottom: var(--space-3);
  border-bottom: var(--line) solid var(--ink);
}
.seek .field {
  width: 9rem;
}
</style>
