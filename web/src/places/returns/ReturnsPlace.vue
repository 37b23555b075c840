<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useCancelRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { runProgress } from '../../api/live'
import { useReturns } from '../../api/queries/useReturns'
import ActButton from '../../parts/ActButton.vue'
import LastKnown from '../../parts/LastKnown.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import { age, roughly } from '../../words/times'
import { counted } from '../../words/units'
import LookForm from './LookForm.vue'
import LookFound from './LookFound.vue'
import MakeForm from './MakeForm.vue'
import RestoreForm from './RestoreForm.vue'
import { codecName } from './recipes'

/** Folders that people work in: what of them is not as it was, and what is brought back. None of it is a copy. */
const route = useRoute()
const { whyNot } = useWho()
const text = (name: string) => {
  const said = route.query[name]
  return typeof said === 'string' && said ? said : undefined
}
const tag = computed(() => text('tag'))
const day = computed(() => text('day'))
const returns = useReturns()
const cancel = useCancelRun()
const looks = computed(() => returns.data.value?.looks ?? [])
const opened = ref<number>()
/** The newest, until somebody opens another. */
const shown = computed(() => looks.value.find((one) => one.id === opened.value) ?? looks.value[0])
const under = (one: Shapes['ReturnOut']) => !one.outcome
/** How far a run is, as its station says now. */
function progressOf(run: number) {
  const now = runProgress.get(run)
  if (!now?.total) return ''
  const share = t('making.share', { percent: number(Math.floor((100 * now.read) / now.total)) })
  return now.left_s == null ? share : `${share}, ${t('making.left', { time: roughly(now.left_s) })}`
}
const STATES: Partial<Record<Shapes['RunState'], string>> = {
  waiting: t('returns.waiting'),
  paused: t('returns.paused'),
  running: t('returns.running'),
  stopping: t('returns.ending'),
}
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/find">{{ t('places.find') }}</RouterLink>
    </p>
    <h1>{{ t('returns.title') }}</h1>
    <p class="soft">{{ t('returns.says') }}</p>
    <RestoreForm v-if="tag || day" :tag="tag" :clip="text('clip')" :day="day" />
    <MakeForm v-if="(tag && !text('clip')) || day" :tag="tag" :day="day" />
    <LookForm v-if="!tag && !day" />
    <LastKnown
      :error="returns.error.value"
      :known="Boolean(returns.data.value)"
      :updated-at="returns.dataUpdatedAt.value"
    >
      <section v-if="returns.data.value?.returns.length" class="chapter" data-returns>
        <h2>{{ t('returns.brought') }}</h2>
        <p v-for="one in returns.data.value.returns" :key="one.run" class="return" :data-return="one.tag">
          <RouterLink class="tag" :to="`/tally/${encodeURIComponent(one.tag)}`">{{ one.tag }}</RouterLink>
          <span>
            <template v-if="under(one)"
              >{{ counted(one.files, 'file') }} → <code>{{ one.folder }}</code>:
              {{ STATES[one.state] }}</template
            ><span v-else data-outcome>{{ one.outcome }}</span
            >{{ ' '
            }}<span class="soft">{{ t('returns.askedBy', { by: one.by, age: age(one.asked_at) }) }}</span>
          </span>
          <ActButton
            v-if="under(one)"
            type="button"
            link
            :label="t('returns.cancel')"
            :why-not="whyNot('offload')"
            :busy="cancel.isPending.value || one.state === 'stopping'"
            @press="cancel.mutate(one.run)"
          />
        </p>
        <SaidNo :error="cancel.error.value" />
      </section>
      <section v-if="returns.data.value?.making.length" class="chapter" data-making>
        <h2>{{ t('making.made') }}</h2>
        <p v-for="one in returns.data.value.making" :key="one.run" class="return" :data-made="one.tag">
          <RouterLink class="tag" :to="`/tally/${encodeURIComponent(one.tag)}`">{{ one.tag }}</RouterLink>
          <span>
            <template v-if="!one.outcome"
              >{{ codecName(one.codec) }} → <code>{{ one.folder }}</code>: {{ STATES[one.state] }}
              <span v-if="progressOf(one.run)" data-progress>{{ progressOf(one.run) }}</span></template
            ><span v-else data-outcome>{{ one.outcome }}</span
            >{{ ' '
            }}<span class="soft">{{ t('returns.askedBy', { by: one.by, age: age(one.asked_at) }) }}</span>
          </span>
          <ActButton
            v-if="!one.outcome"
            type="button"
            link
            :label="t('returns.cancel')"
            :why-not="whyNot('offload')"
            :busy="cancel.isPending.value || one.state === 'stopping'"
            @press="cancel.mutate(one.run)"
          />
        </p>
      </section>
      <LookFound v-if="shown && !tag && !day" :key="shown.id" :look="shown" />
      <section v-if="looks.length > 1 && !tag && !day" class="chapter">
        <h2>{{ t('returns.earlier') }}</h2>
        <p v-for="one in looks" :key="one.id">
          <button
            type="button"
            class="link"
            :aria-current="one.id === shown?.id ? 'true' : undefined"
            @click="opened = one.id"
          >
            {{ one.folder }}
          </button>
          <span class="soft"> {{ t('returns.askedBy', { by: one.by, age: age(one.asked_at) }) }}</span>
        </p>
      </section>
    </LastKnown>
  </main>
</template>

<style scoped>
h1 {
  font: 700 var(--type-large) / 1.2 var(--tag);
}
.return {
  display: grid;
  grid-template-columns: 5rem minmax(0, 1fr) auto;
  gap: var(--space-3);
  align-items: baseline;
  margin: 0;
  padding: var(--space-1h) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.return span {
  overflow-wrap: anywhere;
}
</style>
