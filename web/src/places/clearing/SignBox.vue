<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { useLookAtCard, useRefuseToSign, useSignClearance } from '../../api/acts/clearing'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import BoxDialog from '../../shell/BoxDialog.vue'
import { age } from '../../words/times'
import { bytes, counted } from '../../words/units'
import { t } from '../../words/say'
import { EVIDENCE } from '../../words/evidence'
import SaidNo from '../../parts/SaidNo.vue'
import SayIt from '../../parts/SayIt.vue'
import SpeaksAgainst from './SpeaksAgainst.vue'

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
  const parts = [place, `${counted(plank.files, 'file')}, ${bytes(plank.bytes)}`, EVIDENCE[plank.level]]
  if (plank.read_at) parts.push(age(plank.read_at))
  if (!plank.online) parts.push(t('signBox.notConnectedItCountsAs'))
  else if (plank.looked_at) parts.push(t('signBox.lookedAt', { age: age(plank.looked_at) }))
  return parts.join(', ')
}

const refuse = useRefuseToSign()
function sayNo(reason: string, done: () => void) {
  const one = shown.value
  if (!one) return
  const close = () => {
    done()
    emit('close')
  }
  refuse.mutate({ card: one.card_id, reason, digest: one.digest }, { onSuccess: close })
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
  <BoxDialog
    v-model:visible="visible"
    :title="t('signBox.signThatMayBeReused', { label: shown?.label ?? '' })"
  >
    <form v-if="shown" @submit.prevent="submit">
      <p>
        {{
          t('signBox.asTheCardWasRead', {
            files: counted(shown.files, 'file'),
            bytes: bytes(shown.bytes),
            age: shown.read_at ? age(shown.read_at) : '',
          })
        }}
        {{ t('signBox.copiesCount', {}, counting.length) }}
      </p>
      <ul>
        <li v-for="plank in counting" :key="plank.store">{{ plank.store }}: {{ how(plank) }}</li>
      </ul>
      <div v-if="shown.waived_in_all" class="trouble" data-account>
        <p>
          {{ t('signBox.waivedInNoCopyThat', {}, shown.waived_in_all) }}
        </p>
        <ul>
          <li v-for="waiver in shown.waived.slice(0, 8)" :key="waiver.path">
            <code>{{ waiver.path }}</code> {{ waiver.by }}: {{ waiver.reason }}
          </li>
        </ul>
      </div>
      <SpeaksAgainst :card="shown.card_id" />
      <div v-if="shown.void.length" class="trouble" data-changed>
        <p v-for="one_ in shown.void" :key="one_.by + one_.at">
          {{ t('signBox.signedBefore', { by: one_.by, age: age(one_.at) }) }}
          {{ one_.changes.join('; ') }}.
        </p>
      </div>
      <p v-for="name in shown.signed_by" :key="name">{{ t('signBox.hasSigned', { name }) }}</p>
      <p>
        <strong>{{
          t(shown.missing_signatures > 1 ? 'signBox.afterTheLast' : 'signBox.afterThis', {
            tag: shown.tag ?? '',
          })
        }}</strong>
      </p>
      <p v-if="moved" role="alert" class="trouble" data-moved>
        {{ t('signBox.cardOrCopiesAreNot') }}
        <button type="button" class="link" @click="shown = one">{{ t('signBox.showItAsItIs') }}</button>
      </p>
      <label
        >{{ t('signBox.typeTheRollsTag', { tag: shown.tag ?? '' }) }}
        <InputText
          v-model="typed"
          class="field"
          autofocus
          autocomplete="off"
          spellcheck="false"
          data-type-tag
      /></label>
      <p v-if="sign.isPending.value" aria-live="polite" data-looking>
        {{ waiting.length ? waiting.join('; ') : t('signBox.cardAndCopiesAreBeing') }}…
      </p>
      <SaidNo :error="sign.error.value" />
      <p class="acts">
        <ActButton
          type="submit"
          :label="sign.isPending.value ? t('signBox.looking') : t('signBox.sign', { tag: shown.tag ?? '' })"
          :why-not="right ? undefined : t('signBox.typeTheTagFirst', { tag: shown.tag ?? '' })"
          :busy="sign.isPending.value"
        />
        <Button class="act quiet" type="button" :label="t('signBox.leaveIt')" @click="emit('close')" />
      </p>
    </form>
    <SayIt
      v-if="shown"
      name="refuse"
      :act="t('signBox.refuse')"
      :ask="t('signBox.whyNot')"
      :go="t('signBox.iDoNotSign')"
      :busy="refuse.isPending.value"
      :error="refuse.error.value"
      @say="sayNo"
    />
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
