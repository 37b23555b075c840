<script setup lang="ts">
import { computed } from 'vue'
import { usePassStore } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import AccountLines from '../../parts/AccountLines.vue'
import NoteList from '../../parts/NoteList.vue'
import WhoHasIt from '../../parts/WhoHasIt.vue'
import { fullAbout, rangeOf } from '../../words/foreseen'
import { t } from '../../words/say'
import { bytes } from '../../words/units'
import FoundThere from './FoundThere.vue'
import ServerLine from './ServerLine.vue'
import StoreActs from './StoreActs.vue'
import StoreCare from './StoreCare.vue'
import StoreHolds from './StoreHolds.vue'

/** A store: what room is left as a bar of its own length, where it is, in whose bag; and what if it dies. */
const props = defineProps<{
  store: Shapes['StoreOut']
  room: Shapes['RoomOut'] | undefined
  care: Shapes['CareOut'] | undefined
  /** Every place that is known. */
  places: readonly string[]
  asked: boolean
  /** The address names it. */
  named: boolean
}>()
defineEmits<{ ask: [] }>()
const pass = usePassStore()
const free = computed(() => {
  const one = props.store
  if (one.retired) return t('storeLine.retired')
  if (one.lost) return t('storeLine.lost')
  if (!one.online) return t('storeLine.notConnected')
  if (one.unbounded) return t('storeLine.unbounded')
  return t('storeLine.free', { free: bytes(one.free), total: bytes(one.total) })
})
const place = computed(() =>
  [
    props.store.location,
    props.store.medium,
    props.store.offsite ? t('storeLine.offsite') : '',
    props.store.landing ? t('storeLine.landing') : '',
  ]
    .filter(Boolean)
    .join(', '),
)
</script>

<template>
  <li :data-store="store.name" :class="{ lost: store.lost, named }">
    <span class="tag">{{ store.name }}</span>
    <span>
      {{ free }}
      <strong v-if="room?.foreseen" :class="{ trouble: room.foreseen.soon }" :data-foreseen="store.name">{{
        fullAbout(room.foreseen)
      }}</strong>
      <span v-if="store.trouble && !store.lost" class="trouble" data-trouble>{{ store.trouble }}</span>
    </span>
    <span class="soft"
      >{{ place }}<span v-if="!store.counts" class="trouble"> {{ t('storeLine.neverCounts') }}</span></span
    >
    <WhoHasIt
      v-if="!store.server"
      :of="store.name"
      :holder="store.carrier"
      :since="store.carried_since"
      :note="store.carry_note"
      :places="places"
      :place="store.location"
      :busy="pass.isPending.value"
      :error="pass.error.value"
      @give="(given, done) => pass.mutate({ store: store.name, ...given }, { onSuccess: done })"
    />
    <span v-else></span>
    <button
      type="button"
      class="pick"
      :aria-pressed="asked"
      :data-if-device="store.device"
      @click="$emit('ask')"
    >
      {{ t('storeLine.dies') }}
    </button>
    <div class="below">
      <StoreHolds :store="store" :room="room" />
      <p v-if="room?.foreseen" class="soft range">{{ rangeOf(room.foreseen) }}</p>
      <StoreCare v-if="care" :care="care" />
      <NoteList on="store" :name="store.name" />
      <div class="acts">
        <StoreActs :store="store" />
        <FoundThere :store="store.name" :server="store.server" />
        <AccountLines on="store" :about="store.name" folded />
      </div>
    </div>
    <div v-if="asked" class="below"><slot /></div>
    <ServerLine v-if="store.server" :store="store" />
  </li>
</template>

<style scoped>
li.named {
  box-shadow: inset var(--line-bar) 0 0 var(--ink);
  padding-left: var(--space-3);
}
li {
  display: grid;
  grid-template-columns: 11rem 1.2fr 0.8fr 18rem auto;
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
.below {
  display: grid;
  grid-column: 2 / -1;
  gap: var(--space-1);
}
.range {
  margin: 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-4);
  align-items: baseline;
}
.acts > :deep(:has(form, p)) {
  flex-basis: 100%;
}
@media (--tablet) {
  li {
    grid-template-columns: 1fr;
    justify-items: start;
  }
  .below {
    grid-column: 1;
    width: 100%;
  }
}
</style>
