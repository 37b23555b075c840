<script setup lang="ts">
import Button from 'primevue/button'
import { computed } from 'vue'
import { answered, client, type Shapes } from '../../api/client'
import { useAct } from '../../api/queries'
import PennantMark from '../../marks/PennantMark.vue'
import RaftMark from '../../marks/RaftMark.vue'
import { useWho } from '../../shell/me'
import { age } from '../../words/times'
import WaiveLeft from './WaiveLeft.vue'

/** One card: the answer in letters that can be read from two metres, then why, then what to do. */
const props = defineProps<{ one: Shapes['CaseOut']; scanned: boolean }>()
defineEmits<{ sign: [] }>()
const { may } = useWho()

const VERDICTS: Record<string, string> = {
  cleared: 'CLEAR',
  empty: 'EMPTY',
  'ready to sign': 'SIGN?',
  'waiting for a signature': 'SIGN?',
  'being offloaded': 'WAIT',
}
const verdict = computed(() => VERDICTS[props.one.standing] ?? 'NOT CLEAR')
const toSign = computed(() => verdict.value === 'SIGN?')
const reason = computed(() => {
  if (props.one.standing === 'not offloaded') return `Nothing of its ${props.one.files} files is in any copy.`
  if (props.one.standing === 'being offloaded') return 'It is being offloaded.'
  if (props.one.standing === 'empty') return 'Nothing is on it; it is ready for a camera.'
  if (props.one.cleared_at && props.one.may_go_back)
    return `Cleared ${age(props.one.cleared_at)} by ${props.one.signed_by.join(' and ')}: hand it back, format it in the camera.`
  if (toSign.value)
    return props.one.missing_signatures > 1 || props.one.signed_by.length
      ? `Everything is covered. Signed by ${props.one.signed_by.join(', ') || 'nobody'}; ${props.one.missing_signatures} more must sign.`
      : 'Everything on it is covered. Nobody has signed yet.'
  const [first, ...more] = props.one.blocks.map((block) => block.sentence)
  return `Not clear: ${[first, ...more].join('; ')}.`
})
const named = computed(() =>
  props.one.standing === 'not offloaded' ? [] : props.one.blocks.flatMap((block) => block.paths).slice(0, 5),
)
const read = useAct(
  () =>
    answered(
      client.POST('/api/bench/cards/{card_id}/read', { params: { path: { card_id: props.one.card_id } } }),
    ),
  'clearing',
)
</script>

<template>
  <li
    :data-card="one.label.toUpperCase()"
    :data-standing="one.standing"
    :class="{ scanned, go: one.may_go_back }"
    tabindex="-1"
  >
    <p class="verdict" :class="{ yes: one.may_go_back, no: verdict === 'NOT CLEAR' }">{{ verdict }}</p>
    <p class="who">
      <PennantMark :letter="one.camera.letter" :size="34" /><span class="tag">{{ one.label }}</span>
    </p>
    <div class="what">
      <p>{{ reason }}</p>
      <p v-if="one.remedy.length">To get there: {{ one.remedy.join(', and ') }}.</p>
      <ul v-if="named.length" class="named">
        <li v-for="path in named" :key="path">
          <code>{{ path }}</code>
        </li>
      </ul>
      <WaiveLeft v-if="one.left_in_all" :one="one" />
      <p class="soft">
        <template v-if="one.tag"
          ><RouterLink :to="`/tally/${one.tag}`">Roll {{ one.tag }}</RouterLink
          >.
        </template>
        <template v-if="one.read_at">Card read {{ age(one.read_at) }}</template
        >{{ one.slot ? `, in ${one.slot} now.` : one.read_at ? ', in no reader now.' : '' }}
      </p>
      <p v-if="read.error.value" role="alert" class="trouble">{{ read.error.value.message }}</p>
    </div>
    <RaftMark
      v-if="one.planks.length"
      class="raft"
      :planks="one.planks"
      :needed="one.needed_copies"
      :met="one.met"
      :size="64"
    />
    <div class="acts">
      <Button
        v-if="toSign"
        class="act"
        :label="`Sign ${one.tag}`"
        :disabled="!may('sign')"
        data-sign
        @click="$emit('sign')"
      />
      <Button
        v-if="one.slot && one.standing !== 'being offloaded'"
        class="act quiet small"
        :label="`Read ${one.label} again`"
        :disabled="!may('read_card')"
        @click="read.mutate(undefined)"
      />
    </div>
  </li>
</template>

<style scoped>
li[data-card] {
  display: grid;
  grid-template-columns: 190px 150px 1fr 64px 190px;
  gap: 6px 20px;
  align-items: center;
  padding: 12px 0;
  border-bottom: 1px solid var(--hair);
}
.scanned {
  outline: 4px solid var(--focus);
  outline-offset: 4px;
}
.verdict {
  padding: 4px 10px 2px;
  border: 3px dashed var(--ink);
  font: 700 36px/1.1 var(--tag);
  text-align: center;
  white-space: nowrap;
}
.verdict.yes {
  border: 3px solid var(--safe);
  background: var(--safe);
  color: var(--safe-ink);
}
.verdict.no {
  border: 3px solid var(--trouble);
  color: var(--trouble);
}
.who {
  display: flex;
  gap: 10px;
  align-items: center;
}
.who .tag {
  font-size: 34px;
  white-space: nowrap;
}
.raft {
  grid-column: 4;
}
.acts {
  grid-column: 5;
  display: grid;
  gap: 8px;
  justify-items: end;
}
.named {
  margin: 2px 0;
}
@media (max-width: 900px) {
  li[data-card] {
    grid-template-columns: auto 1fr;
  }
  .what,
  .acts,
  .raft {
    grid-column: 1 / -1;
    justify-items: start;
  }
}
</style>
