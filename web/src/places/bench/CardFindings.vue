<script setup lang="ts">
import { computed, ref } from 'vue'
import { useCompareCard } from '../../api/acts/cards'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'
import { counted } from '../../words/units'
import ClockForm from './ClockForm.vue'
import { number, t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** What there is to say about a card beyond its counts, gravest first, each with what can be done about it. */
const props = defineProps<{
  contents: Shapes['ContentsOut']
  slotData: Shapes['SlotOut']
  timeZone: string
}>()
const { whyNot } = useWho()
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
const hours = (seconds: number) =>
  t(seconds > 0 ? 'cardFindings.later' : 'cardFindings.earlier', { hours: Math.abs(seconds) / 3600 })

const first = computed(() => Math.min(...props.contents.clips.starts, Number.MAX_SAFE_INTEGER))
const last = computed(() => Math.max(...props.contents.clips.starts, 0))
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
        {{ shown === finding.sentence ? t('cardFindings.hideNames') : t('cardFindings.names') }}
      </button>
      <ol v-if="shown === finding.sentence">
        <li v-for="path in finding.paths" :key="path">
          <code>{{ path }}</code>
        </li>
        <li v-if="finding.paths_in_all > finding.paths.length" class="soft">
          {{ t('cardFindings.andMore', { more: finding.paths_in_all - finding.paths.length }) }}
        </li>
      </ol>
    </li>
    <li v-if="contents.gone_roll" data-gone class="trouble">
      {{ t('cardFindings.nothingOfIsOnIt', { roll: contents.gone_roll }) }}
    </li>
    <li v-if="contents.companion" data-companion>
      {{
        t('cardFindings.aCompanionOfOfAre', {
          roll: contents.companion.roll,
          pairs: number(contents.companion.pairs),
          clips: counted(contents.companion.clips, 'clip'),
        })
      }}
    </li>
    <li v-if="contents.shifted_s" data-shifted class="trouble">
      {{
        t('cardFindings.everyFileHasTheName', {
          roll: contents.shifted_roll,
          hours: hours(contents.shifted_s),
        })
      }}
    </li>
    <li v-if="contents.counts.alike">
      {{ t('cardFindings.likeOneOfAnotherCameras', { files: counted(contents.counts.alike, 'file') }) }}
    </li>
    <li v-if="doubtful && slotData.card_id">
      <ActButton
        type="button"
        class="quiet small"
        :label="t('cardFindings.compareByContent')"
        data-compare
        :why-not="whyNot('read_card')"
        :busy="compare.isPending.value"
        @press="compare.mutate(slotData.card_id)"
      />
      <span class="soft">
        {{
          t('cardFindings.readsTheWholeCard', {
            compared: contents.compared
              ? t('cardFindings.compared', { files: counted(contents.compared, 'file') })
              : '',
          })
        }}
      </span>
      <SaidNo :error="compare.error.value" />
    </li>
    <li v-if="slotData.camera && (clockTrouble || contents.clock_ahead_s)">
      <template v-if="contents.clock_ahead_s && !setting">
        {{ t('cardFindings.timesAreShownWithCamera', { letter: slotData.camera.letter }) }}
        <button type="button" class="names" @click="setting = true">{{ t('cardFindings.change') }}</button>
      </template>
      <ClockForm
        v-else
        :camera="slotData.camera.letter"
        :ahead-s="contents.clock_ahead_s"
        :time-zone="timeZone"
        :first="first + contents.clock_ahead_s"
        :last="last + contents.clock_ahead_s"
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
