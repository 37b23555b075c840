<script setup lang="ts">
import {
  Bell,
  BellOff,
  CircleHelp,
  LogIn,
  LogOut,
  MapPin,
  Megaphone,
  Moon,
  Sun,
  UserRound,
  Users,
} from 'lucide-vue-next'
import { computed } from 'vue'
import { useSignOut } from '../api/acts/session'
import type { Shapes } from '../api/client'
import { useHere } from '../api/queries/useHere'
import { useNews } from '../api/queries/useNews'
import { useWaterline } from '../api/queries/useWaterline'
import { placesOf } from '../router'
import { standingHere } from './me'
import { signingIn } from './session'
import { muted, otherTheme, theme } from '../theme/choices'
import { number, t } from '../words/say'

const props = defineProps<{ me: Shapes['Me'] }>()
defineEmits<{ help: []; where: []; account: []; here: [] }>()
const line = useWaterline()
const news = useNews()
const here = useHere()
const unseen = computed(
  () => news.data.value?.news.filter((one) => one.grave && !one.over && !one.seen_by).length ?? 0,
)
const signOut = useSignOut()
/** A client sees what is safe, and nothing of the work at the cart. */
const seen = computed(() => placesOf(standingHere(props.me)?.may ?? []))
</script>

<template>
  <header>
    <p class="production">
      <span class="tag">{{ line.data.value?.production ?? 'Rugged Raft' }}</span>
      <span v-if="line.data.value" class="day">{{ t('placesBar.day', { day: line.data.value.day }) }}</span>
    </p>
    <nav :aria-label="t('placesBar.places')">
      <RouterLink
        v-for="place in seen"
        :key="place.path"
        :to="place.path"
        :title="t('placesBar.key', { asks: place.asks, key: place.key.toUpperCase() })"
        :class="{ here: place.path === '/' ? $route.path === '/' : $route.path.startsWith(place.path) }"
        :aria-current="
          (place.path === '/' ? $route.path === '/' : $route.path.startsWith(place.path)) ? 'page' : undefined
        "
        >{{ place.name }}</RouterLink
      >
    </nav>
    <div class="tools">
      <button
        v-if="!me.screen"
        type="button"
        class="who"
        :title="t('account.open')"
        data-account
        @click="$emit('account')"
      >
        <span>{{ me.name }}, {{ standingHere(me)?.role }}</span
        ><UserRound :size="20" />
      </button>
      <span v-else class="who"
        ><span>{{ me.name }}, {{ standingHere(me)?.role }}</span></span
      >
      <button
        v-if="seen.length > 2"
        type="button"
        :aria-label="t('whereIs.title')"
        :title="t('whereIs.open')"
        data-where-is-it
        @click="$emit('where')"
      >
        <MapPin :size="20" />
      </button>
      <button
        v-if="seen.length > 2"
        type="button"
        class="here"
        :aria-label="t('here.open', { count: number(here.data.value?.length ?? 0) })"
        :title="t('here.open', { count: number(here.data.value?.length ?? 0) })"
        data-who-is-here
        @click="$emit('here')"
      >
        <Users :size="20" /><b v-if="here.data.value" aria-hidden="true">{{
          number(here.data.value.length)
        }}</b>
      </button>
      <RouterLink
        v-if="seen.length > 2"
        to="/news"
        class="news"
        :aria-label="unseen ? t('news.open', { count: number(unseen) }) : t('news.none')"
        :title="unseen ? t('news.open', { count: number(unseen) }) : t('news.none')"
        data-news-link
        ><Megaphone :size="20" /><b v-if="unseen" aria-hidden="true">{{ number(unseen) }}</b></RouterLink
      >
      <button
        type="button"
        :aria-label="theme === 'night' ? t('placesBar.daylightColours') : t('placesBar.nightColours')"
        :title="t('placesBar.daylightOrNightN')"
        @click="otherTheme"
      >
        <Sun v-if="theme === 'night'" :size="20" /><Moon v-else :size="20" />
      </button>
      <button
        type="button"
        :aria-label="muted ? t('placesBar.soundOn') : t('placesBar.soundOff')"
        :aria-pressed="muted"
        :title="t('placesBar.muteM')"
        @click="muted = !muted"
      >
        <BellOff v-if="muted" :size="20" /><Bell v-else :size="20" />
      </button>
      <button
        type="button"
        :aria-label="t('placesBar.keysAndHelp')"
        :title="t('placesBar.keys')"
        @click="$emit('help')"
      >
        <CircleHelp :size="20" />
      </button>
      <button v-if="me.screen" type="button" class="who" data-sign-in @click="signingIn = true">
        <span>{{ t('whoActs.signIn') }}</span><LogIn :size="20" />
      </button>
      <button
        v-else
        type="button"
        :aria-label="t('placesBar.signOut')"
        :title="t('placesBar.signOut')"
        @click="signOut.mutate(undefined)"
      >
        <LogOut :size="20" />
      </button>
    </div>
  </header>
</template>

<style scoped>
header {
  display: flex;
  flex-wrap: wrap;
  align-items: stretch;
  gap: 0 var(--space-7);
  padding: 0 var(--space-6);
  border-bottom: var(--line) solid var(--ink);
  background: var(--sheet);
}
.production {
  display: flex;
  align-items: baseline;
  gap: var(--space-2);
  padding: var(--space-3) 0;
  font-size: var(--type-head);
  white-space: nowrap;
}
.day {
  color: var(--ink-soft);
  font-size: var(--type-body);
}
nav {
  display: flex;
  gap: var(--space-1);
}
nav a {
  display: flex;
  align-items: center;
  padding: 0 var(--space-3);
  min-height: 3rem;
  font: 700 var(--type-tag)/1 var(--tag);
  text-decoration: none;
}
nav a:hover {
  text-decoration: underline;
}
nav a.here {
  background: var(--ink);
  color: var(--sheet);
  clip-path: polygon(0 0, 100% 0, 100% 100%, 50% 86%, 0 100%);
}
.tools {
  display: flex;
  align-items: center;
  gap: var(--space-1);
  margin-left: auto;
}
.who {
  margin-right: var(--space-2);
  color: var(--ink-soft);
  white-space: nowrap;
}
button.who {
  display: inline-flex;
  gap: var(--space-1);
  width: auto;
  font: inherit;
  cursor: pointer;
}
button.who:hover span {
  text-decoration: underline;
}
button,
.news {
  display: grid;
  place-items: center;
  width: 2.5rem;
  height: 2.5rem;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}
.here {
  display: inline-flex;
  gap: var(--space-half);
  align-items: center;
}
.news {
  position: relative;
}
.news b {
  position: absolute;
  top: 0;
  right: 0;
  min-width: 1.1rem;
  padding: 0 var(--space-half);
  background: var(--trouble);
  color: var(--sheet);
  font: 700 var(--type-note)/1.3 var(--tag);
  text-align: center;
}
@media (--tablet) {
  .who > span {
    display: none;
  }
}
@media (--phone) {
  header {
    padding: 0 var(--space-2);
    gap: 0 var(--space-2);
  }
  .production {
    padding: var(--space-2) var(--space-1);
    font-size: var(--type-lead);
  }
  nav {
    order: 3;
    gap: 0;
    width: 100%;
  }
  nav a {
    flex: 1;
    justify-content: center;
    padding: 0 var(--space-half);
    font-size: var(--type-body);
    white-space: nowrap;
  }
}
</style>
