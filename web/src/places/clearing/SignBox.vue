<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useLookAtCard, useSignClearance } from '../../api/acts/clearing'
import type { Shapes } from '../../api/client'
import BoxDialog from '../../shell/BoxDialog.vue'
import { age } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** What cannot be undone asks for the roll's tag, and says what will happen. */
const props = defineProps<{ one: Shapes['CaseOut'] | undefined }>()
const emit = defineEmits<{ close: [] }>()
const typed = ref('')
const visible = computed({
  get: () => props.one !== undefined,
  set: (shown) => {
    if (!shown) emit('close')
  },
})
/** What the person reads is what they sign for: it stays as it was when the view opened, or the server refuses. */
const shown = ref<Shapes['CaseOut']>()
const waiting = ref<string[]>([])
const look = useLookAtCard()
const sign = useSignClearance((forWhat) => (waiting.value = forWhat))
watch(
  () => props.one?.card_id,
  (card) => {
    typed.value = ''
    waiting.value = []
    sign.reset()
    shown.value = props.one
    if (card !== undefined) look.mutate(card)
  },
)
/** Looks that come in meanwhile are shown as they come, as long as nothing else has changed. */
watch(
  () => props.one,
  (now) => {
    if (now && now.digest === shown.value?.digest) shown.value = now
  },
)
const moved = computed(() => Boolean(shown.value && props.one && shown.value.digest !== props.one.digest))
const counting = computed(() => shown.value?.planks.filter((plank) => plank.counts) ?? [])
const right = computed(() => typed.value.trim().toUpperCase() === shown.value?.tag?.toUpperCase())
const how = (plank: Shapes['PlankOut']) => {
  const place = plank.device === plank.store ? plank.location : `${plank.device}, ${plank.location}`
  const parts = [place, `${counted(plank.files, 'file')}, ${bytes(plank.bytes)}`, plank.level]
  if (plank.read_at) parts.push(age(plank.read_at))
  if (!plank.online) parts.push('not connected: it counts as it was last read')
  else if (plank.looked_at) parts.push(`looked at ${age(plank.looked_at)}`)
  return parts.join(', ')
}

async function submit() {
  const one = shown.value
  if (!one || !right.value) return
  await sign.mutateAsync({ card: one.card_id, tag: typed.value, digest: one.digest }).then(
    () => emit('close'),
    () => undefined,
  )
}
</script>

<template>
  <BoxDialog v-model:visible="visible" :title="`Sign that ${shown?.label ?? ''} may be reused`">
    <form v-if="shown" @submit.prevent="submit">
      <p>
        {{ counted(shown.files, 'file') }}, {{ bytes(shown.bytes) }}, as the card was read
        {{ shown.read_at ? age(shown.read_at) : '' }}. {{ counted(counting.length, 'copy', 'copies') }}
        {{ counting.length === 1 ? 'counts' : 'count' }}:
      </p>
      <ul>
        <li v-for="plank in counting" :key="plank.store">{{ plank.store }}: {{ how(plank) }}</li>
      </ul>
      <div v-if="shown.waived_in_all" class="trouble" data-account>
        <p>
          {{ counted(shown.waived_in_all, 'file') }} {{ shown.waived_in_all === 1 ? 'was' : 'were' }} waived:
          in no copy that counts, and lost once the card is erased.
        </p>
        <ul>
          <li v-for="waiver in shown.waived.slice(0, 8)" :key="waiver.path">
            <code>{{ waiver.path }}</code> {{ waiver.by }}: {{ waiver.reason }}
          </li>
        </ul>
      </div>
      <p>
        <strong
          >After {{ shown.missing_signatures > 1 ? 'the last signature' : 'this' }} the card may be erased,
          and {{ shown.tag }} lives on these stores alone.</strong
        >
      </p>
      <p v-if="moved" role="alert" class="trouble" data-moved>
        Card or copies are not as they were when this opened.
        <button type="button" class="link" @click="shown = one">Show it as it is now</button>
      </p>
      <label
        >Type the roll’s tag, {{ shown.tag }}
        <InputText
          v-model="typed"
          class="field"
          autofocus
          autocomplete="off"
          spellcheck="false"
          data-type-tag
      /></label>
      <p v-if="sign.isPending.value" aria-live="polite" data-looking>
        {{ waiting.length ? waiting.join('; ') : 'Card and copies are being looked at' }}…
      </p>
      <p v-if="sign.error.value" role="alert" class="trouble">{{ sign.error.value.message }}</p>
      <p class="acts">
        <Button
          class="act"
          type="submit"
          :label="sign.isPending.value ? 'Looking…' : `Sign ${shown.tag}`"
          :disabled="!right || sign.isPending.value"
        />
        <Button class="act quiet" type="button" label="Leave it" @click="emit('close')" />
      </p>
    </form>
  </BoxDialog>
</template>

<style scoped>
form {
  display: grid;
  gap: var(--space-3);
}
label {
  display: grid;
  gap: var(--space-1);
}
.acts {
  display: flex;
  gap: var(--space-3);
}
ul {
  padding-left: var(--space-4);
  list-style: square;
}
</style>
