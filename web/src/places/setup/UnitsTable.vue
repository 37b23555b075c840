<script setup lang="ts">
import { computed, ref, useTemplateRef } from 'vue'
import { useBeginAsUnit, useEndUnit, useHandIn, useJoinUnit, useUnitSetUp } from '../../api/acts/units'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import { download } from '../../parts/download'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { number, t } from '../../words/say'
import { age } from '../../words/times'
import { counted } from '../../words/units'
import SendUnit from './SendUnit.vue'

/** Parts of the crew that work with a ledger of their own for a while: sent out, and joined again. */
const props = defineProps<{ units: Shapes['UnitsOut']; letters: readonly string[] }>()
const { whyNot } = useWho()
const setUp = useUnitSetUp()
const end = useEndUnit()
const begin = useBeginAsUnit()
const handIn = useHandIn()
const join = useJoinUnit()
const here = computed(() => props.units.units.find((one) => one.here))
const notOurs = ref('')
const joinFile = useTemplateRef<HTMLInputElement>('joinFile')
const setUpFile = useTemplateRef<HTMLInputElement>('setUpFile')
const refusal = computed(
  () =>
    setUp.error.value ??
    end.error.value ??
    begin.error.value ??
    handIn.error.value ??
    join.error.value ??
    (notOurs.value ? { message: notOurs.value } : undefined),
)
const kept = (one: Shapes['UnitOut']) =>
  Object.entries(one.numbers)
    .map(([letter, [first = 0, last = 0]]) =>
      t('unitsTable.numbers', { letter, first: number(first), last: number(last) }),
    )
    .join('; ')
const giveSetUp = (one: Shapes['UnitOut']) =>
  setUp.mutate(one.id, {
    onSuccess: (said) =>
      download(new Blob([JSON.stringify(said, null, 1)]), `${one.name.replace(/\W+/g, '-')}-set-up.json`),
  })
const giveOut = () =>
  handIn.mutate('blob', {
    onSuccess: (made) => download(made as unknown as Blob, `${here.value?.name.replace(/\W+/g, '-')}.jsonl`),
  })
function takeIn() {
  const file = joinFile.value?.files?.[0]
  if (file)
    join.mutate(file, {
      onSettled: () => {
        if (joinFile.value) joinFile.value.value = ''
      },
    })
}
async function beginHere() {
  notOurs.value = ''
  const file = setUpFile.value?.files?.[0]
  if (!file) return
  try {
    const said = JSON.parse(await file.text()) as Shapes['UnitSetUp']
    begin.mutate(said, { onSuccess: ({ slug }) => location.assign(`/${slug}/setup`) })
  } catch {
    notOurs.value = t('unitsTable.noSetUp', { name: file.name })
  }
}
</script>

<template>
  <p v-if="here" class="told" data-this-unit>
    {{ t('unitsTable.here', { name: here.name, numbers: kept(here) }) }}
    <ActButton
      type="button"
      class="small"
      :label="t('unitsTable.handIn')"
      :why-not="whyNot('hand_over')"
      :busy="handIn.isPending.value"
      data-hand-in
      @press="giveOut"
    />
  </p>
  <template v-else>
    <ul class="rows">
      <li v-for="one in units.units" :key="one.id" :data-unit="one.name">
        <span class="tag">{{ one.name }}</span>
        <span>
          {{ one.ended_at ? t('unitsTable.back', { age: age(one.ended_at) }) : t('unitsTable.away') }}
          <span class="soft">{{ kept(one) }}</span>
        </span>
        <span v-if="!one.ended_at">
          <ActButton
            type="button"
            link
            :label="t('unitsTable.setUp')"
            :why-not="whyNot('set_up')"
            :data-unit-set-up="one.name"
            @press="giveSetUp(one)"
          />
          <ActButton
            type="button"
            link
            :label="t('unitsTable.isBack')"
            :why-not="whyNot('set_up')"
            @press="end.mutate(one.id)"
          />
        </span>
      </li>
    </ul>
    <SendUnit :letters="letters" />
    <label class="file"
      >{{ t('unitsTable.join')
      }}<input ref="joinFile" type="file" accept=".jsonl" class="field" data-join-file @change="takeIn"
    /></label>
    <section v-for="one in units.joins" :key="one.id" :data-join="one.unit">
      <h3>
        {{
          t('unitsTable.joined', {
            name: one.unit,
            rolls: counted(one.rolls, 'roll'),
            copies: counted(one.copies, 'copy'),
            by: one.by,
            age: age(one.at),
          })
        }}
      </h3>
      <ul>
        <li v-for="words in one.conflicts" :key="words" class="differ" data-conflict>{{ words }}</li>
      </ul>
    </section>
    <label class="file"
      >{{ t('unitsTable.begin')
      }}<input ref="setUpFile" type="file" accept=".json" class="field" data-begin-file @change="beginHere"
    /></label>
  </template>
  <SaidNo :error="refusal" />
</template>

<style scoped>
ul.rows {
  --columns: 8rem 1fr auto;
}
.file {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
  margin-top: var(--space-4);
}
h3 {
  margin-top: var(--space-3);
  font-size: var(--type-body);
}
.differ {
  padding: var(--space-1) 0 var(--space-1) var(--space-3);
  box-shadow: inset var(--line-bar) 0 0 var(--care);
}
@media (--phone) {
  ul.rows {
    --columns: 1fr;
  }
}
</style>
