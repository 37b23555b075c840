<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref, watch } from 'vue'
import { useSetCare } from '../../api/acts/upkeep'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import NumberField from '../../parts/NumberField.vue'
import { pacedWords, pacingOf, sent, unpaced } from '../../parts/pacing'
import PacingFields from '../../parts/PacingFields.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import { counted } from '../../words/units'

/** How much of a store was read back lately, and whether that and mending are done by themselves. */
const props = defineProps<{ care: Shapes['CareOut'] }>()
const { whyNot } = useWho()
const set = useSetCare()
const open = ref(false)
const reads = ref(false)
const days = ref(7)
const mends = ref(false)
const pacing = ref(unpaced())
watch(open, () => {
  reads.value = props.care.check_days !== null
  days.value = props.care.check_days ?? 7
  mends.value = props.care.mends
  pacing.value = pacingOf(props.care)
})
const share = computed(() => {
  const { bytes: held, read, days: within, copies } = props.care
  if (!copies) return t('storeCare.holdsNothing')
  return t('storeCare.readLately', {
    percent: number(Math.floor((100 * read) / Math.max(held, 1))),
    days: counted(within, 'day'),
  })
})
const byItself = computed(() => {
  const { check_days: every, mends: mending, by } = props.care
  if (!by) return t('storeCare.nothing')
  const read = every ? t('storeCare.reads', { days: counted(every, 'day') }) : t('storeCare.readsNot')
  return t(mending ? 'storeCare.andMends' : 'storeCare.andMendsNot', {
    read,
    paced: pacedWords(props.care.hours, props.care.rate),
  })
})
const paced = computed(() => sent(pacing.value))
function go() {
  if (!paced.value) return
  set.mutate(
    {
      store: props.care.store,
      check_days: reads.value ? days.value : null,
      mends: mends.value,
      ...paced.value,
    },
    { onSuccess: () => (open.value = false) },
  )
}
</script>

<template>
  <div class="care" :data-care="care.store">
    <p class="soft">
      <span data-read-lately>{{ share }}</span>{{ ' ' }}
      <span v-if="care.broken" class="trouble"> {{ t('storeCare.broken', {}, care.broken) }}</span>
      {{ byItself }}
      <ActButton
        type="button"
        link
        :label="t('storeCare.change')"
        :aria-expanded="open"
        :why-not="whyNot('keep_stores')"
        :data-change-care="care.store"
        @press="open = !open"
      />
    </p>
    <form v-if="open" class="line" @submit.prevent="go()">
      <label class="ticked"
        ><Checkbox v-model="reads" binary data-reads /> {{ t('storeCare.readAgain') }}</label
      >
      <NumberField v-if="reads" v-model="days" :label="t('storeCare.every')" :min="1" :max="3650" data-days />
      <label class="ticked"><Checkbox v-model="mends" binary data-mends /> {{ t('storeCare.mend') }}</label>
      <PacingFields v-model="pacing" />
      <ActButton
        class="quiet small"
        type="submit"
        :label="t('storeCare.go')"
        :why-not="paced ? undefined : t('pacing.noHour')"
        :busy="set.isPending.value"
        data-care-go
      />
    </form>
    <SaidNo :error="set.error.value" />
  </div>
</template>

<style scoped>
.care p {
  margin: 0;
}
</style>
