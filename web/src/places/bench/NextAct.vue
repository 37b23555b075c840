<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useOffloadCard, useWholeCard } from '../../api/acts/cards'
import { useCancelRun } from '../../api/acts/runs'
import type { Shapes } from '../../api/client'
import { allowNotifications } from '../../shell/bells'
import { useShortcuts } from '../../shell/keys'
import { useWho } from '../../shell/me'
import { bytes } from '../../words/units'

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
const { may } = useWho()
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
  disabled: boolean
  quiet?: boolean
  go: () => void
}
const act = computed<Act | undefined>(() => {
  const { offload, card_id, listing } = props.slotData
  const proposal = props.proposal
  if (offload && !offload.finished_at)
    return {
      label: offload.state === 'stopping' ? 'Stopping…' : 'Stop',
      hint:
        offload.state === 'paused'
          ? 'Paused: nothing is claimed, and nothing is lost.'
          : 'What is read back by then stays; the rest is named.',
      disabled: offload.state === 'stopping' || !may('offload'),
      quiet: true,
      go: () => cancel.mutate(offload.id),
    }
  const stay = props.slotData.insertion_id
  if (props.slotData.inside && stay)
    return {
      label: 'Read the whole card',
      hint: 'This reader shows a folder inside the card.',
      disabled: !may('read_card') || whole.isPending.value,
      go: () => whole.mutate(stay),
    }
  if (!proposal || !card_id || !listing) return undefined
  if (proposal.startable === 'all held' || proposal.startable === 'chosen held')
    return {
      label: 'On to Clearing',
      hint: proposal.hint,
      disabled: false,
      go: () => void router.push({ path: '/clearing', query: { card: props.slotData.label } }),
    }
  const most = Math.max(...proposal.stores.map((store) => store.missing_bytes))
  return {
    label: `Offload ${proposal.tag}`,
    hint: proposal.hint || `${bytes(most)} to ${proposal.stores.length} stores, read back.`,
    disabled:
      proposal.startable !== 'ready' ||
      (proposal.uneven.length > 0 && !anyway.value) ||
      !may('offload') ||
      start.isPending.value,
    go: () => {
      allowNotifications()
      begin(card_id, proposal.tag)
    },
  }
})
const trouble = computed(
  () => start.error.value?.message ?? cancel.error.value?.message ?? whole.error.value?.message,
)

useShortcuts({
  o: () => {
    if (act.value && !act.value.disabled && !act.value.quiet) act.value.go()
  },
})
</script>

<template>
  <div v-if="act" class="next">
    <Button
      class="act"
      :class="{ quiet: act.quiet }"
      :disabled="act.disabled"
      :label="act.label"
      data-next
      @click="act.go()"
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
    <div v-if="proposal?.uneven.length && !(slotData.offload && !slotData.offload.finished_at)" data-uneven>
      <p v-for="sentence in proposal.uneven" :key="sentence" class="trouble">{{ sentence }}.</p>
      <label class="ticked"><Checkbox v-model="anyway" binary data-anyway /> take it anyway</label>
    </div>
    <label v-if="proposal?.sidecars && !act.quiet && proposal.startable === 'ready'" class="notes">
      Notes for the sidecars
      <InputText v-model="notes" class="field" data-notes />
    </label>
    <label v-if="!act.quiet && proposal?.startable === 'ready' && may('offload')" class="soft ticked">
      <Checkbox v-model="twice" binary data-twice /> read the card twice
    </label>
    <p v-if="!may('offload')" class="soft">Your role sees and does not act.</p>
    <p v-if="trouble" role="alert" class="trouble">{{ trouble }}</p>
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
.next .act:not(.quiet) {
  min-height: 4rem;
  padding: var(--space-2) var(--space-8);
  font-size: var(--type-large);
}
</style>
