<script setup lang="ts">
import Select from 'primevue/select'
import { computed, ref, useTemplateRef } from 'vue'
import { useLookAtReport, useTakeInReport } from '../../api/acts/cameraReports'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'

/** A report as a file: what its columns say is shown on its first lines, and is said once for a production. */
type Use = Shapes['ColumnUse']
const MOST_BYTES = 1_000_000
const USES: { name: string; value: Use | '' }[] = [
  { name: t('reports.nothing'), value: '' },
  { name: t('reports.roll'), value: 'roll' },
  { name: t('reports.clip'), value: 'clip' },
  { name: t('reports.scene'), value: 'scene' },
  { name: t('reports.take'), value: 'take' },
  { name: t('reports.remark'), value: 'remark' },
]
const { whyNot } = useWho()
const look = useLookAtReport()
const take = useTakeInReport()
const file = useTemplateRef<HTMLInputElement>('file')
const name = ref('')
const content = ref('')
const tooLarge = ref('')
const uses = ref<(Use | '')[]>([])
const table = computed(() => (content.value ? look.data.value : undefined))

async function chosen() {
  const one = file.value?.files?.[0]
  content.value = tooLarge.value = ''
  take.reset()
  if (!one) return
  if (one.size > MOST_BYTES) {
    tooLarge.value = t('reports.tooLarge', { name: one.name, bytes: number(one.size) })
    return
  }
  name.value = one.name
  const bytes = new Uint8Array(await one.arrayBuffer())
  content.value = btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''))
  look.mutate(content.value, {
    onSuccess: (found) => {
      uses.value = found.head.map(
        (head) => USES.find(({ value }) => value && found.columns[value]?.includes(head))?.value ?? '',
      )
    },
  })
}
const columns = computed(() => {
  const found: Partial<Record<Use, string[]>> = {}
  table.value?.head.forEach((head, n) => {
    const use = uses.value[n]
    if (use) (found[use] ??= []).push(head)
  })
  return found
})
const lacks = computed(() => {
  const one = (['roll', 'clip'] as const).find((use) => columns.value[use]?.length !== 1)
  return one ? t('reports.sayWhich', { what: t(`reports.${one}`) }) : undefined
})
const keep = () =>
  take.mutate(
    { name: name.value, content: content.value, columns: columns.value },
    {
      onSuccess: () => {
        content.value = ''
        if (file.value) file.value.value = ''
      },
    },
  )
</script>

<template>
  <form @submit.prevent="keep">
    <label class="from"
      >{{ t('reports.file')
      }}<input ref="file" type="file" accept=".csv,text/csv" class="field" data-report-file @change="chosen"
    /></label>
    <p v-if="tooLarge" role="alert" class="trouble" data-too-large>{{ tooLarge }}</p>
    <SaidNo :error="look.error.value ?? take.error.value" />
    <template v-if="table">
      <p>{{ t('reports.columns', { rows: number(table.rows) }) }}</p>
      <div class="figures-box" tabindex="0">
        <table class="figures">
          <thead>
            <tr>
              <th v-for="(head, n) in table.head" :key="head" scope="col">
                {{ head }}
                <Select
                  v-model="uses[n]"
                  :options="USES"
                  option-label="name"
                  option-value="value"
                  :aria-label="t('reports.says', { head })"
                  :data-column="head"
                />
              </th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="(cells, n) in table.first" :key="n">
              <td v-for="(cell, at) in cells" :key="at">{{ cell }}</td>
            </tr>
          </tbody>
        </table>
      </div>
      <ActButton
        type="submit"
        :label="t('reports.takeIn')"
        :why-not="whyNot('note') ?? lacks"
        :busy="take.isPending.value"
        data-take-in
      />
    </template>
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: var(--space-3);
  justify-items: start;
  margin-top: var(--space-3);
}
.from {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
}
.figures-box {
  max-width: 100%;
}
</style>
