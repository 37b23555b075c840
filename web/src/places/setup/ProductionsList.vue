<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useCloseProduction, useOpenProduction } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { HERE } from '../../api/here'
import ActButton from '../../parts/ActButton.vue'
import DayField from '../../parts/DayField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** The productions of this ledger: going to another, beginning one, closing this one. */
const props = defineProps<{ setup: Shapes['SetUpOut'] }>()
const { me, whyNot } = useWho()
const begin = useOpenProduction()
const close = useCloseProduction()
const others = computed(() => me.productions.filter((one) => one.slug !== HERE))
const name = ref('')
const firstDay = ref(new Date().toLocaleDateString('sv-SE'))
const go = () =>
  begin.mutate(
    { name: name.value, time_zone: props.setup.time_zone, first_day: firstDay.value },
    { onSuccess: ({ slug }) => location.assign(`/${encodeURIComponent(slug)}/setup`) },
  )
</script>

<template>
  <p v-if="setup.closed" class="trouble" data-closed>
    {{ t('productionsList.isClosed', { name: setup.name }) }}
  </p>
  <p v-if="others.length">
    {{ t('productionsList.others') }}
    <template v-for="one in others" :key="one.slug">
      <a :href="`/${encodeURIComponent(one.slug)}/`" :data-production-link="one.slug">{{
        one.closed ? t('productionsList.closed', { name: one.name }) : one.name
      }}</a>{{ ' ' }}
    </template>
  </p>
  <form class="line" @submit.prevent="go">
    <label>{{ t('productionsList.another') }} <InputText v-model="name" class="field" data-another /></label>
    <DayField v-model="firstDay" :label="t('productionForm.firstDay')" />
    <ActButton
      type="submit"
      class="quiet small"
      :label="t('productionsList.begin')"
      :why-not="whyNot('set_up') ?? (name.trim() ? undefined : t('productionsList.needsAName'))"
      :busy="begin.isPending.value"
      data-begin-another
    />
    <ActButton
      type="button"
      link
      :label="t(setup.closed ? 'productionsList.open' : 'productionsList.close', { name: setup.name })"
      :why-not="whyNot('set_up')"
      :busy="close.isPending.value"
      data-close-production
      @press="close.mutate(!setup.closed)"
    />
    <p class="soft wide">{{ t('productionsList.whatClosingDoes') }}</p>
  </form>
  <SaidNo :error="begin.error.value ?? close.error.value" />
</template>

<style scoped>
form {
  margin-top: var(--space-4);
}
.wide {
  width: 100%;
}
</style>
