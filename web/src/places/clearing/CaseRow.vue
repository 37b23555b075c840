<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import { computed } from 'vue'
import { useReadCard } from '../../api/acts/cards'
import { useHandBack } from '../../api/acts/clearing'
import type { Shapes } from '../../api/client'
import RaftMark from '../../marks/RaftMark.vue'
import VerdictMark from '../../marks/VerdictMark.vue'
import NoteSign from '../../parts/NoteSign.vue'
import RemedySteps from '../../parts/RemedySteps.vue'
import GoneFiles from '../../parts/GoneFiles.vue'
import { useWho } from '../../shell/me'
import { age } from '../../words/times'
import { counted } from '../../words/units'
import { VERDICTS } from '../../words/verdicts'
import HoldList from '../../parts/HoldList.vue'
import SayIt from '../../parts/SayIt.vue'
import WaiveLeft from './WaiveLeft.vue'
import { listed, t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** One card: the answer in letters that can be read from two metres, then why, then what to do. */
const props = defineProps<{
  one: Shapes['CaseOut']
  scanned: boolean
  cameras: readonly Shapes['CameraOut'][]
}>()
defineEmits<{ sign: [] }>()
const { may, whyNot } = useWho()

const verdict = computed(() => VERDICTS[props.one.standing])
const toSign = computed(() => verdict.value === 'SIGN?')
/** Since when the answer is what it is: nothing later is known. */
const since = computed(() => {
  const one = props.one
  const parts = []
  if (one.cleared_at && (one.standing === 'cleared' || one.standing === 'handed back'))
    parts.push(t('caseRow.clearedBy', { age: age(one.cleared_at), people: listed(one.cleared_by) }))
  if (one.handed_back_at && one.standing === 'handed back')
    parts.push(
      one.handed_to
        ? t('caseRow.handedTo', { to: one.handed_to, age: age(one.handed_back_at) })
        : t('caseRow.handedBack', { age: age(one.handed_back_at) }),
    )
  if (one.read_at) parts.push(t('caseRow.cardRead', { age: age(one.read_at) }))
  if (one.looked_at && (toSign.value || one.standing === 'cleared'))
    parts.push(t('caseRow.itsCopiesLookedAt', { age: age(one.looked_at) }))
  parts.push(one.slot ? t('caseRow.inNow', { slot: one.slot }) : t('caseRow.inNoReaderNow'))
  const words = parts.join(', ')
  return words.charAt(0).toUpperCase() + words.slice(1) + '.'
})
const goesBack = computed(
  () =>
    !props.one.slot &&
    (props.one.standing === 'cleared' || (props.one.standing === 'handed back' && !props.one.handed_to)),
)
const NAMES = 3
const named = computed(() => {
  if (props.one.standing === 'not offloaded' || props.one.gone_in_all) return []
  return [...new Set(props.one.blocks.flatMap((block) => block.paths))]
})
/** Files on it are in no copy, and it lies in a reader: offloading it is what helps. */
const toOffload = computed(
  () =>
    props.one.slot !== null &&
    (props.one.standing === 'not offloaded' ||
      props.one.blocks.some((block) => block.kind === 'uncovered' || block.kind === 'unread')),
)
const waivedNames = computed(() => {
  const names = props.one.waived.slice(0, NAMES).map((waiver) => waiver.path)
  return names.join(', ') + (props.one.waived_in_all > NAMES ? ' …' : '')
})
const handBack = useHandBack()
const read = useReadCard()
</script>

<template>
  <li
    :data-card="one.label.toUpperCase()"
    :data-standing="one.standing"
    :class="{ scanned, go: one.may_go_back }"
    tabindex="-1"
  >
    <p><VerdictMark class="wide" :verdict="verdict" /></p>
    <p class="who tag">
      <RouterLink :to="`/cards/${encodeURIComponent(one.label)}`">{{ one.label }}</RouterLink>
    </p>
    <div class="what">
      <p data-sentence>{{ one.sentence }}</p>
      <NoteSign on="card" :name="one.label" />
      <HoldList :holds="one.holds" />
      <p v-for="void_ in one.void" :key="void_.by + void_.at" class="trouble" data-void>
        {{
          t('caseRow.noLongerStands', { by: void_.by, age: age(void_.at), changes: void_.changes.join('; ') })
        }}
      </p>
      <p v-if="one.signed_by.length && toSign">
        {{ t('caseRow.signedBy', { people: listed(one.signed_by) }) }}
      </p>
      <GoneFiles
        v-if="one.gone_in_all"
        :card-id="one.card_id"
        :insertion-id="one.insertion_id"
        :label="one.label"
        :paths="one.gone"
        :count="one.gone_in_all"
        :cameras="cameras"
      />
      <p v-if="named.length" class="named">
        <code>{{ named.slice(0, NAMES).join(', ') }}</code>
        {{ named.length > NAMES ? ' …' : '' }}
      </p>
      <p v-if="one.waived_in_all" data-waived>
        <I18nT keypath="caseRow.waivedInNoCopy" scope="global">
          <template #files>{{ counted(one.waived_in_all, 'file') }}</template>
          <template #names
            ><code>{{ waivedNames }}</code></template
          >
          <template #person>{{ one.waived[0]?.by }}</template>
          <template #reason>{{ one.waived[0]?.reason }}</template>
        </I18nT>
      </p>
      <WaiveLeft v-if="one.left_in_all" :one="one" />
      <p class="soft">
        <template v-if="one.tag"
          ><RouterLink :to="`/tally/${one.tag}`">{{ t('caseRow.roll', { tag: one.tag ?? '' }) }}</RouterLink
          >.
        </template>
        <span data-since>{{ since }}</span>
      </p>
      <SaidNo :error="read.error.value" />
    </div>
    <RaftMark
      v-if="one.planks.length"
      class="raft"
      :planks="one.planks"
      :needed="one.needed_copies"
      :met="one.lashed"
      :size="64"
    />
    <div class="acts">
      <RouterLink
        v-if="toOffload"
        class="act small"
        :to="{ path: '/', query: { card: one.label } }"
        data-to-bench
        >{{
          may('offload')
            ? t('caseRow.offloadOnTheBench', { label: one.label })
            : t('caseRow.showOnTheBench', { label: one.label })
        }}</RouterLink
      >
      <RemedySteps :steps="one.remedy" />
      <ActButton
        v-if="toSign"
        type="button"
        :label="t('caseRow.sign', { tag: one.tag ?? '' })"
        data-sign
        :why-not="whyNot('sign')"
        @press="$emit('sign')"
      />
      <ActButton
        v-if="one.slot && one.standing !== 'being offloaded'"
        type="button"
        link
        :label="t('caseRow.readAgain', { label: one.label })"
        :why-not="whyNot('read_card')"
        :busy="read.isPending.value"
        @press="read.mutate(one.card_id)"
      />
      <SayIt
        v-if="goesBack"
        name="hand-back"
        :act="t('caseRow.isHandedBack', { label: one.label })"
        :ask="t('cardPage.toWhom')"
        :go="t('cardPage.hasIt')"
        optional
        data-hand-back
        :why-not="whyNot('sign')"
        :busy="handBack.isPending.value"
        :error="handBack.error.value"
        @say="(to, done) => handBack.mutate({ card: one.card_id, to }, { onSuccess: done })"
      />
    </div>
  </li>
</template>

<style scoped>
li[data-card] {
  display: grid;
  grid-template-columns: 12.5rem 6rem 1fr 4rem 13rem;
  gap: var(--space-1h) var(--space-5);
  align-items: start;
  padding: var(--space-3) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.scanned {
  outline: var(--line-bar) solid var(--focus);
  outline-offset: var(--line-bar);
}
.wide.verdict {
  display: block;
}
.who {
  padding-top: var(--space-2);
  font-size: var(--type-large);
  white-space: nowrap;
}
.raft {
  grid-column: 4;
}
.acts {
  grid-column: 5;
  align-content: start;
  display: grid;
  gap: var(--space-2);
  justify-items: stretch;
}
.named {
  margin: var(--space-half) 0;
}
@media (--tablet) {
  li[data-card] {
    grid-template-columns: auto 1fr;
  }
  .what,
  .acts,
  .raft {
    grid-column: 1 / -1;
    justify-items: start;
  }
}
</style>
