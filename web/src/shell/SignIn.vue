<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useSignIn } from '../api/acts/session'
import RaftMark, { type RaftPlank } from '../marks/RaftMark.vue'
import WaterEdge from '../marks/WaterEdge.vue'

/** over: above a page whose session has ended; signing in goes on where it was. name: who was signed in */
const props = defineProps<{ over?: boolean; name?: string }>()
const emit = defineEmits<{ signedIn: [] }>()
const username = ref(props.name ?? '')
const password = ref('')
const signIn = useSignIn()
const planks: RaftPlank[] = [
  { store: 'one', state: 'verified', same_device: false },
  { store: 'two', state: 'verified', same_device: false },
  { store: 'three', state: 'verified', same_device: false },
]
</script>

<template>
  <component :is="over ? 'div' : 'main'" class="gate" :class="{ over }" :role="over ? 'dialog' : undefined">
    <form @submit.prevent="signIn.mutate({ username, password }, { onSuccess: () => emit('signedIn') })">
      <RaftMark :planks="planks" :needed="3" met :size="120" aria-hidden="true" />
      <h1>Rugged Raft</h1>
      <p v-if="over" role="status" data-session-ended>
        Your session has ended. Sign in to go on where you were; nothing was lost.
      </p>
      <label
        >Name <InputText v-model="username" class="field" autocomplete="username" :autofocus="!name" required
      /></label>
      <label
        >Password
        <InputText v-model="password" class="field" type="password" autocomplete="current-password" required
      /></label>
      <Button class="act" type="submit" label="Sign in" :disabled="signIn.isPending.value" />
      <p v-if="signIn.error.value" role="alert" class="trouble">{{ signIn.error.value.message }}</p>
    </form>
    <div class="sea"><WaterEdge /></div>
  </component>
</template>

<style scoped>
.gate {
  display: grid;
  grid-template-rows: 1fr 18vh;
  min-height: 100%;
}
form {
  align-self: end;
  justify-self: center;
  display: grid;
  gap: var(--space-3);
  width: min(21.25rem, calc(100vw - 2rem));
  padding-bottom: var(--space-7);
}
h1 {
  font: 700 var(--type-slot)/1 var(--tag);
}
label {
  display: grid;
  gap: var(--space-1);
}
.gate.over {
  position: fixed;
  inset: 0;
  z-index: 10;
  background: color-mix(in srgb, var(--paper) 88%, transparent);
}
.sea {
  color: var(--water);
  background: linear-gradient(transparent var(--line-slab), var(--water) var(--line-slab));
}
</style>
