<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { age } from '../../words/times'

/** Things that are handed over, by what they are about; some can be taken over one by one. */
const props = defineProps<{
  matters: readonly (Shapes['MatterOut'] | Shapes['StandsOut'])[]
  /** Say who took each over. */
  accepted?: boolean
}>()
defineEmits<{ take: [id: number] }>()
const { whyNot } = useWho()
const KINDS = ['wrong', 'runs', 'waits', 'card', 'note', 'words'] as const
const groups = computed(() =>
  KINDS.map((kind) => ({ kind, matters: props.matters.filter((one) => one.kind === kind) })).filter(
    (group) => group.matters.length,
  ),
)
const given = (one: Shapes['MatterOut'] | Shapes['StandsOut']) => ('id' in one ? one : undefined)
</script>

<template>
  <dl>
    <template v-for="group in groups" :key="group.kind">
      <dt :class="{ trouble: group.kind === 'wrong' }">{{ t(`matters.${group.kind}`) }}</dt>
      <dd>
        <ul>
          <li v-for="(one, n) in group.matters" :key="given(one)?.id ?? n" data-matter>
            <span>{{ one.sentence }}</span>
            <template v-if="given(one)">
              <span class="soft">{{
                t('handover.from', { by: given(one)!.by, age: age(given(one)!.at) })
              }}</span>
              <span v-if="accepted">{{
                given(one)!.accepted_at
                  ? t('handover.takenBy', {
                      by: given(one)!.accepted_by,
                      age: age(given(one)!.accepted_at!),
                    })
                  : t('handover.notTaken')
              }}</span>
              <ActButton
                v-else
                type="button"
                link
                :label="t('handover.take')"
                :why-not="whyNot('hand_over') ?? (given(one)!.yours ? t('handover.yours') : undefined)"
                @press="$emit('take', given(one)!.id)"
              />
            </template>
          </li>
        </ul>
      </dd>
    </template>
  </dl>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 11rem 1fr;
  gap: var(--space-2) var(--space-4);
  margin: var(--space-3) 0;
}
dt {
  font-weight: 700;
}
dd {
  margin: 0;
}
ul {
  margin: 0;
  padding: 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: var(--space-1) var(--space-5);
  align-items: baseline;
  padding: var(--space-half) 0;
}
@media (--upright) {
  dl,
  li {
    grid-template-columns: 1fr;
  }
}
</style>
