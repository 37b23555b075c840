<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import { refDebounced } from '@vueuse/core'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref } from 'vue'
import { useSavePlan } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { usePlanExample } from '../../api/queries/usePlanExample'
import { useWho } from '../../shell/me'
import ChooseOne from '../../parts/ChooseOne.vue'
import NamesPreview from '../bench/NamesPreview.vue'
import FullSoon from '../../parts/FullSoon.vue'
import { t } from '../../words/say'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'
import NumberField from '../../parts/NumberField.vue'
import WordsField from '../../parts/WordsField.vue'

/** A plan as it is written, beside what it makes of a real card. */
const props = defineProps<{ plan: Shapes['PlanIn'] & { id?: number }; setup: Shapes['SetUpOut'] }>()
const emit = defineEmits<{ saved: [] }>()
const { whyNot } = useWho()
const algorithms = computed(() => props.setup.algorithms.map((name) => ({ name, value: name })))
const draft = reactive({
  ...props.plan,
  keywords: [...(props.plan.keywords ?? [])],
  stores: [...(props.plan.stores ?? [])],
  more_algorithms: [...(props.plan.more_algorithms ?? [])],
  read_twice: props.plan.read_twice ?? false,
})
const start = ref(props.plan.start ?? 1)
const digits = ref(props.plan.roll_digits ?? 3)
const firstRoll = ref(props.plan.roll_start ?? 1)
const offered = computed(() =>
  props.setup.stores.filter((store) => !store.lost || props.plan.stores?.includes(store.name)),
)
const whole = computed<Shapes['PlanIn']>(() => ({
  ...draft,
  start: start.value,
  roll_digits: digits.value,
  roll_start: firstRoll.value,
  stores: [...draft.stores],
  keywords: [...draft.keywords],
}))
const settled = refDebounced(whole, 250)
const example = usePlanExample(() => props.plan.id ?? props.setup.plans[0]?.id ?? 0, settled)
const save = useSavePlan()
const go = () => save.mutate({ id: props.plan.id, ...whole.value }, { onSuccess: () => emit('saved') })
const NAMES = [
  ['', t('planSheet.asOnTheCard')],
  ['{roll}_{name}', t('planSheet.rollBeforeTheName')],
  ['{date}_{roll}_{name}', t('planSheet.dated')],
  ['{roll}_{number:4}_{counter}', t('planSheet.renumbered')],
  ['{shot:3}/{camera}_{name}', t('planSheet.aFolderAShot')],
] as const
const FOLDERS = [
  ['{production}/{date}/{roll}', t('planSheet.aFolderARoll')],
  ['{year}/{month}/{day}/{roll}', t('planSheet.yearsMonthsDays')],
  ['{fleet}/{job}/{roll}', t('planSheet.fleetAndJob')],
  ['{production}/{date}', t('planSheet.aFolderADay')],
] as const
const out = computed(() => example.data.value)
</script>

<template>
  <form class="sheet" data-plan-sheet @submit.prevent="go()">
    <div class="write">
      <label class="wide"
        >{{ t('planSheet.name') }} <InputText v-model="draft.name" class="field" data-plan-name
      /></label>
      <div class="wide">
        <label for="folder">{{ t('planSheet.folderOfARoll') }}</label>
        <InputText id="folder" v-model="draft.folder" class="field mono" data-folder-template />
        <p class="ready">
          <button
            v-for="[text, words] in FOLDERS"
            :key="text"
            type="button"
            class="link"
            @click="draft.folder = text"
          >
            {{ words }}
          </button>
        </p>
      </div>
      <div class="wide">
        <label for="names">{{ t('planSheet.namesOfClipsWithoutEnding') }}</label>
        <InputText
          id="names"
          v-model="draft.names"
          class="field mono"
          :placeholder="t('planSheet.asOnTheCard')"
          data-names-template
        />
        <p class="ready">
          <button
            v-for="[text, words] in NAMES"
            :key="text"
            type="button"
            class="link"
            @click="draft.names = text"
          >
            {{ words }}
          </button>
        </p>
      </div>
      <NumberField v-model="start" :label="t('planSheet.numbersFrom')" /><label
        >{{ t('planSheet.rollPrefix') }}
        <InputText v-model="draft.roll_prefix" class="field short" :placeholder="t('planSheet.letter')"
      /></label>
      <NumberField v-model="digits" :label="t('planSheet.rollDigits')" :min="2" :max="6" />
      <NumberField v-model="firstRoll" :label="t('planSheet.firstRoll')" :min="1" />
      <label
        >{{ t('planSheet.job') }}
        <InputText v-model="draft.job" class="field mid" aria-describedby="what-words-are" data-job
      /></label>
      <label
        >{{ t('planSheet.fleet') }}
        <InputText v-model="draft.fleet" class="field mid" aria-describedby="what-words-are"
      /></label>
      <label
        >{{ t('planSheet.text') }}
        <InputText v-model="draft.text" class="field mid" aria-describedby="what-words-are"
      /></label>
      <p id="what-words-are" class="wide soft">
        {{ t('planSheet.wordsForFoldersAndNames') }}
      </p>
      <ChooseOne
        v-model="draft.algorithm"
        :label="t('planSheet.checksum')"
        :options="algorithms"
        data-checksum
      />
      <fieldset class="wide" data-more-checksums>
        <legend>{{ t('planSheet.takenInTheSameReading') }}</legend>
        <label v-for="one in setup.algorithms.filter((a) => a !== draft.algorithm)" :key="one" class="ticked">
          <Checkbox v-model="draft.more_algorithms" :value="one" /> {{ one }}
        </label>
        <label class="ticked"
          ><Checkbox v-model="draft.read_twice" binary /> {{ t('planSheet.readCardsTwice') }}</label
        >
        <label class="ticked"
          ><Checkbox v-model="draft.release_after" binary data-release-after />
          {{ t('planSheet.letCardsGo') }}</label
        >
        <label class="ticked"
          ><Checkbox v-model="draft.decodes" binary data-decodes /> {{ t('planSheet.decodes') }}</label
        >
      </fieldset>
      <fieldset class="wide">
        <legend>{{ t('planSheet.stores') }}</legend>
        <label v-for="store in offered" :key="store.name" class="ticked">
          <Checkbox v-model="draft.stores" :value="store.name" />
          {{ store.name }}<span v-if="store.lost" class="trouble">{{ t('planSheet.reportedLost') }}</span>
        </label>
        <ul class="soon">
          <FullSoon :of="draft.stores" />
        </ul>
      </fieldset>
      <label class="ticked wide">
        <Checkbox v-model="draft.mend_names" binary data-mend /> {{ t('planSheet.mendNamesThatAStore') }}
      </label>
      <label class="ticked wide">
        <Checkbox v-model="draft.sidecars" binary /> {{ t('planSheet.writeSidecarsXmpBesideThe') }}
      </label>
      <label class="ticked wide">
        <Checkbox v-model="draft.mhl" binary data-mhl /> {{ t('planSheet.mhl') }}
      </label>
      <label class="wide"
        >{{ t('planSheet.after') }}
        <InputText
          v-model="draft.after_program"
          class="field mid"
          maxlength="80"
          aria-describedby="where-programs-are"
          data-after
      /></label>
      <p id="where-programs-are" class="wide soft">{{ t('planSheet.afterWhere') }}</p>
      <template v-if="draft.sidecars">
        <label>{{ t('planSheet.creator') }} <InputText v-model="draft.creator" class="field mid" /></label>
        <label>{{ t('planSheet.rights') }} <InputText v-model="draft.rights" class="field mid" /></label>
        <WordsField v-model="draft.keywords" class="wide" :label="t('planSheet.keywords')" />
      </template>
      <p class="wide">
        <ActButton
          type="submit"
          :label="t('planSheet.savePlan')"
          data-save-plan
          :why-not="whyNot('plan')"
          :busy="save.isPending.value"
        />
        <SaidNo :error="save.error.value" />
      </p>
    </div>
    <div class="made" aria-live="polite" data-example>
      <h3>{{ out?.card ? t('planSheet.onCard', { card: out.card }) : t('planSheet.onARealCard') }}</h3>
      <p v-if="out?.trouble" class="trouble" data-example-trouble>{{ out.trouble }}</p>
      <NamesPreview v-else-if="out?.names" :names="out.names" :folder="out.folder" open />
      <p v-else class="soft">{{ t('planSheet.noCardOfThisPlans') }}</p>
      <details>
        <summary>{{ t('planSheet.fields') }}</summary>
        <dl>
          <template v-for="field in setup.fields" :key="field.name">
            <dt>
              <code>{{ '{' + field.name + '}' }}</code>
            </dt>
            <dd>{{ field.words }}{{ field.of_clip ? ` ${t('planSheet.namesOnly')}` : '' }}</dd>
          </template>
        </dl>
        <p class="soft">
          <I18nT keypath="planSheet.digitsAndCase" scope="global">
            <template #digits><code>{number:4}</code></template>
            <template #lower><code>{camera:lower}</code></template>
          </I18nT>
        </p>
      </details>
    </div>
  </form>
</template>

<style scoped>
.sheet {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--space-5) var(--space-8);
  margin-top: var(--space-3);
}
.write {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-4);
  align-content: start;
}
.wide {
  width: 100%;
}
.write label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
.write .wide > .field,
.write label.wide .field {
  width: 100%;
}
.mono {
  font-family: var(--mono);
  font-size: var(--type-body);
}
.short {
  width: 4.75rem;
}
.mid {
  width: 9.5rem;
}
fieldset {
  border: var(--line-thin) solid var(--hair);
  padding: var(--space-1) var(--space-3) var(--space-2);
}
.ticked {
  min-height: 2rem;
  margin-right: var(--space-4);
}
.made {
  border-left: var(--line-bar) solid var(--ink);
  padding-left: var(--space-4);
  min-width: 0;
  overflow-x: auto;
}
dl {
  display: grid;
  grid-template-columns: 7rem 1fr;
  gap: var(--space-half) var(--space-2);
}
summary {
  cursor: pointer;
  margin-top: var(--space-2);
}
@media (--tablet) {
  .sheet {
    grid-template-columns: 1fr;
  }
}
</style>
