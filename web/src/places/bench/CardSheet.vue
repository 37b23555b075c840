<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { useAllClips, useContents } from '../../api/queries/useContents'
import TimeRibbon from '../../marks/TimeRibbon.vue'
import GoneFiles from '../../parts/GoneFiles.vue'
import { clock, dayAndClock, roughly } from '../../words/times'
import { bytes, counted, exactBytes, type Countable } from '../../words/units'
import CardContents from './CardContents.vue'
import CardFindings from './CardFindings.vue'
import { clipsOf, ribbonRows } from './clips'
import GoesTo from './GoesTo.vue'
import IntroduceForm from './IntroduceForm.vue'
import NextAct from './NextAct.vue'
import LetGo from './LetGo.vue'
import NamesPreview from './NamesPreview.vue'
import RigPanel from './RigPanel.vue'
import RunPace from './RunPace.vue'
import RunReport from './RunReport.vue'
import StorePlank from './StorePlank.vue'
import TakeBar from './TakeBar.vue'
import { useTaking } from './taking'
import { number, t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'

/** The card in the chosen slot: what is on it, where it will go, and the one next act. */
const props = defineProps<{
  slotData: Shapes['SlotOut']
  cameras: Shapes['CameraOut'][]
  timeZone: string
}>()

const listing = computed(() => props.slotData.listing)
const allHeld = (one: Shapes['Startable']) => one === 'all held' || one === 'chosen held'
const asked = useContents(() => props.slotData.insertion_id)
const contents = computed(() => asked.data.value)
const kinds = computed(() => {
  const on = contents.value?.counts
  if (!on) return ''
  const parts: [number, Countable][] = [
    [on.stills, 'still'],
    [on.video, 'videoClip'],
    [on.sound, 'soundTake'],
    [on.sidecars, 'sidecar'],
    [on.other, 'otherFile'],
  ]
  return parts
    .filter(([count]) => count)
    .map(([count, name]) => counted(count, name))
    .join(', ')
})
const span = computed(() => {
  const first = contents.value?.shot_from ?? undefined
  const last = contents.value?.shot_until ?? undefined
  if (first === undefined || last === undefined) return ''
  return t('times.fromTo', {
    from: dayAndClock(moment(first), props.timeZone),
    to: sameDay(first, last)
      ? clock(moment(last), props.timeZone)
      : dayAndClock(moment(last), props.timeZone),
  })
})
const moment = (seconds: number) => new Date(seconds * 1000).toISOString()
const sameDay = (one: number, two: number) => Math.abs(one - two) < 20 * 3600
const more = computed(() =>
  contents.value ? contents.value.clips_in_all > contents.value.clips.paths.length : false,
)
const asTheRest = useAllClips(() => (more.value ? props.slotData.insertion_id : null))
const rest = computed(() => (more.value ? asTheRest.data.value : undefined))
/** Whether `clips` are all of them; until then they are the first. */
const complete = computed(() => !more.value || Boolean(rest.value))
const clips = computed(() => (contents.value ? clipsOf(rest.value ?? contents.value.clips) : []))
const rows = computed(() =>
  complete.value ? ribbonRows(clips.value, props.slotData.camera?.letter ?? t('cardSheet.unknown')) : [],
)
const taking = useTaking(
  computed(() => (props.slotData.proposal ? props.slotData.card_id : null)),
  clips,
  computed(() => props.slotData.proposal?.renames ?? false),
)
const picked = computed(() => new Set(taking.take.picked ?? []))
const range = computed({
  get: () => ({ from: taking.take.from_s, until: taking.take.until_s }),
  set: ({ from, until }) => {
    taking.take.from_s = from
    taking.take.until_s = until
  },
})
const choice = computed(() => taking.choice.data.value)
const proposal = computed(() =>
  taking.active.value ? (choice.value?.proposal ?? props.slotData.proposal) : props.slotData.proposal,
)
const namesMatter = computed(() => {
  const names = choice.value?.names
  return names && (names.collisions || names.problems || names.names.some((one) => one.path !== one.kept_as))
})
const ready = computed(
  () =>
    props.slotData.proposal &&
    !allHeld(props.slotData.proposal.startable) &&
    !running.value &&
    listing.value?.files,
)
const running = computed(() => props.slotData.offload && !props.slotData.offload.finished_at)
</script>

<template>
  <section class="sheet" :aria-label="t('cardSheet.theChosenCard')">
    <p v-if="slotData.trouble" role="alert" class="trouble">
      {{ slotData.trouble }}
    </p>
    <IntroduceForm v-else-if="!slotData.card_id" :slot-data="slotData" :cameras="cameras" />
    <GoneFiles
      v-if="slotData.card_id && slotData.gone_in_all"
      :card-id="slotData.card_id"
      :insertion-id="slotData.insertion_id"
      :label="slotData.label ?? ''"
      :paths="slotData.gone"
      :count="slotData.gone_in_all"
      :cameras="cameras"
    />
    <p v-if="!listing && !slotData.trouble">{{ t('cardSheet.theCardIsBeingListed') }}</p>
    <template v-if="listing && !slotData.trouble">
      <div class="top">
        <div>
          <h2>
            <span v-if="slotData.proposal" class="roll" data-tag>{{ slotData.proposal.tag }}</span>
            <span v-else-if="slotData.label" class="roll">{{ slotData.label }}</span>
          </h2>
          <p v-if="!listing.files" data-contents>{{ slotData.sentence || t('cardSheet.nothingIsOnIt') }}</p>
          <p v-else data-contents>
            <span :title="exactBytes(listing.bytes)">{{ bytes(listing.bytes) }}</span>
            {{
              t('cardSheet.in', {
                files: counted(listing.files, 'file'),
                kinds: kinds || t('cardSheet.beingLookedAt'),
                layout:
                  listing.layout === 'plain'
                    ? t('cardSheet.plainFolders')
                    : t('cardSheet.layout', { layout: listing.layout }),
              })
            }}
          </p>
          <p v-if="span" class="soft">{{ t('cardSheet.shot', { span }) }}</p>
          <p v-if="contents && contents.counts.held" data-held>
            {{
              t('cardSheet.alreadyHeldNot', {
                files: counted(contents.counts.held, 'file'),
                all: number(listing.files - contents.counts.held),
              })
            }}
          </p>
          <p v-if="proposal" class="soft">
            <I18nT keypath="cardSheet.goesTo" scope="global">
              <template #folder
                ><code>{{ proposal.folder }}</code></template
              >
              <template #stores>{{ counted(proposal.stores.length, 'store') }}</template>
              <template #time>{{
                proposal.estimated_s && ready
                  ? t('cardSheet.inTime', { time: roughly(proposal.estimated_s) })
                  : ''
              }}</template>
            </I18nT>
          </p>
          <ul v-if="slotData.waits_for.length" class="trouble" data-waits>
            <li>{{ t('cardSheet.thisReaderOffloadsByItself') }}</li>
            <li v-for="sentence in slotData.waits_for" :key="sentence">{{ sentence }}</li>
          </ul>
          <p v-if="slotData.question && listing.files && !slotData.gone_in_all">{{ slotData.question }}</p>
        </div>
        <NextAct
          v-if="slotData.card_id || slotData.inside"
          :slot-data="slotData"
          :proposal="proposal"
          :take="taking.active.value ? taking.wanted.value : null"
          @started="taking.clear(null)"
        />
      </div>
      <CardFindings v-if="contents" :contents="contents" :slot-data="slotData" :time-zone="timeZone" />
      <TimeRibbon
        v-if="rows.length"
        v-model:range="range"
        :rows="rows"
        :time-zone="timeZone"
        :drawable="Boolean(ready)"
        class="time"
      />
      <RigPanel v-if="slotData.camera" :letter="slotData.camera.letter" />
      <TakeBar
        v-if="ready && contents && complete && clips.length"
        :taking="taking"
        :clips="clips"
        :held="contents.counts.held"
        :time-zone="timeZone"
      />
      <NamesPreview
        v-if="ready && choice && (taking.partly.value || namesMatter)"
        :names="choice.names"
        :folder="choice.proposal.folder"
      />
      <RunPace v-if="slotData.offload && running" :run="slotData.offload" />
      <GoesTo
        v-if="proposal && !running && !allHeld(proposal.startable)"
        v-model="taking.take.to"
        :proposal="proposal"
      />
      <SaidNo :error="taking.take.to && taking.choice.error.value" />
      <ul v-if="proposal" class="planks" :aria-label="t('cardSheet.stores')">
        <li v-for="store in proposal.stores" :key="store.store">
          <StorePlank :demand="store" :total-bytes="listing.bytes" :run="slotData.offload ?? undefined" />
        </li>
      </ul>
      <RunReport v-if="slotData.offload && !running" :run="slotData.offload" :label="slotData.label ?? ''" />
      <CardContents
        v-if="contents && listing.files"
        :contents="contents"
        :clips="clips"
        :time-zone="timeZone"
        :picked="picked"
        :card-id="slotData.card_id"
        @pick="taking.pick"
      />
    </template>
    <LetGo :slot-data="slotData" />
  </section>
</template>

<style scoped>
.sheet {
  margin-top: var(--space-3);
}
.top {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: var(--space-4) var(--space-8);
  margin-bottom: var(--space-4);
}
@media (--phone) {
  .top > :deep(.next) {
    order: -1;
    justify-items: stretch;
    width: 100%;
    text-align: left;
  }
}
.roll {
  font-size: var(--type-huge);
  line-height: 0.95;
}
.time {
  margin-bottom: var(--space-3);
}
.planks {
  display: grid;
  gap: var(--space-2);
}
</style>
