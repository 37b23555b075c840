<script setup lang="ts">
import { computed, ref } from 'vue'
import { useWaiveMine } from '../../api/acts/choosing'
import { useChoosing } from '../../api/queries/useChoosing'
import { useRoll } from '../../api/queries/useRoll'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { listed, number, t } from '../../words/say'

/** What choosing from a roll comes to, before anything happens to what somebody dropped. */
const props = defineProps<{ tag: string }>()
const emit = defineEmits<{ open: [path: string] }>()
const { me, whyNot } = useWho()
const choosing = useChoosing(() => props.tag)
const roll = useRoll(() => props.tag)
const choice = computed(() => choosing.data.value?.choice)
const waive = useWaiveMine()
const nameOf = (path: string) => path.split('/').at(-1) ?? path
/** Of what is dropped and not waived, what whoever is signed in dropped. */
const mine = computed(() => {
  const dropped = new Set(choice.value?.dropped)
  const by = (choosing.data.value?.marks ?? []).filter(
    (one) => one.kind === 'drop' && one.username === me.username && dropped.has(one.path),
  )
  return [...new Set(by.map((one) => one.path))].sort()
})
const others = computed(() => (choice.value?.dropped.length ?? 0) - mine.value.length)
const trouble = computed(() =>
  [
    { kind: 'contested', words: t('choice.contested'), paths: choice.value?.contested ?? [] },
    { kind: 'regretted', words: t('choice.regretted'), paths: choice.value?.regretted ?? [] },
  ].filter((one) => one.paths.length),
)
const chosen = computed(() => {
  const one = choice.value
  return one && (one.kept || one.dropped.length || one.contested.length || one.waived.length)
})
const counts = computed(() => {
  const one = choice.value
  if (!one) return ''
  return listed(
    [
      one.kept ? t('choice.kept', {}, one.kept) : '',
      one.dropped.length ? t('choice.dropped', {}, one.dropped.length) : '',
      one.waived.length ? t('choice.waived', {}, one.waived.length) : '',
      one.undecided ? t('choice.undecided', {}, one.undecided) : '',
    ].filter(Boolean),
  )
})
/** What was shown when the first press was refused because the roll is delivered: the second one means it. */
const delivered = computed(() => Boolean(roll.data.value?.delivered_at))
const meant = ref(false)
const label = computed(() =>
  delivered.value && meant.value
    ? t('choice.waiveDelivered', { to: roll.data.value?.delivered_to ?? '' })
    : t('choice.waive', {}, mine.value.length),
)
function press() {
  if (delivered.value && !meant.value) {
    meant.value = true
    return
  }
  waive.mutate(
    { tag: props.tag, seen: mine.value, though_delivered: meant.value },
    { onSettled: () => (meant.value = false) },
  )
}
</script>

<template>
  <section v-if="chosen && choice" class="settling" :aria-label="t('choice.title')" data-choice>
    <p>
      <span data-choice-counts>{{ t('choice.comesTo', { counts }) }}</span>
    </p>
    <p v-for="one in trouble" :key="one.words" class="trouble" :data-trouble-of="one.kind">
      {{ one.words }}
      <ActButton
        v-for="path in one.paths"
        :key="path"
        link
        :label="nameOf(path)"
        @press="emit('open', path)"
      />
    </p>
    <p v-if="mine.length" class="line">
      <ActButton
        class="quiet small"
        :label="label"
        :why-not="whyNot('waive')"
        :busy="waive.isPending.value"
        data-waive-mine
        @press="press()"
      />
      <span class="soft">{{ t('choice.waiveSays') }}</span>
    </p>
    <p v-if="others > 0" class="soft">{{ t('choice.others', { count: number(others) }, others) }}</p>
    <SaidNo :error="waive.error.value" />
  </section>
</template>

<style scoped>
.settling {
  margin-top: var(--space-2);
}
.settling p {
  margin: var(--space-1) 0;
}
</style>
