<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, reactive, ref, watch } from 'vue'
import { useBegin } from '../../api/acts/begin'
import { useBeginLook } from '../../api/queries/useBeginLook'
import RaftMark, { type RaftPlank } from '../../marks/RaftMark.vue'
import WaterEdge from '../../marks/WaterEdge.vue'
import ActButton from '../../parts/ActButton.vue'
import DayField from '../../parts/DayField.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import ZoneField from '../../parts/ZoneField.vue'
import { t } from '../../words/say'
import FirstDrive from './FirstDrive.vue'
import type { Drive } from './drives'

/** An empty ledger: who, what, which drives, which rule; and then the first card. */
/** The shoot day that it is now where the screen stands: work before four in the morning belongs to the day before. */
function today(): string {
  const at = new Date(Date.now() - 4 * 3600 * 1000)
  const parts = [at.getFullYear(), at.getMonth() + 1, at.getDate()]
  return parts.map((part, n) => String(part).padStart(n ? 2 : 4, '0')).join('-')
}
const token = location.hash.slice(1)
const who = reactive({ name: '', password: '' })
const what = reactive({
  production: '',
  zone: Intl.DateTimeFormat().resolvedOptions().timeZone || 'UTC',
  day: today(),
})
const drives = reactive(new Map<string, Drive>())
const chosen = computed(() => [...drives.values()].filter((one) => one.chosen))
const look = useBeginLook(token, () => chosen.value.map((one) => one.path))
/** Those that can be taken first. */
const volumes = computed(() =>
  (look.data.value?.volumes ?? []).toSorted((a, b) => Number(b.usable) - Number(a.usable)),
)

const rule = reactive({ copies: 2, devices: 2 })
/** What was proposed is followed until somebody changes it. */
const touched = ref(false)
watch(look.data, (now) => {
  if (!now) return
  if (!touched.value) Object.assign(rule, { copies: now.rule.copies, devices: now.rule.devices })
})
const planks = computed<RaftPlank[]>(() =>
  Array.from({ length: rule.copies }, (_, n) => ({
    store: chosen.value[n]?.name ?? String(n + 1),
    state: 'wanted',
    same_device: false,
  })),
)
const sentence = computed(() =>
  touched.value
    ? t('beginPage.ruleOfYours', { copies: rule.copies, devices: rule.devices })
    : (look.data.value?.rule.sentence ?? ''),
)

const begin = useBegin()
const lacking = computed(() => {
  if (!who.name.trim() || !who.password) return t('beginPage.lacksWho')
  if (!what.production.trim()) return t('beginPage.lacksWhat')
  return chosen.value.some((one) => !one.name.trim()) ? t('beginPage.lacksNames') : undefined
})
const go = () =>
  begin.mutate(
    {
      token,
      name: who.name,
      password: who.password,
      production: what.production,
      time_zone: what.zone,
      first_day: what.day,
      drives: chosen.value.map(({ path, name, medium, place }) => ({ path, name, medium, place })),
      ...rule,
      offsite: 0,
    },
    { onSuccess: () => location.replace('/') },
  )
</script>

<template>
  <main class="begin">
    <div class="boards">
      <header>
        <RaftMark :planks="planks" :needed="rule.copies" :met="false" :size="96" aria-hidden="true" />
        <h1>{{ t('beginPage.beginYourLedger') }}</h1>
      </header>
      <SaidNo :error="look.error.value" />
      <form v-if="look.data.value" @submit.prevent="go">
        <fieldset>
          <legend>{{ t('beginPage.who') }}</legend>
          <label
            >{{ t('beginPage.name') }}
            <InputText v-model="who.name" class="field" autocomplete="username" autofocus data-name
          /></label>
          <label
            >{{ t('beginPage.password') }}
            <InputText
              v-model="who.password"
              class="field"
              type="password"
              autocomplete="new-password"
              data-password
          /></label>
          <p class="soft">{{ t('beginPage.whoYouAre') }}</p>
        </fieldset>
        <fieldset>
          <legend>{{ t('beginPage.what') }}</legend>
          <label
            >{{ t('beginPage.production') }}
            <InputText v-model="what.production" class="field" data-production-name
          /></label>
          <ZoneField v-model="what.zone" :label="t('productionForm.timeZone')" />
          <DayField v-model="what.day" :label="t('productionForm.firstDay')" />
        </fieldset>
        <fieldset>
          <legend>{{ t('beginPage.where') }}</legend>
          <p v-if="!volumes.some((one) => one.usable)" data-no-drive>{{ t('beginPage.noDrive') }}</p>
          <ul>
            <FirstDrive v-for="one in volumes" :key="one.path" :volume="one" :drives="drives" />
          </ul>
          <p v-if="chosen.length === 1" class="care" data-one-drive>{{ t('beginPage.oneDrive') }}</p>
        </fieldset>
        <fieldset>
          <legend>{{ t('beginPage.rule') }}</legend>
          <p data-rule>{{ t('beginPage.mayGoBack', { rule: sentence }) }}</p>
          <span class="line" @input="touched = true" @change="touched = true">
            <NumberField v-model="rule.copies" :label="t('beginPage.copies')" :min="1" :max="9" />
            <NumberField v-model="rule.devices" :label="t('beginPage.devices')" :min="1" :max="9" />
          </span>
        </fieldset>
        <ActButton
          type="submit"
          :label="t('beginPage.begin')"
          :why-not="lacking"
          :busy="begin.isPending.value"
          data-begin
        />
        <SaidNo :error="begin.error.value" />
      </form>
    </div>
    <div class="sea"><WaterEdge /></div>
  </main>
</template>

<style scoped>
.begin {
  display: grid;
  grid-template-rows: 1fr 8vh;
  min-height: 100%;
}
.boards {
  width: min(56rem, calc(100vw - 2rem));
  margin: 0 auto;
  padding: var(--space-6) 0;
}
header {
  display: flex;
  gap: var(--space-5);
  align-items: center;
  margin-bottom: var(--space-5);
}
h1 {
  font: 700 var(--type-slot)/1 var(--tag);
}
form {
  display: grid;
  gap: var(--space-6);
}
fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-5);
  align-items: center;
  margin: 0;
  padding: 0 0 0 var(--space-5);
  border: 0;
  border-left: var(--line-bar) solid var(--ink);
}
fieldset > p,
ul {
  flex-basis: 100%;
}
legend {
  float: left;
  flex-basis: 100%;
  padding: 0;
  font: 700 var(--type-head)/1.15 var(--tag);
}
label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
.care {
  color: var(--care);
}
</style>
