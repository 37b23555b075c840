<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useProveJournal } from '../../api/acts/session'
import type { Shapes } from '../../api/client'
import { useLog, type LogWanted } from '../../api/queries/useLog'
import { useShifts } from '../../api/queries/useShifts'
import { useWaterline } from '../../api/queries/useWaterline'
import ChooseOne from '../../parts/ChooseOne.vue'
import LastKnown from '../../parts/LastKnown.vue'
import MoreRows from '../../parts/MoreRows.vue'
import { counted } from '../../words/units'
import { byDay, foldedAs, subjectsOf, timesOf } from './days'
import LogEntry from './LogEntry.vue'
import { number, t } from '../../words/say'

/** No kind is called so, and no username has such a character. */
const ALL = '*'

const KINDS: { name: string; value: Shapes['ActKind'] | typeof ALL }[] = [
  { name: t('logPlace.everything'), value: ALL },
  { name: t('logPlace.comingsAndGoingsOfCards'), value: 'moves' },
  { name: t('logPlace.whatCardsAreAndHold'), value: 'cards' },
  { name: t('logPlace.copies'), value: 'copies' },
  { name: t('logPlace.clearing'), value: 'clearing' },
  { name: t('logPlace.storesAndDrives'), value: 'stores' },
  { name: t('logPlace.setUp'), value: 'set_up' },
  { name: t('logPlace.signingInAndOut'), value: 'people' },
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
const people = computed(() => [
  { name: t('logPlace.everybody'), value: ALL },
  ...(pages.value[0]?.people ?? []).map(({ name, username }) => ({ name, value: username })),
])
const entries = computed(() => pages.value.flatMap((page) => page.entries))
const days = computed(() => byDay(entries.value, zone.value, !narrowed.value))

const seal = useProveJournal()
const sealed = computed(() => {
  const answer = seal.data.value
  if (!answer) return ''
  const parts = [
    answer.broken_at === null
      ? t('logPlace.everyEntryIsAsIt')
      : t('logPlace.entryWasChangedAfterIt', { entry: answer.broken_at }),
  ]
  if (answer.differ.length) parts.push(t('logPlace.differ', { where: answer.differ.slice(0, 3).join(', ') }))
  else parts.push(answer.agree ? t('logPlace.agree', {}, answer.agree) : t('logPlace.noRecord'))
  if (answer.unread) parts.push(t('logPlace.unread', {}, answer.unread))
  return parts.join(' ')
})

const shifts = useShifts()
const openMatters = computed(() => shifts.data.value?.open.length ?? 0)

function all(): void {
  kind.value = ALL
  person.value = ALL
  text.value = ''
}
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.log') }}</h1>
    <LastKnown :error="log.error.value" :known="Boolean(log.data.value)" :updated-at="log.dataUpdatedAt.value"
      ><template v-if="log.data.value">
        <div class="asked">
          <label>{{ t('logPlace.find') }} <InputText v-model="text" class="field find" data-search /></label>
          <ChooseOne v-model="kind" :label="t('logPlace.what')" :options="KINDS" data-kind />
          <ChooseOne v-model="person" :label="t('logPlace.who')" :options="people" data-who />
          <RouterLink to="/days" data-days-link>{{ t('days.link') }}</RouterLink>
          <RouterLink to="/trends" data-trends-link>{{ t('trends.title') }}</RouterLink>
          <RouterLink to="/handover" data-handover-link>{{
            openMatters ? t('handover.openHere', { count: number(openMatters) }) : t('handover.link')
          }}</RouterLink>
          <span class="prove">
            <span role="status">{{ sealed }}</span>
            <Button
              class="act quiet small"
              :label="t('logPlace.proveTheLog')"
              @click="seal.mutate(undefined)"
            />
          </span>
        </div>
        <p v-if="!entries.length" class="none" data-none>
          {{ t('logPlace.nothingInTheLogIs') }}
          <Button class="act quiet small" :label="t('logPlace.showEverything')" @click="all" />
        </p>
        <section v-for="day in days" :key="day.name">
          <h2>{{ day.name }}</h2>
          <ol>
            <li v-for="one in day.lines" :key="one.id">
              <LogEntry v-if="one.entries.length === 1" :entry="one.entries[0]!" :zone="zone" />
              <details v-else data-folded>
                <summary>
                  <span class="span">{{ timesOf(one, zone) }}</span>
                  {{ counted(one.entries.length, foldedAs(one.entries[0])!) }}:
                  <b class="tag">{{ subjectsOf(one) }}</b>
                </summary>
                <LogEntry v-for="entry in one.entries" :key="entry.id" :entry="entry" :zone="zone" />
              </details>
            </li>
          </ol>
        </section>
        <MoreRows
          v-if="log.hasNextPage.value"
          :words="t('logPlace.showOlderEntries')"
          :asking="log.isFetchingNextPage.value"
          @more="log.fetchNextPage()"
        /> </template
    ></LastKnown>
  </main>
</template>

<style scoped>
.find {
  width: 8rem;
}
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
