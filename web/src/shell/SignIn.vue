<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import InputText from 'primevue/inputtext'
import { nextTick, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useSignIn } from '../api/acts/session'
import { Refusal } from '../api/refusal'
import ActButton from '../parts/ActButton.vue'
import SecretField from '../parts/SecretField.vue'
import RaftMark, { type RaftPlank } from '../marks/RaftMark.vue'
import WaterEdge from '../marks/WaterEdge.vue'
import { t } from '../words/say'
import SaidNo from '../parts/SaidNo.vue'

/** over: above a page whose session has ended; signing in goes on where it was. name: who was signed in */
const props = defineProps<{ over?: boolean; name?: string; demo?: boolean | undefined }>()
const emit = defineEmits<{ signedIn: [] }>()
const username = ref(props.name ?? '')
const password = ref('')
const code = ref('')
const signIn = useSignIn()
/** The password was right, and a one-time code is wanted too. */
const CODE_ASKED = 428
const asksCode = ref(false)
watch(signIn.error, async (error) => {
  if (!(error instanceof Refusal) || error.status !== CODE_ASKED) return
  asksCode.value = true
  code.value = ''
  await nextTick()
  form.value?.querySelector<HTMLInputElement>('[data-code]')?.focus()
})
const form = useTemplateRef('form')
/** `autofocus` is heeded when a page loads, and not for a form that comes later. */
onMounted(() =>
  form.value?.querySelector<HTMLInputElement>(props.name ? 'input[type=password]' : 'input')?.focus(),
)
const planks: RaftPlank[] = [
  { store: 'one', state: 'verified', same_device: false },
  { store: 'two', state: 'verified', same_device: false },
  { store: 'three', state: 'verified', same_device: false },
]
</script>

<template>
  <component :is="over ? 'div' : 'main'" class="gate" :class="{ over }" :role="over ? 'dialog' : undefined">
    <form
      ref="form"
      @submit.prevent="signIn.mutate({ username, password, code }, { onSuccess: () => emit('signedIn') })"
    >
      <RaftMark :planks="planks" :needed="3" met :size="120" aria-hidden="true" />
      <h1>Rugged Raft</h1>
      <p v-if="over" role="status" data-session-ended>
        {{ t('signIn.yourSessionHasEndedSign') }}
      </p>
      <label
        >{{ t('signIn.name') }}
        <InputText v-model="username" class="field" autocomplete="username" :autofocus="!name" required
      /></label>
      <SecretField
        v-model="password"
        :label="t('signIn.password')"
        autocomplete="current-password"
        required
      />
      <label v-if="asksCode"
        >{{ t('signIn.code') }}
        <InputText
          v-model="code"
          class="field"
          autocomplete="one-time-code"
          inputmode="numeric"
          required
          data-code
      /></label>
      <ActButton type="submit" :label="t('signIn.signIn')" :busy="signIn.isPending.value" />
      <p v-if="demo" class="soft" data-demo>
        <I18nT keypath="signIn.thisIsTheDemo" scope="global">
          <template #command><code>./raft start --own</code></template>
        </I18nT>
      </p>
      <SaidNo :error="signIn.error.value" />
    </form>
    <div class="sea"><WaterEdge /></div>
  </component>
</template>

<style scoped>
.gate.over {
  position: fixed;
  inset: 0;
  z-index: 30;
  background: color-mix(in srgb, var(--paper) 88%, transparent);
}
</style>
