<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import type { Looks } from '../../parts/chartLooks'
import { number, t } from '../../words/say'
import { counted } from '../../words/units'
import TrendPicture from './TrendPicture.vue'

/** How long ago everything of each copy was last read back. */
const props = defineProps<{ ages: readonly Shapes['CopiesOfAge'][] }>()
const OLD = 14
const nameOf = (one: Shapes['CopiesOfAge'], n: number) => {
  const from = props.ages[n - 1]?.days
  if (one.never) return t('trends.never')
  if (one.days === null) return t('trends.longerAgo')
  return from ? t('trends.between', { from, to: one.days }) : t('trends.lastDay')
}
const old = computed(() =>
  props.ages
    .filter((one) => one.never || one.days === null || one.days > OLD)
    .reduce((sum, one) => sum + one.copies, 0),
)
const all = computed(() => props.ages.reduce((sum, one) => sum + one.copies, 0))
const answer = computed(() =>
  t('trends.agesAnswer', { old: number(old.value), all: counted(all.value, 'copy') }, old.value),
)
const rows = computed(() => props.ages.map((one, n) => [nameOf(one, n), number(one.copies)]))
const option = computed(() => (of: Looks) => ({
  grid: { left: 190, right: 50, top: 12, bottom: 28 },
  xAxis: { ...of.axis, type: 'value', min: 0, minInterval: 1 },
  yAxis: { ...of.axis, type: 'category', inverse: true, data: props.ages.map(nameOf) },
  series: [
    {
      type: 'bar',
      barMaxWidth: 22,
      label: { show: true, position: 'right', color: of.ink, fontFamily: of.text.fontFamily, fontSize: 14 },
      data: props.ages.map((one) => ({
        value: one.copies,
        itemStyle:
          one.never || one.days === null
            ? { color: of.sheet, borderColor: of.trouble, borderWidth: 2, borderType: 'dotted' }
            : { color: of.ink },
      })),
    },
  ],
}))
</script>

<template>
  <TrendPicture
    :asks="t('trends.agesAsks')"
    :answer="answer"
    :note="t('trends.agesNote')"
    :high="260"
    :option="option"
    :heads="[t('trends.lastRead'), t('trends.copies')]"
    :rows="rows"
    data-trend="ages"
  />
</template>
