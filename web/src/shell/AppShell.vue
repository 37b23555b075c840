<script setup lang="ts">
import { computed, nextTick, provide, ref, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Shapes } from '../api/client'
import { liveConnected, useLive } from '../api/live'
import { askScan } from '../api/queries/askScan'
import { HERE } from '../api/here'
import { seesWork } from '../api/seen'
import { PLACES, opens, placesOf, titleOf } from '../router'
import { muted, otherTheme } from '../theme/choices'
import { useAges } from '../words/times'
import { useBells } from './bells'
import { useKeys, useShortcuts } from './keys'
import { ME, standingHere } from './me'
import { sessionEnded } from './session'
import AccountBox from './AccountBox.vue'
import WhoActs from './WhoActs.vue'
import HubDrawer from './HubDrawer.vue'
import KeysHelp from './KeysHelp.vue'
import PlacesBar from './PlacesBar.vue'
import StationsAway from './StationsAway.vue'
import WhoIsHere from './WhoIsHere.vue'
import WhereIs from './WhereIs.vue'
import WaterLine from './WaterLine.vue'
import { t } from '../words/say'

const props = defineProps<{ me: Shapes['Me'] }>()
provide(ME, props.me)
seesWork.value = standingHere(props.me)?.may.includes('see_work') ?? false
useLive()
useAges()
useBells()
const helpShown = ref(false)
const whereShown = ref(false)
const accountShown = ref(false)
const hereShown = ref(false)
const router = useRouter()
useShortcuts({
  '?': () => (helpShown.value = true),
  '/': () => (whereShown.value = true),
  n: otherTheme,
  m: () => (muted.value = !muted.value),
  ...Object.fromEntries(PLACES.map((place) => [place.key, () => router.push(place.path)])),
})
/** Each page has its title, and what is typed after going there is meant for it. */
const route = useRoute()
const above = useTemplateRef('above')
watch(
  () => route.path,
  async (path, before) => {
    const production = props.me.productions.find((one) => one.slug === HERE)?.name ?? 'Rugged Raft'
    document.title = titleOf(path, production)
    await nextTick()
    if (before !== undefined) above.value?.focus()
  },
  { immediate: true },
)
/** A place that is not for whoever is signed in is never shown, so that it asks for nothing. */
const may = standingHere(props.me)?.may ?? []
const forMe = computed(() => opens(route.path, may))
watch(forMe, (mine) => !mine && void router.replace(placesOf(may)[0]?.path ?? '/tally'), { immediate: true })
const unknown = ref('')
const scannedLast = ref('')
/** A scanned code leads to its card, its roll or its drive, from any screen. */
useKeys(async (code) => {
  unknown.value = ''
  scannedLast.value = code
  const found = await askScan(code).catch(() => undefined)
  if (found?.card && route.path.startsWith('/cards'))
    await router.push(`/cards/${encodeURIComponent(found.card)}`)
  else if (found?.card) await router.push({ path: '/clearing', query: { card: found.card } })
  else if (found?.roll) await router.push(`/tally/${encodeURIComponent(found.roll)}`)
  else if (found?.store) await router.push({ path: '/stores', query: { store: found.store } })
  else
    unknown.value = found
      ? t('appShell.nothingHereIsCalled', { code })
      : t('appShell.couldNotBeLookedUp', { code })
})
</script>

<template>
  <div class="shell">
    <PlacesBar
      :me="me"
      @help="helpShown = true"
      @where="whereShown = true"
      @account="accountShown = true"
      @here="hereShown = true"
    />
    <div ref="above" class="above" :class="{ old: !liveConnected && !sessionEnded }" tabindex="-1">
      <p v-if="unknown" role="alert" class="place trouble" data-unknown>
        {{ unknown }}
        <RouterLink
          v-if="opens('/find', may)"
          :to="{ path: '/find', query: { text: scannedLast } }"
          data-find-scanned
          @click="unknown = ''"
          >{{ t('whereIs.findMore') }}</RouterLink
        >
        <button type="button" class="link" @click="unknown = ''">{{ t('appShell.close') }}</button>
      </p>
      <StationsAway />
      <RouterView v-if="forMe" />
    </div>
    <WaterLine />
    <HubDrawer v-if="me.standins" />
    <AccountBox v-if="!me.screen" v-model:visible="accountShown" />
    <WhoActs v-if="me.screen" />
    <WhereIs v-model:visible="whereShown" />
    <WhoIsHere v-model:visible="hereShown" />
    <KeysHelp v-model:visible="helpShown" />
  </div>
</template>

<style scoped>
.shell {
  display: grid;
  grid-template-rows: auto 1fr auto;
  height: 100%;
}
.above {
  overflow-y: auto;
  outline: none;
}
</style>
