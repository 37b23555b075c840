<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref } from 'vue'
import { useSavePlan } from '../../api/acts/setup'
import type { Shapes } from '../../api/client'
import { usePlanExample } from '../../api/queries'
import { useWho } from '../../shell/me'
import ChooseOne from '../../parts/ChooseOne.vue'
import NamesPreview from '../bench/NamesPreview.vue'

/** A plan as it is written, beside what it makes of a real card. */
const props = defineProps<{ plan: Shapes['PlanIn'] & { id?: number }; setup: Shapes['SetUpOut'] }>()
const emit = defineEmits<{ saved: [] }>()
const { may } = useWho()
const algorithms = computed(() => props.setup.algorithms.map((name) => ({ name, value: name })))
const draft = reactive({
  ...props.plan,
  keywords: [...(props.plan.keywords ?? [])],
  stores: [...(props.plan.stores ?? [])],
  more_algorithms: [...(props.plan.more_algorithms ?? [])],
  read_twice: props.plan.read_twice ?? false,
})
const numbers = reactive({
  start: String(draft.start),
  roll_digits: String(draft.roll_digits),
  roll_start: String(draft.roll_start),
})
const keywords = ref(draft.keywords.join(', '))
const offered = computed(() =>
  props.setup.stores.filter((store) => !store.lost || props.plan.stores?.includes(store.name)),
)
const whole = computed<Shapes['PlanIn']>(() => ({
  ...draft,
  start: Number(numbers.start),
  roll_digits: Number(numbers.roll_digits),
  roll_start: Number(numbers.roll_start),
  stores: [...draft.stores],
  keywords: keywords.value
    .split(',')
    .map((word) => word.trim())
    .filter(Boolean),
}))
const settled = refDebounced(whole, 250)
const example = usePlanExample(() => props.plan.id ?? props.setup.plans[0]?.id ?? 0, settled)
const save = useSavePlan()
const go = () => save.mutate({ id: props.plan.id, ...whole.value }, { onSuccess: () => emit('saved') })
const NAMES = [
  ['', 'as on the card'],
  ['{roll}_{name}', 'roll before the name'],
  ['{date}_{roll}_{name}', 'dated'],
  ['{roll}_{number:4}_{counter}', 'renumbered'],
  ['{shot:3}/{camera}_{name}', 'a folder a shot'],
] as const
const FOLDERS = [
  ['{production}/{date}/{roll}', 'a folder a roll'],
  ['{year}/{month}/{day}/{roll}', 'years, months, days'],
  ['{fleet}/{job}/{roll}', 'fleet and job'],
  ['{production}/{date}', 'a folder a day'],
] as const
const out = computed(() => example.data.value)
</script>

<template>
  <form class="sheet" data-plan-sheet @submit.prevent="go()">
    <div class="write">
      <label class="wide">Name <InputText v-model="draft.name" class="field" data-plan-name /></label>
      <div class="wide">
        <label for="folder">Folder of a roll</label>
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
        <label for="names">Names of clips, without ending</label>
        <InputText
          id="names"
          v-model="draft.names"
          class="field mono"
          placeholder="as on the card"
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
      <label
        >Numbers from <InputText v-model="numbers.start" class="field short" inputmode="numeric"
      /></label>
      <label
        >Roll prefix <InputText v-model="draft.roll_prefix" class="field short" placeholder="letter"
      /></label>
      <label
        >Roll digits <InputText v-model="numbers.roll_digits" class="field short" inputmode="numeric"
      /></label>
      <label
        >First roll <InputText v-model="numbers.roll_start" class="field short" inputmode="numeric"
      /></label>
      <label
        >Job <InputText v-model="draft.job" class="field mid" aria-describedby="what-words-are" data-job
      /></label>
      <label
        >Fleet <InputText v-model="draft.fleet" class="field mid" aria-describedby="what-words-are"
      /></label>
      <label
        >Text <InputText v-model="draft.text" class="field mid" aria-describedby="what-words-are"
      /></label>
      <p id="what-words-are" class="wide soft">
        Words for folders and names: the job this footage belongs to, the fleet that several jobs sail in (a
        client, a series), and any other text.
      </p>
      <ChooseOne v-model="draft.algorithm" label="Checksum" :options="algorithms" data-checksum />
      <fieldset class="wide" data-more-checksums>
        <legend>Taken in the same reading</legend>
        <label v-for="one in setup.algorithms.filter((a) => a !== draft.algorithm)" :key="one" class="ticked">
          <Checkbox v-model="draft.more_algorithms" :value="one" /> {{ one }}
        </label>
        <label class="ticked"><Checkbox v-model="draft.read_twice" binary /> read cards twice</label>
      </fieldset>
      <fieldset class="wide">
        <legend>Stores</legend>
        <label v-for="store in offered" :key="store.name" class="ticked">
          <Checkbox v-model="draft.stores" :value="store.name" />
          {{ store.name }}<span v-if="store.lost" class="trouble">, reported lost</span>
        </label>
      </fieldset>
      <label class="ticked wide">
        <Checkbox v-model="draft.mend_names" binary data-mend /> mend names that a store cannot hold
      </label>
      <label class="ticked wide">
        <Checkbox v-model="draft.sidecars" binary /> write sidecars (XMP) beside the copies
      </label>
      <template v-if="draft.sidecars">
        <label>Creator <InputText v-model="draft.creator" class="field mid" /></label>
        <label>Rights <InputText v-model="draft.rights" class="field mid" /></label>
        <label class="wide">Keywords, by commas <InputText v-model="keywords" class="field" /></label>
      </template>
      <p class="wide">
        <Button class="act" type="submit" label="Save plan" :disabled="!may('plan')" data-save-plan />
        <span v-if="save.error.value" role="alert" class="trouble">{{ save.error.value.message }}</span>
      </p>
    </div>
    <div class="made" aria-live="polite" data-example>
      <h3>{{ out?.card ? `On card ${out.card}` : 'On a real card' }}</h3>
      <p v-if="out?.trouble" class="trouble" data-example-trouble>{{ out.trouble }}</p>
      <NamesPreview v-else-if="out?.names" :names="out.names" :folder="out.folder" open />
      <p v-else class="soft">No card of this plan’s cameras has been read yet.</p>
      <details>
        <summary>Fields</summary>
        <dl>
          <template v-for="field in setup.fields" :key="field.name">
            <dt>
              <code>{{ '{' + field.name + '}' }}</code>
            </dt>
            <dd>{{ field.words }}{{ field.of_clip ? ' (names only)' : '' }}</dd>
          </template>
        </dl>
        <p class="soft">
          A number may have digits, <code>{number:4}</code>; a word a case, <code>{camera:lower}</code>.
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
