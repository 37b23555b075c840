<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useReturns } from '../../api/queries/useReturns'
import LastKnown from '../../parts/LastKnown.vue'
import { t } from '../../words/say'
import { age } from '../../words/times'
import { counted } from '../../words/units'
import FinalsForm from './FinalsForm.vue'
import LookForm from './LookForm.vue'
import LookFound from './LookFound.vue'
import RunLine from '../../parts/RunLine.vue'
import ToFolder from './ToFolder.vue'
import { codecName } from './recipes'

/** Folders that people work in: what of them is not as it was, and what is brought there or made. None of it is a copy. */
const route = useRoute()
const text = (name: string) => {
  const said = route.query[name]
  return typeof said === 'string' && said ? said : undefined
}
const tag = computed(() => text('tag'))
const day = computed(() => text('day'))
const clip = computed(() => text('clip'))
const returns = useReturns()
const found = computed(() => returns.data.value)
const looks = computed(() => found.value?.looks ?? [])
const opened = ref<number>()
/** The newest, until somebody opens another. */
const shown = computed(() => looks.value.find((one) => one.id === opened.value) ?? looks.value[0])
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/find">{{ t('places.find') }}</RouterLink>
    </p>
    <h1>{{ t('returns.title') }}</h1>
    <p class="soft">{{ t('returns.says') }}</p>
    <ToFolder v-if="tag || day" :tag="tag" :clip="clip" :day="day" />
    <LookForm v-else />
    <FinalsForm v-if="!tag && !day" />
    <LastKnown :error="returns.error.value" :known="Boolean(found)" :updated-at="returns.dataUpdatedAt.value">
      <section v-if="found?.returns.length" class="chapter" data-returns>
        <h2>{{ t('returns.brought') }}</h2>
        <RunLine v-for="one in found.returns" :key="one.run" :line="one" :what="counted(one.files, 'file')" />
      </section>
      <section v-if="found?.making.length" class="chapter" data-making>
        <h2>{{ t('making.made') }}</h2>
        <RunLine v-for="one in found.making" :key="one.run" :line="one" :what="codecName(one.codec)" />
      </section>
      <section v-if="found?.take_aways.length" class="chapter" data-taken-away>
        <h2>{{ t('takeAway.taken') }}</h2>
        <RunLine v-for="one in found.take_aways" :key="one.run" :line="one" :what="one.name" />
      </section>
      <template v-if="shown && !tag && !day">
        <LookFound :key="shown.id" :look="shown" />
        <section v-if="looks.length > 1" class="chapter">
          <h2>{{ t('returns.earlier') }}</h2>
          <p v-for="one in looks" :key="one.id">
            <button
              type="button"
              class="link"
              :aria-current="one.id === shown.id ? 'true' : undefined"
              @click="opened = one.id"
            >
              {{ one.folder }}
            </button>
            <span class="soft"> {{ t('returns.askedBy', { by: one.by, age: age(one.asked_at) }) }}</span>
          </p>
        </section>
      </template>
    </LastKnown>
  </main>
</template>

<style scoped>
h1 {
  font: 700 var(--type-large) / 1.2 var(--tag);
}
</style>
