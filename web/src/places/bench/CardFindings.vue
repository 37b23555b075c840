<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useCompareCard } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'
import { counted } from '../../words/units'
import ClockForm from './ClockForm.vue'

/** What there is to say about a card beyond its counts, gravest first, each with what can be done about it. */
const props = defineProps<{
  contents: Shapes['ContentsOut']
  slotData: Shapes['SlotOut']
  timeZone: string
}>()
const { may } = useWho()
const shown = ref<string>()
const setting = ref(false)

const findings = computed(() =>
  [...props.contents.findings].sort((a, b) => Number(b.grave) - Number(a.grave)),
)
const clockTrouble = computed(() =>
  props.contents.findings.some((one) =>
    ['future', 'before the production', 'far in time'].includes(one.kind),
  ),
)
const hours = (seconds: number) => `${Math.abs(seconds) / 3600} h ${seconds > 0 ? 'later' : 'earlier'}`

const compare = useCompareCard()
const anything = computed(
  () =>
    findings.value.length > 0 ||
    props.contents.companion !== null ||
    doubtful.value ||
    props.contents.clock_ahead_s !== 0 ||
    props.contents.gone_roll !== '',
)
const doubtful = computed(() => props.contents.counts.alike > 0 || props.contents.shifted_s !== null)
</script>

<template>
  <ul v-if="anything" class="findings">
    <li v-for="finding in findings" :key="finding.kind + finding.sentence" :data-finding="finding.kind">
      <span :class="{ trouble: finding.grave }">{{ finding.sentence }}</span>
      <button
        v-if="finding.paths.length"
        type="button"
        class="names"
        :aria-expanded="shown === finding.sentence"
        @click="shown = shown === finding.sentence ? undefined : finding.sentence"
      >
        {{ shown === finding.sentence ? 'hide names' : 'names' }}
      </button>
      <ol v-if="shown === finding.sentence">
        <li v-for="path in finding.paths" :key="path">
          <code>{{ path }}</code>
        </li>
        <li v-if="finding.paths_in_all > finding.paths.length" class="soft">
          and {{ finding.paths_in_all - finding.paths.length }} more
        </li>
      </ol>
    </li>
    <li v-if="contents.gone_roll" data-gone class="trouble">
      Nothing of {{ contents.gone_roll }} is on it any more, and {{ contents.gone_roll }} was not cleared: it
      was formatted too early, or this is another card with the same serial.
    </li>
    <li v-if="contents.companion" data-companion>
      A companion of {{ contents.companion.roll }}: {{ contents.companion.pairs }} of
      {{ counted(contents.companion.clips, 'clip') }} are another rendering of what is there. Worth keeping
      until delivery; it does not count as a copy of {{ contents.companion.roll }}.
    </li>
    <li v-if="contents.shifted_s" data-shifted class="trouble">
      Every file has the name and size it has in {{ contents.shifted_roll }}, and a time
      {{ hours(contents.shifted_s) }}: this station’s time zone changed, or the camera’s. Nothing counts as
      held until it is compared.
    </li>
    <li v-if="contents.counts.alike">
      {{ counted(contents.counts.alike, 'file') }} like one of another camera’s: the same name, size and time.
      Not held until compared.
    </li>
    <li v-if="doubtful && slotData.card_id">
      <Button
        class="act quiet small"
        label="Compare by content"
        :disabled="!may('read_card') || compare.isPending.value"
        data-compare
        @click="compare.mutate(slotData.card_id)"
      />
      <span class="soft">
        reads the whole card{{ contents.compared ? `; ${counted(contents.compared, 'file')} compared` : '' }}
      </span>
      <p v-if="compare.error.value" role="alert" class="trouble">{{ compare.error.value.message }}</p>
    </li>
    <li v-if="slotData.camera && (clockTrouble || contents.clock_ahead_s)">
      <template v-if="contents.clock_ahead_s && !setting">
        Times are shown with camera {{ slotData.camera.letter }}’s clock put right.
        <button type="button" class="names" @click="setting = true">change</button>
      </template>
      <ClockForm
        v-else
        :camera="slotData.camera.letter"
        :ahead-s="contents.clock_ahead_s"
        :time-zone="timeZone"
      />
    </li>
  </ul>
</template>

<style scoped>
.findings {
  display: grid;
  gap: var(--space-1);
  margin: var(--space-2) 0;
  padding: var(--space-2) var(--space-3);
  border-left: var(--line-bar) solid var(--care);
}
.names {
  margin-left: var(--space-1h);
  padding: var(--space-half) var(--space-1h);
  border: 0;
  background: none;
  color: inherit;
  font: inherit;
  text-decoration: underline;
  text-underline-offset: var(--line-bold);
  cursor: pointer;
}
ol {
  max-height: 11.25rem;
  overflow-y: auto;
}
</style>
