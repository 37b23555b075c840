<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useReportFound, useReportLoss } from '../../api/acts/copies'
import { useChooseBackups, usePlaceStore, useShareStore, useStateDevice } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import { HERE } from '../../api/here'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { sayWhy, useWho } from '../../shell/me'
import { t } from '../../words/say'
import { age } from '../../words/times'
import { bytes } from '../../words/units'

/** A store: where it is, what it stands on, whether it is there; and what can be said of it. */
const props = defineProps<{ store: Shapes['StoreOut'] }>()
const { me, whyNot } = useWho()
const saying = ref<'place' | 'loss' | 'device'>()
const place = ref(props.store.location)
const offsite = ref(props.store.offsite)
const standsOn = ref('')
const reason = ref('')
const move = usePlaceStore()
const lose = useReportLoss()
const find = useReportFound()
const state = useStateDevice()
const keep = useChooseBackups()
const share = useShareStore()
const others = computed(() =>
  me.productions.filter((one) => one.slug !== HERE && !one.closed && one.may.includes('keep_stores')),
)
const refusal = computed(
  () =>
    share.error.value ??
    keep.error.value ??
    move.error.value ??
    lose.error.value ??
    find.error.value ??
    state.error.value,
)
const done = () => {
  saying.value = undefined
  reason.value = ''
}
const turn = (what: 'place' | 'loss' | 'device') => (saying.value = saying.value === what ? undefined : what)
const standing = computed(() => {
  const one = props.store
  if (one.lost) return t('storeRow.lost')
  if (!one.online) return t('storeRow.notConnected', { path: one.path })
  return t('storeRow.there', { path: one.path, free: bytes(one.free), total: bytes(one.total) })
})
</script>

<template>
  <li :data-store-row="store.name">
    <span class="tag">{{ store.name }}</span>
    <span>
      {{ standing }}
      <span class="soft">{{
        t(store.offsite ? 'storeRow.placeOffsite' : 'storeRow.place', {
          place: store.location,
          device: store.device,
        })
      }}</span>
      <span v-if="!store.counts" class="trouble"> {{ t('storeRow.neverCounts') }}</span>
      <span v-if="store.keeps_backups" class="soft" data-backups>
        {{
          store.backed_up_at
            ? t('storeRow.backedUp', { age: age(store.backed_up_at) })
            : t('storeRow.notBackedUpYet')
        }}
      </span>
      <span v-if="store.doubtful" class="trouble" data-doubtful> {{ t('storeRow.doubtful') }}</span>
    </span>
    <span class="line">
      <ActButton
        type="button"
        link
        :label="t('storeRow.itIsElsewhere')"
        :why-not="whyNot('keep_stores')"
        :data-move="store.name"
        @press="turn('place')"
      />
      <ActButton
        v-if="!store.lost"
        type="button"
        link
        :label="t(store.keeps_backups ? 'storeRow.noBackups' : 'storeRow.backups')"
        :why-not="whyNot('set_up')"
        :busy="keep.isPending.value"
        :data-backups-to="store.name"
        @press="keep.mutate({ store: store.name, on: !store.keeps_backups })"
      />
      <ActButton
        v-for="one in others"
        :key="one.slug"
        type="button"
        link
        :label="t('storeRow.useInToo', { production: one.name })"
        :why-not="whyNot('keep_stores')"
        :data-share="one.slug"
        @press="share.mutate({ store: store.name, production: one.slug })"
      />
      <ActButton
        v-if="store.doubtful"
        type="button"
        link
        :label="t('storeRow.sayWhatItStandsOn')"
        :why-not="whyNot('keep_stores')"
        @press="turn('device')"
      />
      <ActButton
        v-if="store.lost"
        type="button"
        class="quiet small"
        :label="t('storeRow.isFound', { store: store.name })"
        :why-not="whyNot('report_loss')"
        :busy="find.isPending.value"
        @press="find.mutate(store.name)"
      />
      <ActButton
        v-else
        type="button"
        link
        :label="t('storeRow.itIsLost')"
        :why-not="whyNot('report_loss')"
        @press="turn('loss')"
      />
    </span>
    <form
      v-if="saying === 'place'"
      class="line wide"
      @submit.prevent="move.mutate({ store: store.name, place, offsite }, { onSuccess: done })"
    >
      <label>{{ t('storeRow.where') }} <InputText v-model="place" class="field" data-place /></label>
      <label class="ticked"><Checkbox v-model="offsite" binary /> {{ t('storeRow.thatIsOffsite') }}</label>
      <ActButton type="submit" class="quiet small" :label="t('storeRow.itIsThere')" />
    </form>
    <form
      v-else-if="saying === 'loss'"
      class="line wide"
      @submit.prevent="lose.mutate({ store: store.name, reason }, { onSuccess: done })"
    >
      <label>{{ t('storeRow.whatHappened') }} <InputText v-model="reason" class="field" /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('storeRow.reportLost', { store: store.name })"
        :why-not="sayWhy(reason)"
      />
    </form>
    <form
      v-else-if="saying === 'device'"
      class="line wide"
      @submit.prevent="state.mutate({ store: store.name, stands_on: standsOn, reason }, { onSuccess: done })"
    >
      <label>{{ t('storeRow.itStandsOn') }} <InputText v-model="standsOn" class="field" /></label>
      <label>{{ t('storeRow.howYouKnow') }} <InputText v-model="reason" class="field" /></label>
      <ActButton type="submit" class="quiet small" :label="t('storeRow.sayIt')" :why-not="sayWhy(reason)" />
    </form>
    <SaidNo class="wide" :error="refusal" />
  </li>
</template>

<style scoped>
.tag {
  font-size: var(--type-lead);
}
</style>
