<script setup lang="ts">
import { computed, ref } from 'vue'
import { HERE } from '../../api/here'
import { useLabelSheets } from '../../api/queries/useLabelSheets'
import { useStores } from '../../api/queries/useStores'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import NumberField from '../../parts/NumberField.vue'
import { t } from '../../words/say'

/** Labels as PDF, for a sheet that may have been begun: tag, pennant, and the same as codes. */
const props = defineProps<{ listed: readonly string[] }>()
const open = ref(false)
const of = ref<'these' | 'all' | 'drives'>('all')
const OF = [
  { name: t('labelsForm.allCards'), value: 'all' },
  { name: t('labelsForm.theseCards'), value: 'these' },
  { name: t('labelsForm.drives'), value: 'drives' },
] as const
const sheets = useLabelSheets(open)
const stores = useStores()
const chosen = ref<string>()
const sheet = computed(() => chosen.value ?? sheets.data.value?.[0] ?? '')
const first = ref(1)
const address = computed(() => {
  const query = new URLSearchParams({ sheet: sheet.value, first: String(first.value) })
  if (of.value === 'these') for (const label of props.listed) query.append('cards', label)
  if (of.value === 'drives')
    for (const store of stores.data.value ?? []) if (!store.server) query.append('stores', store.name)
  return `/api/productions/${encodeURIComponent(HERE)}/reports/labels?${query.toString()}`
})
</script>

<template>
  <div class="labels">
    <ActButton
      type="button"
      link
      :label="t('labelsForm.open')"
      :aria-expanded="open"
      data-labels
      @press="open = !open"
    />
    <form v-if="open" class="line" @submit.prevent>
      <ChooseOne v-model="of" :label="t('labelsForm.of')" :options="OF" data-labels-of />
      <ChooseOne
        :model-value="sheet"
        :label="t('labelsForm.sheet')"
        :options="(sheets.data.value ?? []).map((name) => ({ name, value: name }))"
        data-labels-sheet
        @update:model-value="(name: string) => (chosen = name)"
      />
      <NumberField v-model="first" :label="t('labelsForm.first')" :min="1" :max="65" />
      <a class="act small" :href="address" target="_blank" rel="noopener" data-make-labels>{{
        t('labelsForm.make')
      }}</a>
      <span class="soft">{{ t('labelsForm.hint') }}</span>
    </form>
  </div>
</template>
