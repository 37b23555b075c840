<script setup lang="ts">
import { computed, ref } from 'vue'
import { useBringOnward } from '../../api/acts/copies'
import type { Shapes } from '../../api/client'
import { useOnward } from '../../api/queries/useOnward'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import DayField from '../../parts/DayField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { bytes, counted } from '../../words/units'

/** Many rolls to a store, from verified copies: what would go, what stays and why, before anybody presses. */
const props = defineProps<{ stores: readonly Shapes['StoreOut'][] }>()
const { whyNot } = useWho()
const bring = useBringOnward()
const of = ref<Shapes['OnwardOf']>('no copy off-site')
const day = ref('')
const from = ref('')
const to = ref('')
const WHAT: { name: string; value: Shapes['OnwardOf'] }[] = [
  { name: t('bringOnward.noOffsite'), value: 'no copy off-site' },
  { name: t('bringOnward.everything'), value: 'everything' },
  { name: t('bringOnward.aDay'), value: 'a day' },
  { name: t('bringOnward.aStore'), value: 'a store' },
]
const all = computed(() => props.stores.map(({ name }) => ({ name, value: name })))
const able = computed(() =>
  props.stores.filter((one) => one.online && !one.lost).map(({ name }) => ({ name, value: name })),
)
const meant = computed(() => {
  const which = { 'a day': day.value, 'a store': from.value }[of.value as string]
  if (!to.value || which === '') return undefined
  return { of: of.value, which: which ?? '', store: to.value }
})
const shown = useOnward(meant)
const found = computed(() => (meant.value ? shown.data.value : undefined))
const lacks = computed(() => {
  if (!meant.value) return t('bringOnward.sayWhatAndWhere')
  if (!found.value) return t('bringOnward.beingLookedUp')
  return found.value.going.length ? undefined : t('bringOnward.nothingGoes', { store: to.value })
})
</script>

<template>
  <section data-onward>
    <h2>{{ t('bringOnward.title') }}</h2>
    <form class="line" @submit.prevent="meant && !lacks && bring.mutate(meant)">
      <ChooseOne v-model="of" :label="t('bringOnward.bring')" :options="WHAT" data-onward-of />
      <DayField v-if="of === 'a day'" v-model="day" :label="t('bringOnward.shotOn')" />
      <ChooseOne
        v-if="of === 'a store'"
        v-model="from"
        :label="t('bringOnward.on')"
        :options="all"
        :placeholder="t('copyTo.whichStore')"
        data-onward-from
      />
      <ChooseOne
        v-model="to"
        :label="t('bringOnward.to')"
        :options="able"
        :placeholder="t('copyTo.whichStore')"
        data-onward-to
      />
      <ActButton
        class="quiet small"
        type="submit"
        :label="
          found?.going.length
            ? t('bringOnward.go', {
                rolls: counted(found.going.length, 'roll'),
                bytes: bytes(found.bytes),
                store: to,
              })
            : t('bringOnward.goThere')
        "
        :why-not="whyNot('offload') ?? lacks"
        :busy="bring.isPending.value"
        data-bring
      />
      <SaidNo :error="bring.error.value ?? shown.error.value" />
    </form>
    <ul v-if="found && (found.going.length || found.staying.length)">
      <li v-for="one in found.going" :key="one.tag" :data-going="one.tag">
        <RouterLink class="tag" :to="`/tally/${one.tag}`">{{ one.tag }}</RouterLink>
        {{
          t('bringOnward.going', {
            files: counted(one.files, 'file'),
            bytes: bytes(one.bytes),
            source: one.source,
          })
        }}
      </li>
      <li v-for="one in found.staying" :key="one.tag" class="soft" :data-staying="one.tag">
        <RouterLink class="tag" :to="`/tally/${one.tag}`">{{ one.tag }}</RouterLink>
        {{ t('bringOnward.stays', { reason: one.reason }) }}
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  margin-top: var(--space-5);
}
ul {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(24rem, 1fr));
  gap: var(--space-1) var(--space-5);
  margin-top: var(--space-3);
}
@media (--phone) {
  ul {
    grid-template-columns: 1fr;
  }
}
</style>
