<script setup lang="ts">
import { computed, ref } from 'vue'
import { useWaiveStretch } from '../../api/acts/clearing'
import type { Shapes } from '../../api/client'
import ChooseOne from '../../parts/ChooseOne.vue'
import SayIt from '../../parts/SayIt.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { counted } from '../../words/units'

/** Files on a card that are in no copy: what is waived by name, and how one file or a stretch of them is. */
const props = defineProps<{ one: Shapes['CaseOut'] }>()
const { whyNot } = useWho()
const waive = useWaiveStretch()
const bare = computed(() =>
  [...new Set(props.one.blocks.flatMap((block) => (block.kind === 'uncovered' ? block.paths : [])))].sort(),
)
const first = ref('')
const last = ref('')
const paths = computed(() => bare.value.map((path) => ({ name: path, value: path })))
const chosen = computed(() => bare.value.filter((path) => path >= first.value && path <= last.value))
const lacking = computed(() =>
  chosen.value.length ? whyNot('waive') : (whyNot('waive') ?? t('waiveStretch.chooseFirst')),
)
const go = (reason: string, done: () => void) =>
  waive.mutate(
    {
      card: props.one.card_id,
      first: first.value,
      last: last.value,
      reason,
      count: chosen.value.length,
      seen: props.one.seen,
    },
    { onSuccess: done },
  )
</script>

<template>
  <section v-if="one.waived_in_all || bare.length" data-waivers>
    <h2>{{ t('waiveStretch.inNoCopy') }}</h2>
    <ul>
      <li v-for="waiver in one.waived" :key="waiver.path">
        <code>{{ waiver.path }}</code>
        {{ t('waiveStretch.waived', { by: waiver.by, reason: waiver.reason }) }}
      </li>
    </ul>
    <div v-if="bare.length" class="line">
      <ChooseOne v-model="first" :label="t('waiveStretch.from')" :options="paths" data-first />
      <ChooseOne v-model="last" :label="t('waiveStretch.to')" :options="paths" data-last />
      <SayIt
        name="waive"
        :act="t('waiveStretch.needNot', { files: counted(chosen.length, 'file') })"
        :ask="t('waiveStretch.why')"
        :go="t('waiveStretch.waive', { files: counted(chosen.length, 'file') })"
        :why-not="lacking"
        :busy="waive.isPending.value"
        :error="waive.error.value"
        @say="go"
      />
    </div>
  </section>
</template>

<style scoped>
h2 {
  margin: var(--space-5) 0 var(--space-2);
}
</style>
