<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import { refDebounced } from '@vueuse/core'
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries/useSetUp'
import { useTally } from '../../api/queries/useTally'
import WaterEdge from '../../marks/WaterEdge.vue'
import { seesWork } from '../../api/seen'
import LastKnown from '../../parts/LastKnown.vue'
import MoreRows from '../../parts/MoreRows.vue'
import { shortDay } from '../../words/times'
import { bytes, counted } from '../../words/units'
import { moveOverMarks } from './marks'
import BehindLine from './BehindLine.vue'
import KeptViews from './KeptViews.vue'
import SinceLooked from './SinceLooked.vue'
import SoughtBar from './SoughtBar.vue'
import { asAsked, seekAll, sought } from './sought'
import TallyRow from './TallyRow.vue'
import { number, t } from '../../words/say'

const text = refDebounced(
  computed(() => sought.text.trim()),
  200,
)
const asked = computed(() => asAsked({ ...sought, text: text.value }))
const narrowed = computed(() => Object.keys(asked.value).length > 0)

const tally = useTally(asked)
const setUp = useSetUp()
const pages = computed(() => tally.data.value?.pages ?? [])
const rolls = computed(() => pages.value.flatMap((page) => page.rolls))
/** Each page tells the counts and days of all that was sought; the last one asked for is the newest. */
const last = computed(() => pages.value.at(-1))
const stores = computed(() => pages.value[0]?.stores ?? [])
const below = computed(() => rolls.value.filter((roll) => roll.state === 'below the line'))
const short = computed(() => rolls.value.filter((roll) => roll.state === 'short'))
interface OfDay {
  day: Shapes['DayOut'] | undefined
  rolls: Shapes['RollOut'][]
}
const safeByDay = computed(() => {
  const found = new Map<string, OfDay>()
  for (const roll of rolls.value.filter((one) => one.state === 'safe')) {
    const day = last.value?.days.find((one) => one.day === roll.shoot_day)
    const of = found.get(roll.shoot_day) ?? { day, rolls: [] }
    of.rolls.push(roll)
    found.set(roll.shoot_day, of)
  }
  return [...found.values()]
})
const firstTag = computed(() => (below.value[0] ?? short.value[0] ?? safeByDay.value[0]?.rolls[0])?.tag)
const survives = computed(() => {
  const { survives_devices: devices, survives_locations: locations } = last.value ?? {}
  if (devices === undefined || devices === null || devices < 0) return t('tallyPlace.someRollHasNoCopy')
  if (!devices) return t('tallyPlace.someRollSurvivesNone')
  const one = { devices: counted(devices, 'device') }
  if (!locations) return t('tallyPlace.everyRollSurvives', one)
  return t('tallyPlace.everyRollSurvivesPlaces', { ...one, locations: counted(locations, 'location') })
})
const wide = computed(() => stores.value.length + 3)
const standsElsewhere = (count: number) => (count ? t('tallyPlace.ofThemNotSafeAnd', {}, count) : '')
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.tally') }}</h1>
    <LastKnown
      :error="tally.error.value"
      :known="Boolean(tally.data.value)"
      :updated-at="tally.dataUpdatedAt.value"
      ><template v-if="last">
        <SoughtBar
          v-if="last.in_all || narrowed"
          :days="last.days"
          :cameras="setUp.data.value?.cameras ?? []"
          :stores="stores"
          :in-all="last.in_all"
          :narrowed="narrowed"
        />
        <KeptViews v-if="last.in_all || narrowed" :narrowed="narrowed" />
        <p v-if="seesWork" class="figure more">
          <RouterLink to="/reports" data-reports-link>{{ t('reports.link') }}</RouterLink>
          <RouterLink to="/deliveries" data-deliveries-link>{{ t('deliveries.link') }}</RouterLink>
          <RouterLink to="/wall" data-wall-link>{{ t('wall.link') }}</RouterLink>
        </p>
        <p v-if="last.survives_devices !== null && !narrowed" class="figure" data-survives>
          {{ survives }}
          <RouterLink v-if="seesWork" to="/stores">{{ t('tallyPlace.whatIf') }}</RouterLink>
        </p>
        <SinceLooked v-if="last.in_all || narrowed" />
        <BehindLine v-if="!narrowed" />
        <p v-if="!rolls.length && narrowed" class="empty" data-none>
          {{ t('tallyPlace.noRollIsLikeThat') }}
          <button type="button" class="link" @click="seekAll">{{ t('tallyPlace.showAll') }}</button>
        </p>
        <p v-else-if="!rolls.length" class="empty">
          <I18nT keypath="tallyPlace.noRollYetTheFirst" scope="global">
            <template #bench
              ><RouterLink to="/">{{ t('places.bench') }}</RouterLink></template
            >
          </I18nT>
        </p>
        <div v-else class="scroll">
          <table role="grid" :aria-label="t('tallyPlace.rollsByStore')" @keydown="moveOverMarks">
            <thead>
              <tr>
                <th scope="col">{{ t('tallyPlace.roll') }}</th>
                <th scope="col">{{ t('tallyPlace.raft') }}</th>
                <th
                  v-for="store in stores"
                  :key="store.name"
                  scope="col"
                  :class="['store', { lost: store.lost }]"
                >
                  {{ store.name }}
                  <small>{{ store.location }}</small>
                  <small v-if="store.lost || !store.online">{{
                    store.lost ? t('tallyPlace.lost') : t('tallyPlace.notConnected')
                  }}</small>
                  <small v-else>{{ t('tallyPlace.free', { free: bytes(store.free) }) }}</small>
                </th>
                <th scope="col" class="rule">
                  {{ t('tallyPlace.lacks') }}
                  <small>{{ t('tallyPlace.ofTheRule', { rule: last.rule }) }}</small>
                </th>
              </tr>
            </thead>
            <tbody v-if="below.length" class="surface" aria-hidden="true">
              <tr>
                <td :colspan="wide"><WaterEdge /></td>
              </tr>
            </tbody>
            <tbody v-if="below.length" class="under-water" data-part="below">
              <TallyRow
                v-for="roll in below"
                :key="roll.tag"
                :roll="roll"
                :stores="stores"
                :first="roll.tag === firstTag"
              />
            </tbody>
            <tbody v-if="short.length" data-part="short">
              <tr class="group">
                <th :colspan="wide" scope="rowgroup">{{ t('tallyPlace.shortOfTheRule') }}</th>
              </tr>
              <TallyRow
                v-for="roll in short"
                :key="roll.tag"
                :roll="roll"
                :stores="stores"
                :first="roll.tag === firstTag"
              />
            </tbody>
            <tbody v-for="of in safeByDay" :key="of.rolls[0]!.shoot_day" :data-day="of.rolls[0]!.shoot_day">
              <tr class="group">
                <th :colspan="wide" scope="rowgroup">
                  {{
                    t('tallyPlace.day', {
                      number: of.day?.number ?? '',
                      day: shortDay(of.rolls[0]!.shoot_day),
                    })
                  }}
                  <small v-if="of.day"
                    >{{ counted(of.day.rolls, 'roll') }}, {{ counted(of.day.files, 'file') }},
                    {{ bytes(of.day.bytes) }}{{ standsElsewhere(of.day.unsafe) }}</small
                  >
                </th>
              </tr>
              <TallyRow
                v-for="roll in of.rolls"
                :key="roll.tag"
                :roll="roll"
                :stores="stores"
                :first="roll.tag === firstTag"
              />
            </tbody>
          </table>
          <MoreRows
            v-if="tally.hasNextPage.value"
            :words="
              t('tallyPlace.ofShownShowMore', {
                shown: number(rolls.length),
                rolls: counted(last.in_all, 'roll'),
              })
            "
            :asking="tally.isFetchingNextPage.value"
            @more="tally.fetchNextPage()"
          />
        </div> </template
    ></LastKnown>
  </main>
</template>

<style scoped>
.more {
  display: flex;
  float: right;
  gap: var(--space-4);
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
thead th {
  padding: var(--space-1) var(--space-2) var(--space-2) 0;
  border-bottom: var(--line) solid var(--ink);
  text-align: left;
  vertical-align: bottom;
  font: 700 var(--type-lead)/1.1 var(--tag);
  white-space: nowrap;
}
thead .rule {
  white-space: normal;
}
small {
  display: block;
  font: 400 var(--type-note)/1.3 var(--text);
  color: var(--ink-soft);
}
.lost,
.lost small {
  color: var(--trouble);
}
.surface td {
  padding: var(--space-2) 0 0;
  color: var(--water);
}
.group th {
  padding: var(--space-5) 0 var(--space-1);
  border-bottom: var(--line) solid var(--ink);
  text-align: left;
  font: 700 var(--type-head)/1.1 var(--tag);
}
.group small {
  display: inline;
  padding-left: var(--space-2);
}
.empty {
  padding: var(--space-10) 0;
  font-size: var(--type-tag);
}
@media (--phone) {
  thead {
    display: none;
  }
}
</style>
