<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useOffloadCard, useWholeCard } from '../../api/acts/cards'
import { useCancelRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { allowNotifications } from '../../shell/bells'
import { useShortcuts } from '../../shell/keys'
import ActButton from '../../parts/ActButton.vue'
import { useWho } from '../../shell/me'
import { bytes, counted } from '../../words/units'
import { listed, t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'

/** One obvious next act for the card, or the sentence that says why there is none. */
const props = defineProps<{
  slotData: Shapes['SlotOut']
  proposal: Shapes['ProposalOut'] | null
  /** What is wanted of the card; null for everything. */
  take: Shapes['TakeIn'] | null
}>()
const emit = defineEmits<{ started: [] }>()
const anyway = ref(false)
const notes = ref('')
const twice = ref(false)
const { may, whyNot } = useWho()
const router = useRouter()

const start = useOffloadCard()
const cancel = useCancelRun()
const whole = useWholeCard()
const begin = (card: number, tag: string) =>
  start.mutate(
    { card, tag, take: props.take, uneven: anyway.value, notes: notes.value, twice: twice.value },
    { onSuccess: () => emit('started') },
  )

interface Act {
  label: string
  hint: string
  whyNot?: string | undefined
  busy?: boolean
  quiet?: boolean
  go: () => void
}
/** What keeps the card from going now, besides the person's role. */
function against(proposal: Shapes['ProposalOut']): string | undefined {
  if (proposal.startable !== 'ready') return proposal.refusals[0] ?? (proposal.hint || undefined)
  return proposal.uneven.length && !anyway.value ? t('nextAct.sayAnywayFirst') : undefined
}
const act = computed<Act | undefined>(() => {
  const { offload, card_id, listing } = props.slotData
  const proposal = props.proposal
  if (offload && !offload.finished_at)
    return {
      label: offload.state === 'stopping' ? t('nextAct.stopping') : t('nextAct.stop'),
      hint:
        offload.state === 'paused' ? t('nextAct.pausedNothingIsClaimedAnd') : t('nextAct.whatIsReadBackBy'),
      whyNot: whyNot('offload'),
      busy: offload.state === 'stopping',
      quiet: true,
      go: () => cancel.mutate(offload.id),
    }
  const stay = props.slotData.insertion_id
  if (props.slotData.inside && stay)
    return {
      label: t('nextAct.readTheWholeCard'),
      hint: t('nextAct.thisReaderShowsAFolder'),
      whyNot: whyNot('read_card'),
      busy: whole.isPending.value,
      go: () => whole.mutate(stay),
    }
  if (!proposal || !card_id || !listing) return undefined
  if (proposal.startable === 'all held' || proposal.startable === 'chosen held')
    return {
      label: t('nextAct.onToClearing'),
      hint: proposal.hint,
      go: () => void router.push({ path: '/clearing', query: { card: props.slotData.label } }),
    }
  const most = Math.max(...proposal.stores.map((store) => store.missing_bytes))
  const attesting = proposal.stores.filter((store) => store.attests).map((store) => store.store)
  return {
    label: t('nextAct.offload', { tag: proposal.tag }),
    hint:
      proposal.hint ||
      t(attesting.length ? 'nextAct.toStoresSomeAttested' : 'nextAct.toStoresReadBack', {
        bytes: bytes(most),
        stores: counted(proposal.stores.length, 'store'),
        attested: listed(attesting),
      }),
    whyNot: whyNot('offload') ?? against(proposal),
    busy: start.isPending.value,
    go: () => {
      allowNotifications()
      begin(card_id, proposal.tag)
    },
  }
})
const refusal = computed(() => start.error.value ?? cancel.error.value ?? whole.error.value)

useShortcuts({
  o: () => {
    if (act.value && !act.value.whyNot && !act.value.busy && !act.value.quiet) act.value.go()
  },
})
</script>

<template>
  <div v-if="act" class="next">
    <ActButton
      type="button"
      :class="{ quiet: act.quiet }"
      :label="act.label"
      :why-not="act.whyNot"
      :busy="act.busy"
      :why-shown="Boolean(proposal?.refusals.length) && may('offload')"
      data-next
      @press="act.go()"
    />
    <p class="soft">{{ act.hint }}</p>
    <p
      v-for="sentence in act.quiet ? [] : (proposal?.refusals ?? [])"
      :key="sentence"
      class="trouble"
      data-refusal
    >
      {{ sentence }}
    </p>
    <p v-for="sentence in act.quiet ? [] : (proposal?.short ?? [])" :key="sentence" data-short>
      {{ sentence }}
    </p>
    <div v-if="proposal?.uneven.length && !(slotData.offload && !slotData.offload.finished_at)" data-uneven>
      <p v-for="sentence in proposal.uneven" :key="sentence" class="trouble">{{ sentence }}.</p>
      <label class="ticked"
        ><Checkbox v-model="anyway" binary data-anyway /> {{ t('nextAct.takeItAnyway') }}</label
      >
    </div>
    <label v-if="proposal?.sidecars && !act.quiet && proposal.startable === 'ready'" class="notes">
      {{ t('nextAct.notesForTheSidecars') }}
      <InputText v-model="notes" class="field" data-notes />
    </label>
    <label v-if="!act.quiet && proposal?.startable === 'ready' && may('offload')" class="soft ticked">
      <Checkbox v-model="twice" binary data-twice /> {{ t('nextAct.readTheCardTwice') }}
    </label>
    <SaidNo :error="refusal" />
  </div>
</template>

<style scoped>
.next {
  display: grid;
  gap: var(--space-1h);
  align-content: start;
  justify-items: end;
  max-width: 26.25rem;
  text-align: right;
}
.next :deep(.act:not(.quiet)) {
  min-height: 4rem;
  padding: var(--space-2) var(--space-8);
  font-size: var(--type-large);
}
</style>
