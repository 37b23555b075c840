<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { useProveJournal } from '../../api/acts/session'
import type { Shapes } from '../../api/client'
import { useLog, useWaterline, type LogWanted } from '../../api/queries'
import LastKnown from '../../parts/LastKnown.vue'
import MoreRows from '../../parts/MoreRows.vue'
import { counted } from '../../words/units'
import { byDay, FOLDED, subjectsOf, timesOf } from './days'
import LogEntry from './LogEntry.vue'

/** No kind is called so, and no username has such a character. */
const ALL = '*'

const KINDS: { name: string; kind: Shapes['ActKind'] | typeof ALL }[] = [
  { name: 'everything', kind: ALL },
  { name: 'comings and goings of cards', kind: 'moves' },
  { name: 'what cards are and hold', kind: 'cards' },
  { name: 'copies', kind: 'copies' },
  { name: 'clearing', kind: 'clearing' },
  { name: 'stores and drives', kind: 'stores' },
  { name: 'set-up', kind: 'set_up' },
  { name: 'signing in and out', kind: 'people' },
]

const kind = ref<Shapes['ActKind'] | typeof ALL>(ALL)
const person = ref(ALL)
const text = ref('')
const asked = refDebounced(text, 200)
const wanted = computed<LogWanted>(() => ({
  kind: kind.value === ALL ? undefined : kind.value,
  person: person.value === ALL ? undefined : person.value,
  text: asked.value.trim() || undefined,
}))
const narrowed = computed(() => Object.values(wanted.value).some(Boolean))

const log = useLog(wanted)
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const pages = computed(() => log.data.value?.pages ?? [])
const people = computed(() => [{ username: ALL, name: 'everybody' }, ...(pages.value[0]?.people ?? [])])
const entries = computed(() => pages.value.flatMap((page) => page.entries))
const days = computed(() => byDay(entries.value, zone.value, !narrowed.value))

const seal = useProveJournal()
const sealed = computed(() => {
  const answer = seal.data.value
  if (!answer) return ''
  return answer.broken_at === null
    ? 'Every entry is as it was written.'
    : `Entry ${answer.broken_at} was changed after it was written.`
})

function all(): void {
  kind.value = ALL
  person.value = ALL
  text.value = ''
}
</script>

<template>
  <main class="place">
    <h1 class="unseen">Log</h1>
    <LastKnown :error="log.error.value" :known="Boolean(log.data.value)" :updated-at="log.dataUpdatedAt.value"
      ><template v-if="log.data.value">
        <div class="asked">
          <label>Find <InputText v-model="text" class="field" data-search /></label>
          <label id="log-kind"
            >What
            <Select
              v-model="kind"
              :options="KINDS"
              option-label="name"
              option-value="kind"
              scroll-height="26rem"
              aria-labelledby="log-kind"
              data-kind
          /></label>
          <label id="log-who"
            >Who
            <Select
              v-model="person"
              :options="people"
              option-label="name"
              option-value="username"
              scroll-height="26rem"
              aria-labelledby="log-who"
              data-who
          /></label>
          <span class="prove">
            <span role="status">{{ sealed }}</span>
            <Button class="act quiet small" label="Prove the log" @click="seal.mutate(undefined)" />
          </span>
        </div>
        <p v-if="!entries.length" class="none" data-none>
          Nothing in the log is like that.
          <Button class="act quiet small" label="Show everything" @click="all" />
        </p>
        <section v-for="day in days" :key="day.name">
          <h2>{{ day.name }}</h2>
          <ol>
            <li v-for="one in day.lines" :key="one.id">
              <LogEntry v-if="one.entries.length === 1" :entry="one.entries[0]!" :zone="zone" />
              <details v-else data-folded>
                <summary>
                  <span class="span">{{ timesOf(one, zone) }}</span>
                  {{ counted(one.entries.length, ...FOLDED[one.entries[0]!.kind]!) }}:
                  <b class="tag">{{ subjectsOf(one) }}</b>
                </summary>
                <LogEntry v-for="entry in one.entries" :key="entry.id" :entry="entry" :zone="zone" />
              </details>
            </li>
          </ol>
        </section>
        <MoreRows
          v-if="log.hasNextPage.value"
          words="Show older entries"
          :asking="log.isFetchingNextPage.value"
          @more="log.fetchNextPage()"
        /> </template
    ></LastKnown>
  </main>
</template>

<style scoped>
.asked {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-5);
  align-items: center;
  margin-bottom: var(--space-2);
}
.asked label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
.prove {
  display: inline-flex;
  gap: var(--space-3);
  align-items: center;
  margin-left: auto;
}
h2 {
  padding: var(--space-4) 0 var(--space-1h);
  border-bottom: var(--line) solid var(--ink);
}
li {
  border-bottom: var(--line-hair) solid var(--hair);
}
summary {
  padding: var(--space-2) 0;
  color: var(--ink-soft);
  cursor: pointer;
}
.span {
  margin-right: var(--space-3);
}
.none {
  display: flex;
  gap: var(--space-4);
  align-items: center;
  padding: var(--space-6) 0;
}
@media (--upright) {
  .asked label {
    display: grid;
    grid-template-columns: 3rem 1fr;
    width: 100%;
  }
}
</style>
