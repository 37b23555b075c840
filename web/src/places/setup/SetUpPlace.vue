<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import Accordion from 'primevue/accordion'
import { computed, ref } from 'vue'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries/useSetUp'
import { useWho } from '../../shell/me'
import { usePeople } from '../../api/queries/usePeople'
import { useCards } from '../../api/queries/useCards'
import { useStations } from '../../api/queries/useStations'
import { useStores } from '../../api/queries/useStores'
import { useUnits } from '../../api/queries/useUnits'
import { counted } from '../../words/units'
import DrivesTable from './DrivesTable.vue'
import PeopleTable from './PeopleTable.vue'
import RuleForm from './RuleForm.vue'
import CardsTable from './CardsTable.vue'
import CertificateKeys from './CertificateKeys.vue'
import ProductionsList from './ProductionsList.vue'
import CamerasTable from './CamerasTable.vue'
import PlanSheet from './PlanSheet.vue'
import StationsTable from './StationsTable.vue'
import UnitsTable from './UnitsTable.vue'
import ProductionForm from './ProductionForm.vue'
import RigsTable from './RigsTable.vue'
import { listed, number, t } from '../../words/say'
import { shortDay } from '../../words/times'
import LastKnown from '../../parts/LastKnown.vue'
import SetUpPart from '../../parts/SetUpPart.vue'
import ActButton from '../../parts/ActButton.vue'

const asked = useSetUp()
const { may, whyNot } = useWho()
const setup = computed(() => asked.data.value)
const chosen = ref<string>()
const plan = computed(
  () => setup.value?.plans.find((one) => one.name === chosen.value) ?? setup.value?.plans[0],
)
const fresh = computed<Shapes['PlanIn'] | undefined>(() =>
  setup.value
    ? {
        name: '',
        folder: '{production}/{date}/{roll}',
        names: '',
        start: 1,
        mend_names: false,
        roll_prefix: '',
        roll_digits: 3,
        roll_start: 1,
        algorithm: 'xxh128',
        more_algorithms: [],
        read_twice: false,
        release_after: false,
        decodes: false,
        job: '',
        fleet: '',
        text: '',
        sidecars: false,
        mhl: false,
        after_program: '',
        creator: '',
        rights: '',
        keywords: [],
        stores: [],
      }
    : undefined,
)
const adding = ref(false)
/** Which parts are open: they stay so while other screens are looked at. */
const open = useSessionStorage('raft-set-up', ['plans'])

const standsProduction = computed(() => {
  const now = setup.value
  if (!now) return ''
  const clock = `${String(now.day_starts_at).padStart(2, '0')}:00`
  return t('setUpPlace.productionStands', { zone: now.time_zone, day: shortDay(now.first_day), clock })
})
const stores = useStores()
const people = usePeople()
const standsDrives = computed(() => {
  const all = stores.data.value ?? []
  if (!all.length) return t('setUpPlace.noDrives')
  const there = all.filter((one) => one.online)
  return t('setUpPlace.drivesStand', { there: number(there.length), all: counted(all.length, 'store') })
})
const stations = useStations()
const standsStations = computed(() => {
  const gone = stations.away.value.map((one) => one.name)
  if (gone.length) return t('setUpPlace.stationsAway', { names: listed(gone) })
  return listed((stations.data.value ?? []).filter((one) => one.running).map((one) => one.name))
})
const units = useUnits()
const standsUnits = computed(() => {
  const out = (units.data.value?.units ?? []).filter((one) => !one.ended_at)
  return out.length ? listed(out.map((one) => one.name)) : t('setUpPlace.noUnit')
})
const standsPeople = computed(() =>
  listed((people.data.value?.people ?? []).filter((one) => one.active).map((one) => one.name)),
)
const standsPlans = computed(() => listed(setup.value?.plans.map((one) => one.name) ?? []))
const standsCameras = computed(() =>
  setup.value?.cameras.length
    ? listed(setup.value.cameras.map((one) => one.letter))
    : t('setUpPlace.noCameraYet'),
)
const cards = useCards()
const standsCards = computed(() => counted(cards.data.value?.length ?? 0, 'card'))
const standsRigs = computed(() =>
  setup.value?.rigs.length
    ? listed(setup.value.rigs.map((rig) => `${rig.name} (${rig.cameras.join(', ')})`))
    : t('setUpPlace.noRig'),
)
</script>

<template>
  <main class="place">
    <h1 class="unseen">{{ t('places.setUp') }}</h1>
    <LastKnown :error="asked.error.value" :known="Boolean(setup)" :updated-at="asked.dataUpdatedAt.value"
      ><template v-if="setup">
        <p v-if="!may('plan')" class="soft">{{ t('setUpPlace.yourRoleSeesTheSet') }}</p>
        <Accordion v-model:value="open" multiple>
          <SetUpPart part="production" :title="setup.name" :stands="standsProduction">
            <ProductionForm :key="setup.time_zone + setup.first_day + setup.day_starts_at" :setup="setup" />
            <CertificateKeys :zone="setup.time_zone" />
            <ProductionsList :setup="setup" />
          </SetUpPart>
          <SetUpPart part="drives" :title="t('setUpPlace.drives')" :stands="standsDrives">
            <DrivesTable v-if="stores.data.value" :stores="stores.data.value" />
          </SetUpPart>
          <SetUpPart part="rule" :title="t('setUpPlace.rule')" :stands="setup.rule.sentence">
            <RuleForm :key="JSON.stringify(setup.rule)" :rule="setup.rule" />
          </SetUpPart>
          <SetUpPart part="plans" :title="t('setUpPlace.plans')" :stands="standsPlans">
            <nav :aria-label="t('setUpPlace.plans')" class="plans">
              <button
                v-for="one in setup.plans"
                :key="one.id"
                type="button"
                class="pick"
                :aria-pressed="!adding && one.id === plan?.id"
                :data-plan="one.name"
                @click="((chosen = one.name), (adding = false))"
              >
                {{ one.name }}
              </button>
              <ActButton
                type="button"
                class="quiet small"
                :label="t('setUpPlace.newPlan')"
                :why-not="whyNot('plan')"
                data-new-plan
                @press="adding = true"
              />
            </nav>
            <PlanSheet
              v-if="adding && fresh"
              key="new"
              :plan="fresh"
              :setup="setup"
              @saved="adding = false"
            />
            <PlanSheet v-else-if="plan" :key="plan.id" :plan="plan" :setup="setup" />
          </SetUpPart>
          <SetUpPart part="cameras" :title="t('setUpPlace.cameras')" :stands="standsCameras">
            <CamerasTable :setup="setup" />
          </SetUpPart>
          <SetUpPart part="cards" :title="t('setUpPlace.cards')" :stands="standsCards">
            <CardsTable
              v-if="cards.data.value"
              :cards="cards.data.value"
              :letters="setup.cameras.map((one) => one.letter)"
            />
          </SetUpPart>
          <SetUpPart part="rigs" :title="t('setUpPlace.rigs')" :stands="standsRigs">
            <RigsTable :setup="setup" />
          </SetUpPart>
          <SetUpPart
            part="stations"
            :title="t('setUpPlace.stations')"
            :stands="standsStations"
            :trouble="stations.away.value.length > 0"
          >
            <StationsTable v-if="stations.data.value" :stations="stations.data.value" />
          </SetUpPart>
          <SetUpPart part="units" :title="t('setUpPlace.units')" :stands="standsUnits">
            <UnitsTable
              v-if="units.data.value"
              :units="units.data.value"
              :letters="setup.cameras.map((one) => one.letter)"
            />
          </SetUpPart>
          <SetUpPart part="people" :title="t('setUpPlace.people')" :stands="standsPeople">
            <PeopleTable v-if="people.data.value" :crew="people.data.value" />
          </SetUpPart>
        </Accordion> </template
    ></LastKnown>
  </main>
</template>

<style scoped>
.plans {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
}
</style>
