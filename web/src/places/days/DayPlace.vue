<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { HERE } from '../../api/here'
import { useDay, useDays } from '../../api/queries/useDays'
import AccountLines from '../../parts/AccountLines.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'
import { dayAndClock, dayInWords, shortDay } from '../../words/times'
import DayFigures from './DayFigures.vue'
import DayHappened from './DayHappened.vue'
import DayRibbon from './DayRibbon.vue'
import DayRolls from './DayRolls.vue'
import DaysBeside from './DaysBeside.vue'

/** What a day came to: as things are now, what came later than a hand-over marked; or as it was handed over. */
const props = defineProps<{ day?: string }>()
const NOW = 0
const PAPERS = [
  ['pdf', t('days.pdf')],
  ['csv', t('days.csv')],
  ['json', t('days.json')],
] as const
const router = useRouter()
const days = useDays()
const shown = computed(() => props.day || days.data.value?.[0]?.day)
const edition = ref(NOW)
watch(shown, () => (edition.value = NOW))
const asked = useDay(shown, () => edition.value || undefined)
const found = computed(() => asked.data.value)
const account = computed(() => found.value?.account)
const editions = computed(() => [
  { name: t('days.asNow'), value: NOW },
  ...[...(found.value?.editions ?? [])].reverse().map((one) => ({
    name: t('days.asOf', { by: one.by, at: dayAndClock(one.at, account.value?.time_zone ?? 'UTC') }),
    value: one.id,
  })),
])
const which = computed(() => {
  if (!found.value || !account.value) return ''
  const at = dayAndClock(account.value.at, account.value.time_zone)
  if (found.value.edition) return t('days.frozen', { by: found.value.edition.by, at })
  return t(found.value.editions.length ? 'days.nowLater' : 'days.now', { at })
})
const paper = (kind: string) =>
  `/api/productions/${encodeURIComponent(HERE)}/days/${shown.value}/account.${kind}${edition.value ? `?edition=${edition.value}` : ''}`
const print = () => window.print()
</script>

<template>
  <main class="place">
    <p class="screen-only">
      <RouterLink to="/log">{{ t('places.log') }}</RouterLink> ·
      <RouterLink v-if="shown" :to="{ path: '/returns', query: { day: shown } }" data-bring-day>{{
        t('returns.ofTheDay')
      }}</RouterLink>
    </p>
    <LastKnown
      :error="days.error.value ?? asked.error.value"
      :known="Boolean(days.data.value && (found || !days.data.value.length))"
      :updated-at="asked.dataUpdatedAt.value"
    >
      <h1 class="unseen">{{ t('days.title') }}</h1>
      <p v-if="!shown" data-no-day>{{ t('days.none') }}</p>
      <nav class="days screen-only" :aria-label="t('days.title')">
        <button
          v-for="one in days.data.value"
          :key="one.day"
          type="button"
          class="pick"
          :aria-pressed="one.day === shown"
          :data-day="one.day"
          @click="router.push(`/days/${one.day}`)"
        >
          {{ t('days.day', { number: one.number }) }}<span class="soft">{{ shortDay(one.day) }}</span>
        </button>
      </nav>
      <template v-if="found && account">
        <header>
          <h2 class="which">
            {{
              t('days.heading', {
                number: account.number,
                day: dayInWords(`${account.day}T12:00:00Z`, 'UTC'),
              })
            }}
          </h2>
          <p role="status" data-which>{{ which }}</p>
          <p v-if="!found.sealed" role="alert" class="trouble" data-changed>{{ t('days.changed') }}</p>
          <div class="papers screen-only">
            <ChooseOne v-model="edition" :label="t('days.which')" :options="editions" data-edition />
            <a
              v-for="[kind, words] in PAPERS"
              :key="kind"
              class="act quiet small"
              :href="paper(kind)"
              target="_blank"
              rel="noopener"
              :data-paper="kind"
              >{{ words }}</a
            >
            <button type="button" class="act quiet small" data-print @click="print">
              {{ t('days.print') }}
            </button>
          </div>
          <AccountLines class="screen-only" on="day" :about="account.day" />
        </header>
        <section class="chapter" data-open>
          <h2>{{ t('days.open') }}</h2>
          <p v-if="!account.open.length">{{ t('days.nothingOpen') }}</p>
          <ul v-else class="open">
            <li v-for="one in account.open" :key="one.sentence">{{ one.sentence }}</li>
          </ul>
        </section>
        <DayFigures :account="account" />
        <DayRibbon :rolls="account.rolls" :time-zone="account.time_zone" />
        <DayRolls :rolls="account.rolls" />
        <DayHappened :account="account" />
        <DaysBeside :days="days.data.value ?? []" :day="account.day" />
        <p class="soft" data-journal>
          {{ t('days.journal', { head: account.head, seal: account.seal.slice(0, 16) }) }}
        </p>
      </template>
    </LastKnown>
  </main>
</template>

<style scoped>
.days {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  margin: var(--space-2) 0 var(--space-4);
}
.which {
  font-size: var(--type-large);
}
.papers {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
  margin-top: var(--space-3);
}
.open li {
  padding: var(--space-1h) 0 var(--space-1h) var(--space-3);
  border-bottom: var(--line-hair) solid var(--hair);
  box-shadow: inset var(--line-bar) 0 0 var(--trouble);
}
</style>
