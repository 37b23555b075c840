<script setup lang="ts">
import { computed, ref } from 'vue'
import { useAskPaper, useMakeAccount } from '../api/acts/accounts'
import type { Shapes } from '../api/client'
import { HERE } from '../api/here'
import { useAccounts } from '../api/queries/useAccounts'
import { useWho } from '../shell/me'
import { useWaterline } from '../api/queries/useWaterline'
import { number, t } from '../words/say'
import { age, dayAndClock } from '../words/times'
import ActButton from './ActButton.vue'
import SaidNo from './SaidNo.vue'

/** Accounts file by file, to hand over: the last editions in their three forms, and a new one. */
const props = defineProps<{ on: Shapes['AccountOn']; about: string; folded?: boolean }>()
const SHOWN = 3
const open = ref(!props.folded)
const asked = useAccounts(props.on, () => props.about, open)
const editions = computed(() => (asked.data.value ?? []).slice(0, SHOWN))
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const { whyNot } = useWho()
const make = useMakeAccount()
const onPaper = useAskPaper()
const at = (edition: number, kind: 'pdf' | 'csv' | 'json') =>
  `/api/productions/${encodeURIComponent(HERE)}/accounts/editions/${edition}/account.${kind}`
</script>

<template>
  <button v-if="!open" type="button" class="pick" data-open-account @click="open = true">
    {{ t('fileAccount.open') }}
  </button>
  <div v-else class="account" data-account>
    <ActButton
      class="quiet small"
      :label="t('fileAccount.make')"
      :why-not="whyNot('see_work')"
      :busy="make.isPending.value"
      data-make-account
      @press="make.mutate({ on, about })"
    />
    <SaidNo :error="make.error.value ?? onPaper.error.value" />
    <ul>
      <li v-for="one in editions" :key="one.id" :data-edition-of="one.number">
        <span>{{ t('fileAccount.edition', { number: one.number }) }}</span>
        <span class="soft">{{
          t('fileAccount.madeBy', { by: one.by, at: dayAndClock(one.at, zone), age: age(one.at) })
        }}</span>
        <a :href="at(one.id, 'csv')" download>{{ t('fileAccount.csv') }}</a>
        <a :href="at(one.id, 'json')" download>{{ t('fileAccount.json') }}</a>
        <a v-if="one.made" :href="at(one.id, 'pdf')" target="_blank" rel="noopener" data-account-paper>{{
          t('fileAccount.pdf')
        }}</a>
        <span v-else-if="one.being_made" role="status" data-being-made>{{
          t('fileAccount.onItsWay', { files: number(one.files), of: number(one.of) })
        }}</span>
        <ActButton
          v-else
          class="quiet small"
          :label="t('fileAccount.onPaper')"
          :why-not="whyNot('see_work')"
          :busy="onPaper.isPending.value"
          data-on-paper
          @press="onPaper.mutate(one.id)"
        />
        <span v-if="one.trouble" class="trouble">{{ one.trouble }}</span>
      </li>
    </ul>
  </div>
</template>

<style scoped>
.account {
  margin-block: var(--space-3);
}
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-3);
  align-items: center;
  margin-top: var(--space-1);
}
</style>
