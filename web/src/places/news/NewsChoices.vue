<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { reactive, ref } from 'vue'
import { useChooseNews } from '../../api/acts/news'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { allowNotifications } from '../../shell/bells'
import { useWho } from '../../shell/me'
import { NEWS_KINDS, NEWS_WAYS } from '../../words/news'
import { t } from '../../words/say'

/** What somebody wants to be told of, and how; everything stands on the page anyway. */
const props = defineProps<{ page: Shapes['NewsPageOut'] }>()
const { me } = useWho()
const choose = useChooseNews()
const KINDS = Object.keys(NEWS_KINDS) as Shapes['NewsKind'][]
const WAYS = Object.keys(NEWS_WAYS) as Shapes['Way'][]
const chosen = reactive<Record<string, Shapes['Way'][]>>(
  Object.fromEntries(KINDS.map((kind) => [kind, [...(props.page.choices[kind] ?? [])]])),
)
const from = ref(props.page.quiet_from)
const until = ref(props.page.quiet_until)
const email = ref(props.page.email)
const keep = () => {
  if (Object.values(chosen).some((ways) => ways.includes('browser notification'))) allowNotifications()
  choose.mutate({ choices: chosen, quiet_from: from.value, quiet_until: until.value, email: email.value })
}
</script>

<template>
  <section v-if="!me.screen" class="chapter" data-choices>
    <h2>{{ t('news.choices') }}</h2>
    <form @submit.prevent="keep">
      <table class="figures">
        <thead>
          <tr>
            <td></td>
            <th v-for="way in WAYS" :key="way" scope="col">{{ NEWS_WAYS[way] }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="kind in KINDS" :key="kind">
            <th scope="row">{{ NEWS_KINDS[kind] }}</th>
            <td v-for="way in WAYS" :key="way">
              <Checkbox
                v-model="chosen[kind]"
                :value="way"
                :aria-label="`${NEWS_KINDS[kind]}: ${NEWS_WAYS[way]}`"
                :data-choice="`${kind}/${way}`"
              />
            </td>
          </tr>
        </tbody>
      </table>
      <label>{{ t('news.email') }} <InputText v-model="email" class="field" type="email" data-email /></label>
      <p class="hours">
        {{ t('news.quiet') }}
        <NumberField v-model="from" :label="t('news.from')" :max="23" />
        <NumberField v-model="until" :label="t('news.until')" :max="23" />
        <span class="soft">{{ t('news.quietWhat') }}</span>
      </p>
      <ActButton
        type="submit"
        class="small"
        :label="t('news.keep')"
        :busy="choose.isPending.value"
        data-keep-choices
      />
      <span v-if="choose.isSuccess.value" role="status" data-kept>{{ t('news.kept') }}</span>
      <SaidNo :error="choose.error.value" />
    </form>
  </section>
</template>

<style scoped>
form {
  display: grid;
  gap: var(--space-3);
  justify-items: start;
}
.hours {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
}
</style>
