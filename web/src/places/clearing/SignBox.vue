<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref, watch } from 'vue'
import { answered, client, type Shapes } from '../../api/client'
import { useAct } from '../../api/queries'
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
const sign = useAct(
  ({ card, tag, digest }: { card: number; tag: string; digest: string }) =>
    answered(
      client.POST('/api/clearing/cards/{card_id}/sign', {
        params: { path: { card_id: card } },
        body: { tag, digest },
      }),
    ),
  'clearing',
  'waterline',
  'tally',
)
watch(
  () => props.one,
  () => {
    typed.value = ''
    sign.reset()
  },
)
const right = computed(() => typed.value.trim().toUpperCase() === props.one?.tag?.toUpperCase())

async function submit() {
  const one = props.one
  if (!one || !right.value) return
  await sign.mutateAsync({ card: one.card_id, tag: typed.value, digest: one.digest }).then(
    () => emit('close'),
    () => undefined,
  )
}
</script>

<template>
  <BoxDialog v-model:visible="visible" :title="`Sign that ${one?.label ?? ''} may be reused`">
    <form v-if="one" @submit.prevent="submit">
      <p>
        {{ counted(one.files, 'file') }}, {{ bytes(one.bytes) }}, as the card was read
        {{ one.read_at ? age(one.read_at) : '' }}.
        {{ one.planks.filter((plank) => plank.counts).length }} copies count:
      </p>
      <ul>
        <li v-for="plank in one.planks.filter((copy) => copy.counts)" :key="plank.store">
          {{ plank.store }}, {{ plank.level }} {{ plank.verified_at ? age(plank.verified_at) : '' }}
        </li>
      </ul>
      <p>
        <strong
          >After {{ one.missing_signatures > 1 ? 'the last signature' : 'this' }} the card may be erased, and
          {{ one.tag }} lives on these stores alone.</strong
        >
      </p>
      <label
        >Type the roll’s tag, {{ one.tag }}
        <InputText
          v-model="typed"
          class="field"
          autofocus
          autocomplete="off"
          spellcheck="false"
          data-type-tag
      /></label>
      <p v-if="sign.error.value" role="alert" class="trouble">{{ sign.error.value.message }}</p>
      <p class="acts">
        <Button
          class="act"
          type="submit"
          :label="`Sign ${one.tag}`"
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
  gap: 12px;
}
label {
  display: grid;
  gap: 4px;
}
.acts {
  display: flex;
  gap: 12px;
}
ul {
  padding-left: 18px;
  list-style: square;
}
</style>
