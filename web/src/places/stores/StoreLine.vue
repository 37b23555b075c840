<script setup lang="ts">
import { computed } from 'vue'
import { useCarryStore } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { bytes } from '../../words/units'
import ServerLine from './ServerLine.vue'

/** A store: what room is left as a bar of its own length, where it is, in whose bag; and what if it dies. */
const props = defineProps<{
  store: Shapes['StoreOut']
  people: readonly Shapes['PersonOut'][]
  asked: boolean
}>()
defineEmits<{ ask: [] }>()
const { may } = useWho()
const carry = useCarryStore()
/** No user name has a slash. */
const NOBODY = '/'
const carriers = computed(() => [
  { name: t('storeLine.nobody'), value: NOBODY },
  ...props.people.filter((one) => one.active).map((one) => ({ name: one.name, value: one.username })),
])
const full = computed(() => {
  const { free, total } = props.store
  return total ? Math.round(100 - (100 * free) / total) : 0
})
const room = computed(() => {
  const one = props.store
  if (one.lost) return t('storeLine.lost')
  if (!one.online) return t('storeLine.notConnected')
  if (one.unbounded) return t('storeLine.unbounded')
  return t('storeLine.free', { free: bytes(one.free), total: bytes(one.total) })
})
const place = computed(() =>
  [props.store.location, props.store.medium, props.store.offsite ? t('storeLine.offsite') : '']
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
  <li :data-store="store.name" :class="{ lost: store.lost }">
    <span class="tag">{{ store.name }}</span>
    <span>
      {{ room }}
      <span
        v-if="store.total && store.online && !store.lost && !store.unbounded"
        class="bar"
        aria-hidden="true"
        ><span :style="{ width: `${full}%` }"
      /></span>
      <span v-if="store.trouble && !store.lost" class="trouble" data-trouble>{{ store.trouble }}</span>
    </span>
    <span class="soft"
      >{{ place }}<span v-if="!store.counts" class="trouble"> {{ t('storeLine.neverCounts') }}</span></span
    >
    <ChooseOne
      :model-value="store.carried_by || NOBODY"
      :label="t('storeLine.carriedBy')"
      :options="carriers"
      :disabled="!may('report_loss')"
      :data-carrier="store.name"
      @update:model-value="
        (username: string) =>
          carry.mutate({ store: store.name, username: username === NOBODY ? '' : username })
      "
    />
    <button
      type="button"
      class="pick"
      :aria-pressed="asked"
      :data-if-device="store.device"
      @click="$emit('ask')"
    >
      {{ t('storeLine.dies') }}
    </button>
    <SaidNo :error="carry.error.value" />
    <ServerLine v-if="store.server" :store="store" />
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 11rem 1.2fr 1fr auto auto;
  gap: var(--space-1) var(--space-4);
  align-items: center;
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.tag {
  font-size: var(--type-tag);
}
.lost .tag {
  text-decoration: line-through;
}
.bar {
  display: block;
  height: 0.5rem;
  border: var(--line-thin) solid var(--ink);
}
.bar span {
  display: block;
  height: 100%;
  background: var(--ink);
}
@media (--tablet) {
  li {
    grid-template-columns: 1fr;
    justify-items: start;
  }
  .bar {
    width: 60vw;
  }
}
</style>
