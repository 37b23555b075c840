<script setup lang="ts">
import Button from 'primevue/button'
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import MultiSelect from 'primevue/multiselect'
import Select from 'primevue/select'
import Skeleton from 'primevue/skeleton'
import Slider from 'primevue/slider'
import ToggleSwitch from 'primevue/toggleswitch'
import { ref } from 'vue'
import Accordion from 'primevue/accordion'
import SelectButton from 'primevue/selectbutton'
import ActButton from '../parts/ActButton.vue'
import ChooseOne from '../parts/ChooseOne.vue'
import DayField from '../parts/DayField.vue'
import NumberField from '../parts/NumberField.vue'
import SaidNo from '../parts/SaidNo.vue'
import SetUpPart from '../parts/SetUpPart.vue'
import WordsField from '../parts/WordsField.vue'
import ZoneField from '../parts/ZoneField.vue'
import MaskedField from '../parts/MaskedField.vue'
import BoxDialog from '../shell/BoxDialog.vue'
import { otherTheme } from './choices'

/** Every part in every state, for whoever changes the theme; the tests look at it in both themes. */
const tides = [
  { name: 'ebb', value: 'ebb' },
  { name: 'slack water', value: 'slack' },
  { name: 'flood', value: 'flood' },
]
const one = ref('slack')
const some = ref(['ebb', 'flood'])
const text = ref('Skerrow Creek')
const count = ref(3)
const place = ref(30)
const day = ref('2026-05-14')
const zone = ref('Europe/London')
const words = ref(['mud', 'rope'])
const shown = ref(false)
</script>

<template>
  <main class="place">
    <h1>Parts</h1>
    <p><Button class="act quiet small" label="The other theme" data-theme-turn @click="otherTheme" /></p>
    <h2>Acts</h2>
    <p class="line" data-part-of="button">
      <Button class="act" label="The one act" />
      <Button class="act" label="May not go" disabled />
      <Button class="act quiet" label="Another act" />
      <Button class="act quiet small" label="In a row" />
      <Button class="act quiet small" label="Not now" disabled />
      <button type="button" class="link">A lesser act</button>
      <button type="button" class="pick" aria-pressed="false">one way</button>
      <button type="button" class="pick" aria-pressed="true">the way that is taken</button>
    </p>
    <p class="line" data-part-of="actbutton">
      <ActButton type="button" label="May be pressed" />
      <ActButton
        type="button"
        label="Off, and says why"
        why-not="The tide is out: the barge lies on the mud."
      />
      <ActButton type="button" label="Being done" busy />
      <ActButton type="button" link label="A lesser act, off" why-not="Nobody is on the bank." />
    </p>
    <h2>One way of a few</h2>
    <p data-part-of="selectbutton">
      <SelectButton
        v-model="one"
        :options="tides"
        option-label="name"
        option-value="value"
        :allow-empty="false"
        aria-label="Tide, one way"
      />
    </p>
    <h2>Fields</h2>
    <p class="line" data-part-of="inputtext">
      <label>Empty <InputText class="field" placeholder="as on the card" /></label>
      <label>Filled <InputText v-model="text" class="field" /></label>
      <label>Not to be changed <InputText v-model="text" class="field" disabled /></label>
    </p>
    <h2>One of several</h2>
    <p class="line" data-part-of="select">
      <ChooseOne v-model="one" label="Tide" :options="tides" />
      <ChooseOne v-model="one" label="Not to be changed" :options="tides" disabled />
      <Select :options="tides" option-label="name" placeholder="nothing yet" aria-label="Nothing chosen" />
    </p>
    <h2>Some of several</h2>
    <p class="line" data-part-of="multiselect">
      <MultiSelect
        v-model="some"
        :options="tides"
        option-label="name"
        option-value="value"
        :show-toggle-all="false"
        aria-label="Tides"
      />
      <MultiSelect
        v-model="some"
        :options="tides"
        option-label="name"
        option-value="value"
        disabled
        aria-label="Tides, not to be changed"
      />
    </p>
    <h2>On and off</h2>
    <p class="line" data-part-of="checkbox">
      <label class="ticked"><Checkbox :model-value="false" binary /> off</label>
      <label class="ticked"><Checkbox :model-value="true" binary /> on</label>
      <label class="ticked"><Checkbox :model-value="true" binary disabled /> not to be changed</label>
      <label class="ticked"><ToggleSwitch :model-value="false" /> off</label>
      <label class="ticked"><ToggleSwitch :model-value="true" /> on</label>
      <label class="ticked"><ToggleSwitch :model-value="true" disabled /> not to be changed</label>
    </p>
    <h2>What will come</h2>
    <div data-part-of="skeleton"><Skeleton /><Skeleton /></div>
    <h2>A place in a length</h2>
    <div data-part-of="slider"><Slider v-model="place" aria-label="A place" /></div>
    <h2>Times as they are typed</h2>
    <p class="line" data-part-of="inputmask">
      <label>Day <MaskedField model-value="2026-05-14" mask="9999-99-99" /></label>
    </p>
    <h2>Numbers, days, places, words</h2>
    <p class="line" data-part-of="inputnumber">
      <NumberField v-model="count" label="Volunteers" :max="40" />
      <NumberField v-model="count" label="Not to be changed" disabled />
      <DayField v-model="day" label="Launch" />
      <ZoneField v-model="zone" label="Time zone" />
      <WordsField v-model="words" label="Words" />
    </p>
    <h2>Parts that open</h2>
    <div data-part-of="accordion">
      <Accordion multiple :value="['hull']">
        <SetUpPart part="hull" title="Hull" stands="three planks are new">What is under it.</SetUpPart>
        <SetUpPart part="mast" title="Mast" stands="stands in the yard">What is under it.</SetUpPart>
      </Accordion>
    </div>
    <h2>A refusal</h2>
    <SaidNo
      :error="{ message: 'The lock is shut until the tide is in. Nothing was moved; try again at six.' }"
    />
    <h2>A question over the screen</h2>
    <p><Button class="act quiet" label="Ask" data-ask @click="shown = true" /></p>
    <BoxDialog v-model:visible="shown" title="Is the barge afloat?">
      <p class="line">
        <Button class="act" label="She floats" autofocus @click="shown = false" />
        <Button class="act quiet" label="Not yet" @click="shown = false" />
      </p>
    </BoxDialog>
    <h2>Sentences</h2>
    <p>What is so.</p>
    <p class="soft">What stands beside it.</p>
    <p class="trouble">What is not safe, and what to do.</p>
    <p><code>xxh128 508dfe34b9964a8111e0a1fb71643ce2</code></p>
  </main>
</template>

<style scoped>
h2 {
  margin: var(--space-6) 0 var(--space-2);
}
</style>
