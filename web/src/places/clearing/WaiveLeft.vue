<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useWaiveLeft } from '../../api/acts/clearing'
import type { Shapes } from '../../api/client'
import { sayWhy, useWho } from '../../shell/me'
import { counted } from '../../words/units'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

/** Files that were left on a card on purpose: they go with it when it is formatted, unless somebody takes them. */
const props = defineProps<{ one: Shapes['CaseOut'] }>()
const { whyNot } = useWho()
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
      {{ t('waiveLeft.ofTheseStayedOnThe', { files: counted(one.left_in_all, 'file') }) }}
      <button type="button" class="link" :aria-expanded="open" @click="open = !open">
        {{ open ? t('waiveLeft.later') : t('waiveLeft.sayThatTheyNeedNot') }}
      </button>
    </p>
    <form v-if="open" class="line" @submit.prevent="go()">
      <p class="all">
        {{ t('waiveLeft.formattingTheCardWillDestroy') }}
        <code>{{ one.left_behind.slice(0, 12).join(', ') }}{{ one.left_in_all > 12 ? ' …' : '' }}</code>
      </p>
      <label>{{ t('waiveLeft.why') }} <InputText v-model="reason" class="field" data-waive-reason /></label>
      <ActButton
        class="quiet small"
        type="submit"
        :label="t('waiveLeft.waive', { files: counted(one.left_in_all, 'file') })"
        data-waive
        :why-not="whyNot('waive') ?? sayWhy(reason)"
        :busy="waive.isPending.value"
      />
    </form>
    <SaidNo :error="waive.error.value" />
  </div>
</template>

<style scoped>
.all {
  width: 100%;
}
</style>
