<script setup lang="ts">
import SelectButton from 'primevue/selectbutton'
import { computed, ref } from 'vue'
import { useSetClock } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { useClockMoves } from '../../api/queries/useClockMoves'
import ActButton from '../../parts/ActButton.vue'
import MaskedField from '../../parts/MaskedField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { listed, t } from '../../words/say'
import { apart, momentOf, secondsOf, stamp } from '../../words/times'

/** A camera's clock, told as people find out: it showed this when it was that. No file is touched by it. */
const props = defineProps<{
  camera: string
  aheadS: number
  timeZone: string
  /** The card's own first and last time as the camera wrote them, in seconds. */
  first: number
  last: number
}>()
const { whyNot } = useWho()
const now = Math.floor(Date.now() / 1000)
const showed = ref(props.aheadS ? stamp(now + props.aheadS, props.timeZone) : '')
const was = ref(stamp(now, props.timeZone))

type Reach = 'all' | 'card' | 'stretch'
const reach = ref<Reach>('all')
const REACHES: { name: string; value: Reach }[] = [
  { name: t('clockForm.allItShot'), value: 'all' },
  { name: t('clockForm.thisCard'), value: 'card' },
  { name: t('clockForm.aStretch'), value: 'stretch' },
]
const since = ref(stamp(props.first, props.timeZone))
const until = ref(stamp(props.last, props.timeZone))

/** Seconds ahead, or undefined while the fields say no times. */
const ahead = computed(() => {
  const [there, here] = [secondsOf(showed.value), secondsOf(was.value)]
  return there === undefined || here === undefined ? undefined : there - here
})
/** The span by the camera's own clock; undefined while its fields say no times. */
const span = computed(() => {
  if (reach.value === 'all') return { since_s: null, until_s: null }
  if (reach.value === 'card') return { since_s: Math.floor(props.first), until_s: Math.ceil(props.last) }
  const [from, to] = [momentOf(since.value, props.timeZone), momentOf(until.value, props.timeZone)]
  return from === undefined || to === undefined ? undefined : { since_s: from, until_s: to }
})
const said = computed<Shapes['ClockIn'] | undefined>(() =>
  ahead.value === undefined || !span.value ? undefined : { ahead_s: ahead.value, ...span.value },
)
const moves = useClockMoves(props.camera, said)

const words = computed(() => {
  if (ahead.value === undefined) return t('clockForm.lookAtTheCamerasClock')
  if (ahead.value === 0) return t('clockForm.cameraSClockIsRight', { camera: props.camera })
  const long = apart(Math.abs(ahead.value))
  return t(ahead.value > 0 ? 'clockForm.isAhead' : 'clockForm.isBehind', { long })
})
const touched = computed(() => {
  const cards = moves.data.value
  if (!cards || !said.value) return ''
  if (!cards.length) return t('clockForm.movesNothing')
  const days = cards
    .filter((card) => card.day !== card.day_then)
    .map((card) =>
      t('clockForm.dayMoves', {
        card: card.label,
        day: card.day,
        then: card.day_then,
      }),
    )
  const names = t('clockForm.movesTimesOf', { cards: listed(cards.map((card) => card.label)) })
  return days.length ? `${names} ${t('clockForm.movesDays', { days: listed(days) })}` : names
})
const set = useSetClock()
const go = () => said.value && set.mutate({ camera: props.camera, ...said.value })
</script>

<template>
  <form data-clock @submit.prevent="go">
    <label>
      {{ t('clockForm.cameraShowed', { camera }) }}
      <MaskedField
        v-model="showed"
        mask="9999-99-99 99:99:99"
        placeholder="2026-05-14 09:30:00"
        data-showed
      />
    </label>
    <label>
      {{ t('clockForm.whenItWas') }}
      <MaskedField v-model="was" mask="9999-99-99 99:99:99" data-was />
    </label>
    <SelectButton
      v-model="reach"
      :options="REACHES"
      option-label="name"
      option-value="value"
      :allow-empty="false"
      :aria-label="t('clockForm.forWhich')"
      data-reach
    />
    <template v-if="reach === 'stretch'">
      <label>
        {{ t('clockForm.byItsOwnClockFrom') }}
        <MaskedField v-model="since" mask="9999-99-99 99:99:99" data-since-clock />
      </label>
      <label>
        {{ t('clockForm.until') }}
        <MaskedField v-model="until" mask="9999-99-99 99:99:99" data-until-clock />
      </label>
    </template>
    <ActButton
      type="submit"
      class="quiet small"
      :label="t('clockForm.showTrueTimes')"
      :why-not="whyNot('set_clock') ?? (said ? undefined : t('clockForm.lookAtTheCamerasClock'))"
      :busy="set.isPending.value"
    />
    <p class="soft wide" role="status" data-ahead>{{ words }} {{ touched }}</p>
    <SaidNo :error="set.error.value ?? moves.error.value" />
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-4);
  align-items: center;
}
label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
.wide {
  flex-basis: 100%;
}
</style>
