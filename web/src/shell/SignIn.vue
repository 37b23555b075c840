<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useSignIn } from '../api/acts/session'
import RaftMark, { type RaftPlank } from '../marks/RaftMark.vue'
import WaterEdge from '../marks/WaterEdge.vue'

const username = ref('')
const password = ref('')
const signIn = useSignIn()
const planks: RaftPlank[] = [
  { store: 'one', state: 'verified', same_device: false },
  { store: 'two', state: 'verified', same_device: false },
  { store: 'three', state: 'verified', same_device: false },
]
</script>

<template>
  <main class="gate">
    <form @submit.prevent="signIn.mutate({ username, password })">
      <RaftMark :planks="planks" :needed="3" met :size="120" aria-hidden="true" />
      <h1>Rugged Raft</h1>
      <label
        >Name <InputText v-model="username" class="field" autocomplete="username" autofocus required
      /></label>
      <label
        >Password
        <InputText v-model="password" class="field" type="password" autocomplete="current-password" required
      /></label>
      <Button class="act" type="submit" label="Sign in" :disabled="signIn.isPending.value" />
      <p v-if="signIn.error.value" role="alert" class="trouble">{{ signIn.error.value.message }}</p>
    </form>
    <div class="sea"><WaterEdge /></div>
  </main>
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
  gap: 14px;
  width: min(340px, calc(100vw - 32px));
  padding-bottom: 28px;
}
h1 {
  font: 700 40px/1 var(--tag);
}
label {
  display: grid;
  gap: 4px;
}
.sea {
  color: var(--water);
  background: linear-gradient(transparent 10px, var(--water) 10px);
}
</style>
