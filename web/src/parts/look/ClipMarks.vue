<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import { useMarkClip, useTakeMarkBack } from '../../api/acts/choosing'
import { useChoosing } from '../../api/queries/useChoosing'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { age } from '../../words/times'
import ActButton from '../ActButton.vue'
import ChooseOne from '../ChooseOne.vue'
import SaidNo from '../SaidNo.vue'
import { MARK_WORDS, TROUBLES, type MarkKind } from './markWords'

/** What people say of one clip, and how to say it: by a key each, trouble with a place and a few words. */
const props = defineProps<{
  tag: string
  path: string
  /** Where the player stands, as timecode; what is said now is of that place. */
  standing: string
}>()
const { me, whyNot } = useWho()
const choosing = useChoosing(() => props.tag)
const said = computed(() => choosing.data.value?.marks.filter((one) => one.path === props.path) ?? [])
const contested = computed(() => choosing.data.value?.contested.includes(props.path) ?? false)
const mark = useMarkClip()
const back = useTakeMarkBack()
const mine = (kind: MarkKind) => said.value.find((one) => one.kind === kind && one.username === me.username)

const telling = ref(false)
const trouble = ref<MarkKind>('soft')
const form = useTemplateRef('form')
watch(telling, async (now) => {
  if (now && !timecode.value) timecode.value = props.standing
  await nextTick()
  if (now) form.value?.querySelector<HTMLElement>('[role=combobox]')?.focus()
})
const words = ref('')
const timecode = ref('')
watch(
  () => props.path,
  () => {
    telling.value = false
    words.value = timecode.value = ''
  },
)

/** Said again, it is taken back. */
function say(kind: MarkKind) {
  if (whyNot('note')) return
  const now = mine(kind)
  if (now) back.mutate(now.id)
  else mark.mutate({ tag: props.tag, path: props.path, kind, words: '', timecode: '' })
}
const keep = () =>
  mark.mutate(
    { tag: props.tag, path: props.path, kind: trouble.value, words: words.value, timecode: timecode.value },
    {
      onSuccess: () => {
        telling.value = false
        words.value = timecode.value = ''
      },
    },
  )
const KEYS: Record<string, () => void> = {
  k: () => say('keep'),
  d: () => say('drop'),
  l: () => say('seen'),
  m: () => {
    telling.value = !whyNot('note')
  },
}
function press(event: KeyboardEvent): boolean {
  const act = KEYS[event.key.toLowerCase()]
  if (!act || (event.target as HTMLElement).matches('input, [role=combobox]')) return false
  act()
  return true
}
defineExpose({ press })
</script>

<template>
  <section class="marks" :aria-label="t('clipMarks.title')" data-marks>
    <p class="acts">
      <ActButton
        v-for="kind in ['keep', 'drop', 'seen'] as const"
        :key="kind"
        class="quiet small"
        :label="MARK_WORDS[kind]"
        :aria-pressed="Boolean(mine(kind))"
        :why-not="whyNot('note')"
        :data-mark="kind"
        @press="say(kind)"
      />
      <ActButton
        class="quiet small"
        :label="t('clipMarks.trouble')"
        :aria-expanded="telling"
        :why-not="whyNot('note')"
        data-tell-trouble
        @press="telling = !telling"
      />
      <span class="soft">{{ t('clipMarks.keys') }}</span>
    </p>
    <form v-if="telling" ref="form" class="line" data-trouble @submit.prevent="keep">
      <ChooseOne
        v-model="trouble"
        :label="t('clipMarks.what')"
        :options="TROUBLES.map((kind) => ({ name: MARK_WORDS[kind], value: kind }))"
      />
      <label
        >{{ t('clipMarks.at') }}
        <InputText v-model="timecode" class="field at" placeholder="10:04:07:12" data-trouble-at
      /></label>
      <label>{{ t('clipMarks.words') }} <InputText v-model="words" class="field" data-trouble-words /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('clipMarks.mark')"
        :why-not="trouble === 'other' && !words.trim() ? t('clipMarks.sayIt') : undefined"
        :busy="mark.isPending.value"
        data-keep-trouble
      />
    </form>
    <p v-if="contested" class="trouble" data-contested>{{ t('clipMarks.contested') }}</p>
    <ul v-if="said.length">
      <li v-for="one in said" :key="one.id" data-said>
        <b>{{ MARK_WORDS[one.kind] }}</b>
        <span v-if="one.timecode" class="tag">{{ one.timecode }}</span>
        <span v-if="one.words">{{ one.words }}</span>
        <span class="soft">{{ one.by }}, {{ age(one.at) }}</span>
        <ActButton
          link
          :label="t('clipMarks.takeBack')"
          :why-not="one.username === me.username ? whyNot('note') : whyNot('set_up')"
          @press="back.mutate(one.id)"
        />
      </li>
    </ul>
    <SaidNo :error="mark.error.value ?? back.error.value" />
  </section>
</template>

<style scoped>
.acts,
li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-3);
  align-items: baseline;
}
ul {
  margin: var(--space-2) 0 0;
  padding: 0;
  list-style: none;
}
.at {
  width: 8rem;
}
form {
  margin: var(--space-2) 0;
}
:deep([aria-pressed='true']) {
  text-decoration: underline;
  text-decoration-thickness: var(--line-bold);
  text-underline-offset: var(--space-1);
}
</style>
