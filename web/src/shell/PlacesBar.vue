<script setup lang="ts">
import { Bell, BellOff, CircleHelp, LogOut, Moon, Sun } from 'lucide-vue-next'
import { useSignOut } from '../api/acts/session'
import type { Shapes } from '../api/client'
import { useWaterline } from '../api/queries'
import { PLACES } from '../router'
import { muted, otherTheme, theme } from '../theme/choices'

defineProps<{ me: Shapes['Me'] }>()
defineEmits<{ help: [] }>()
const line = useWaterline()
const signOut = useSignOut()
</script>

<template>
  <header>
    <p class="production">
      <span class="tag">{{ line.data.value?.production ?? 'Rugged Raft' }}</span>
      <span v-if="line.data.value" class="day">day {{ line.data.value.day }}</span>
    </p>
    <nav aria-label="Places">
      <RouterLink
        v-for="place in PLACES"
        :key="place.path"
        :to="place.path"
        :title="`${place.asks} (key ${place.key.toUpperCase()})`"
        :class="{ here: place.path === '/' ? $route.path === '/' : $route.path.startsWith(place.path) }"
        :aria-current="
          (place.path === '/' ? $route.path === '/' : $route.path.startsWith(place.path)) ? 'page' : undefined
        "
        >{{ place.name }}</RouterLink
      >
    </nav>
    <div class="tools">
      <span class="who">{{ me.name }}, {{ me.role }}</span>
      <button
        type="button"
        :aria-label="theme === 'night' ? 'Daylight colours' : 'Night colours'"
        title="Daylight or night (N)"
        @click="otherTheme"
      >
        <Sun v-if="theme === 'night'" :size="20" /><Moon v-else :size="20" />
      </button>
      <button
        type="button"
        :aria-label="muted ? 'Sound on' : 'Sound off'"
        :aria-pressed="muted"
        title="Mute (M)"
        @click="muted = !muted"
      >
        <BellOff v-if="muted" :size="20" /><Bell v-else :size="20" />
      </button>
      <button type="button" aria-label="Keys and help" title="Keys (?)" @click="$emit('help')">
        <CircleHelp :size="20" />
      </button>
      <button type="button" aria-label="Sign out" title="Sign out" @click="signOut.mutate(undefined)">
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
  gap: 0 28px;
  padding: 0 24px;
  border-bottom: 2px solid var(--ink);
  background: var(--sheet);
}
.production {
  display: flex;
  align-items: baseline;
  gap: 10px;
  padding: 14px 0;
  font-size: 22px;
  white-space: nowrap;
}
.day {
  color: var(--ink-soft);
  font-size: 16px;
}
nav {
  display: flex;
  gap: 4px;
}
nav a {
  display: flex;
  align-items: center;
  padding: 0 14px;
  min-height: 48px;
  font: 700 21px/1 var(--tag);
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
  gap: 4px;
  margin-left: auto;
}
.who {
  margin-right: 10px;
  color: var(--ink-soft);
  white-space: nowrap;
}
button {
  display: grid;
  place-items: center;
  width: 40px;
  height: 40px;
  border: 0;
  background: none;
  color: inherit;
  cursor: pointer;
}
@media (max-width: 900px) {
  .who {
    display: none;
  }
}
@media (max-width: 600px) {
  header {
    padding: 0 8px;
    gap: 0 8px;
  }
  .production {
    padding: 8px 4px;
    font-size: 18px;
  }
  nav {
    order: 3;
    width: 100%;
  }
  nav a {
    flex: 1;
    justify-content: center;
    padding: 0 4px;
  }
}
</style>
