<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { usePeople } from '../api/queries/usePeople'
import { useWho } from '../shell/me'
import { t } from '../words/say'
import { age } from '../words/times'
import ActButton from './ActButton.vue'
import ChooseOne from './ChooseOne.vue'
import SaidNo from './SaidNo.vue'

/** Who has a card or a drive and since when; one tap says that it is me, two that it is somebody else. */
export interface Given {
  username: string
  outside: string
  place: string
  note: string
}
const props = defineProps<{
  /** What it is called. */
  of: string
  holder: string
  since: string | null
  note: string
  /** Where it may be, of a drive; of a card nobody asks. */
  places?: readonly string[]
  place?: string
  busy: boolean
  error: { message: string } | null | undefined
}>()
const emit = defineEmits<{ give: [given: Given, done: () => void] }>()
const { me, whyNot } = useWho()
const people = usePeople()
const giving = ref(false)
const OUTSIDE = '/' // no user name has a slash
const whom = ref(OUTSIDE)
const outside = ref('')
const where = ref('')
const words = ref('')
const choices = computed(() => [
  ...(people.data.value?.people ?? [])
    .filter((one) => one.active)
    .map((one) => ({ name: one.name, value: one.username })),
  { name: t('whoHasIt.outside'), value: OUTSIDE },
])
const wheres = computed(() => [
  { name: t('whoHasIt.whereItIs', { place: props.place ?? '' }), value: '' },
  ...(props.places ?? []).filter((one) => one !== props.place).map((one) => ({ name: one, value: one })),
])
const done = () => {
  giving.value = false
  outside.value = where.value = words.value = ''
}
const say = (username: string, other = '') =>
  emit('give', { username, outside: other, place: where.value, note: words.value }, done)
const give = () => (whom.value === OUTSIDE ? say('', outside.value) : say(whom.value))
const lacking = computed(() =>
  whom.value === OUTSIDE && !outside.value.trim() ? t('whoHasIt.name') : undefined,
)
</script>

<template>
  <div class="who-has-it" :data-custody="of">
    <span role="status" data-holder>
      <strong>{{ holder ? t('whoHasIt.with', { name: holder }) : t('whoHasIt.nobody') }}</strong>
      <span v-if="since && holder" class="soft since">{{ t('whoHasIt.since', { age: age(since) }) }}</span>
      <span v-if="note" class="soft since">“{{ note }}”</span>
    </span>
    <span class="line">
      <ActButton
        v-if="holder !== me.name"
        type="button"
        class="quiet small"
        :label="t('whoHasIt.mine')"
        :why-not="whyNot('carry')"
        :busy="busy"
        data-mine
        @press="say(me.username)"
      />
      <ActButton
        v-if="holder"
        type="button"
        class="quiet small"
        :label="t('whoHasIt.back')"
        :why-not="whyNot('carry')"
        :busy="busy"
        data-back
        @press="say('')"
      />
      <ActButton
        type="button"
        link
        :label="t('whoHasIt.giveTo')"
        :aria-expanded="giving"
        :why-not="whyNot('carry')"
        data-give
        @press="giving = !giving"
      />
    </span>
    <form v-if="giving" class="line" @submit.prevent="give">
      <ChooseOne v-model="whom" :label="t('whoHasIt.whom')" :options="choices" data-whom />
      <label v-if="whom === OUTSIDE"
        >{{ t('whoHasIt.name') }} <InputText v-model="outside" class="field" data-outside
      /></label>
      <ChooseOne v-if="places" v-model="where" :label="t('whoHasIt.where')" :options="wheres" data-where />
      <label>{{ t('whoHasIt.note') }} <InputText v-model="words" class="field" /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('whoHasIt.given')"
        :why-not="lacking"
        :busy="busy"
        data-given
      />
    </form>
    <SaidNo :error="error" />
  </div>
</template>

<style scoped>
.who-has-it {
  display: grid;
  gap: var(--space-1);
  margin: var(--space-1) 0;
}
.since {
  margin-left: var(--space-1h);
}
</style>
