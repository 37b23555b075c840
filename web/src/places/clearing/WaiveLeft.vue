<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useWaiveLeft } from '../../api/acts/clearing'
import type { Shapes } from '../../api/client'
import { useWho } from '../../shell/me'
import { counted } from '../../words/units'

/** Files that were left on a card on purpose: they go with it when it is formatted, unless somebody takes them. */
const props = defineProps<{ one: Shapes['CaseOut'] }>()
const { may } = useWho()
const open = ref(false)
const reason = ref('')
const waive = useWaiveLeft()
const go = () =>
  waive.mutate({
    card: props.one.card_id,
    reason: reason.value,
    count: props.one.left_in_all,
    seen: props.one.seen,
  })
</script>

<template>
  <div data-left>
    <p>
      {{ counted(one.left_in_all, 'file') }} of these stayed on the card on purpose.
      <button type="button" class="link" :aria-expanded="open" @click="open = !open">
        {{ open ? 'later' : 'Say that they need not be kept' }}
      </button>
    </p>
    <form v-if="open" class="line" @submit.prevent="go()">
      <p class="all">
        Formatting the card will destroy them:
        <code>{{ one.left_behind.slice(0, 12).join(', ') }}{{ one.left_in_all > 12 ? ' …' : '' }}</code>
      </p>
      <label>Why <InputText v-model="reason" class="field" data-waive-reason /></label>
      <Button
        class="act quiet small"
        type="submit"
        :label="`Waive ${counted(one.left_in_all, 'file')}`"
        :disabled="!may('waive') || !reason.trim()"
        data-waive
      />
    </form>
    <p v-if="waive.error.value" role="alert" class="trouble">{{ waive.error.value.message }}</p>
  </div>
</template>

<style scoped>
.all {
  width: 100%;
}
</style>
