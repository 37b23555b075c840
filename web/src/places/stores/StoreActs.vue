<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { ref, watch } from 'vue'
import { useChangeStore, useKeepPackages, useRetireStore, useStoreAgain } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import SayIt from '../../parts/SayIt.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** What a store is called, whether it is a landing area or keeps copies read-only, and whether it is in service. */
const props = defineProps<{ store: Shapes['StoreOut'] }>()
const { may, whyNot } = useWho()
const change = useChangeStore()
const retire = useRetireStore()
const again = useStoreAgain()
const packages = useKeepPackages()
const open = ref(false)
const name = ref('')
const landing = ref(false)
const seals = ref(false)
watch(open, () => {
  name.value = props.store.name
  landing.value = props.store.landing
  seals.value = props.store.seals
})
const go = () =>
  name.value.trim() &&
  change.mutate(
    { store: props.store.name, name: name.value, landing: landing.value, seals: seals.value },
    { onSuccess: () => (open.value = false) },
  )
</script>

<template>
  <div class="line" :data-acts="store.name">
    <ActButton
      type="button"
      link
      :label="t('storeActs.change')"
      :aria-expanded="open"
      :why-not="whyNot('keep_stores')"
      :data-change-store="store.name"
      @press="open = !open"
    />
    <ActButton
      v-if="store.retired"
      type="button"
      link
      :label="t('storeActs.again')"
      :why-not="whyNot('keep_stores')"
      :busy="again.isPending.value"
      :data-use-again="store.name"
      @press="again.mutate(store.name)"
    />
    <SayIt
      v-else
      name="retire"
      :act="t('storeActs.retire')"
      :ask="t('storeActs.why')"
      :go="t('storeActs.goRetire')"
      :why-not="whyNot('keep_stores')"
      :busy="retire.isPending.value"
      :error="retire.error.value"
      @say="
        (reason: string, done: () => void) =>
          retire.mutate({ store: store.name, reason }, { onSuccess: done })
      "
    />
    <ActButton
      v-if="store.kind === 'folder' && !store.landing && !store.retired"
      type="button"
      link
      :label="t('storeActs.packages')"
      :why-not="whyNot('keep_stores')"
      :busy="packages.isPending.value"
      :data-keep-packages="store.name"
      @press="packages.mutate(store.name)"
    />
    <RouterLink
      v-if="may('make_room') && !store.lost && store.kind !== 'packages'"
      :to="{ path: '/room', query: { store: store.name } }"
      :data-make-room="store.name"
      >{{ t('storeActs.makeRoom') }}</RouterLink
    >
    <form v-if="open" class="line wide" @submit.prevent="go()">
      <label>{{ t('storeActs.name') }} <InputText v-model="name" class="field" data-new-name /></label>
      <label v-if="store.kind !== 'packages'" class="ticked"
        ><Checkbox v-model="landing" binary data-landing /> {{ t('storeActs.landing') }}</label
      >
      <label
        v-if="store.kind === 'folder' || store.kind === 'objects' || store.kind === 'packages'"
        class="ticked"
        ><Checkbox v-model="seals" binary data-seals /> {{ t('storeActs.seals') }}</label
      >
      <ActButton
        class="quiet small"
        type="submit"
        :label="t('storeActs.go')"
        :why-not="name.trim() ? undefined : t('storeActs.sayName')"
        :busy="change.isPending.value"
        data-change-go
      />
    </form>
    <SaidNo :error="change.error.value ?? again.error.value ?? packages.error.value" />
  </div>
</template>

<style scoped>
.wide {
  width: 100%;
}
</style>
