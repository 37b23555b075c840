<script setup lang="ts">
import InputText from 'primevue/inputtext'
import MultiSelect from 'primevue/multiselect'
import { computed, ref } from 'vue'
import { useSetEscalation, useTellNoMore, useTellProgram } from '../../api/acts/news'
import type { Shapes } from '../../api/client'
import { useSetUp } from '../../api/queries/useSetUp'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { NEWS_KINDS } from '../../words/news'
import { listed, t } from '../../words/say'

/** Other programs that are told, and after how long others are told of what nobody has seen. */
const props = defineProps<{ page: Shapes['NewsPageOut'] }>()
const { whyNot } = useWho()
const tell = useTellProgram()
const end = useTellNoMore()
const escalate = useSetEscalation()
const name = ref('')
const address = ref('')
const kinds = ref<Shapes['NewsKind'][]>(['roll verified'])
const secret = ref('')
const setUp = useSetUp()
const plan = ref('')
const plans = computed(() => [
  { name: t('news.anyPlan'), value: '' },
  ...(setUp.data.value?.plans ?? []).map(({ name }) => ({ name, value: name })),
])
const minutes = ref(props.page.escalate_minutes ?? 0)
const KINDS = Object.entries(NEWS_KINDS).map(([value, words]) => ({ value, name: words }))
const lacks = computed(() =>
  name.value.trim() && address.value.trim() && kinds.value.length ? undefined : t('news.sayProgram'),
)
const add = () =>
  tell.mutate(
    { name: name.value, address: address.value.trim(), kinds: kinds.value, plan: plan.value },
    {
      onSuccess: (made) => {
        secret.value = made.secret
        name.value = address.value = ''
      },
    },
  )
</script>

<template>
  <section class="chapter" data-programs>
    <h2>{{ t('news.others') }}</h2>
    <form class="line" @submit.prevent="escalate.mutate(minutes || null)">
      <NumberField v-model="minutes" :label="t('news.escalate')" :max="1440" />
      <span class="soft">{{ t('news.escalateWhat') }}</span>
      <ActButton type="submit" class="quiet small" :label="t('news.set')" :why-not="whyNot('set_up')" />
    </form>
    <ul>
      <li v-for="one in page.programs" :key="one.id" :data-program="one.name">
        <span class="tag">{{ one.name }}</span> {{ one.address }}
        <span class="soft">{{ listed(one.kinds.map((kind) => NEWS_KINDS[kind])) }}</span>
        <span v-if="one.plan" class="soft">{{ t('news.ofPlan', { plan: one.plan }) }}</span>
        <span v-if="one.trouble" class="trouble">{{ one.trouble }}</span>
        <ActButton
          type="button"
          link
          :label="t('news.noMore')"
          :why-not="whyNot('set_up')"
          @press="end.mutate(one.id)"
        />
      </li>
    </ul>
    <form class="line" @submit.prevent="add">
      <label>{{ t('news.program') }} <InputText v-model="name" class="field" data-program-name /></label>
      <label
        >{{ t('news.address') }} <InputText v-model="address" class="field" data-program-address
      /></label>
      <MultiSelect
        v-model="kinds"
        :options="KINDS"
        option-label="name"
        option-value="value"
        :aria-label="t('news.ofWhat')"
      />
      <ChooseOne v-if="plans.length > 1" v-model="plan" :label="t('news.plan')" :options="plans" />
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('news.tellIt')"
        :why-not="whyNot('set_up') ?? lacks"
        data-tell-program
      />
    </form>
    <p v-if="secret" role="status" data-secret>
      {{ t('news.secret') }} <code>{{ secret }}</code>
    </p>
    <SaidNo :error="tell.error.value ?? end.error.value ?? escalate.error.value" />
  </section>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
  margin-top: var(--space-3);
}
label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
li {
  padding: var(--space-1h) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
</style>
