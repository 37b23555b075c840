<script setup lang="ts">
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { pictureOf } from '../../api/queries/useClips'
import { headerSays } from '../../parts/look/headerSays'
import { listed, t } from '../../words/say'
import { age, shortDay } from '../../words/times'

/** A file, and how to get to it: the easiest way first, the others behind it. */
const props = defineProps<{ file: Shapes['FoundFileOut'] }>()
defineEmits<{ look: [] }>()
const clip = computed(() => props.file.clip)
const name = computed(() => clip.value.path.split('/').at(-1) ?? clip.value.path)
const kept = computed(() => props.file.kept_as.split('/').at(-1))
const picture = computed(() => pictureOf(props.file.tag, clip.value, 'small'))
const near = computed(() => props.file.places.filter((one) => !one.lost))
const lost = computed(() => props.file.places.filter((one) => one.lost))
/** Whether it is connected is known now; anything else as somebody noted it. */
const whereOf = (place: Shapes['FilePlaceOut']) =>
  place.since && !place.connected ? place.where + t('whereIs.since', { age: age(place.since) }) : place.where
const way = computed(() => {
  if (props.file.unread) return t('find.unread')
  return near.value.length ? '' : t('find.nowhere')
})
</script>

<template>
  <li :data-found-file="clip.path">
    <button
      v-if="file.to_look_at"
      type="button"
      class="peg"
      :aria-label="t('hungPictures.open', { name })"
      @click="$emit('look')"
    >
      <img v-if="picture" :src="picture" alt="" loading="lazy" />
      <span v-else class="blank" />
    </button>
    <span v-else class="peg" />
    <div class="what">
      <p class="name">
        <slot />
        <span class="tag">{{ name }}</span>
        <span v-if="kept && kept !== name">{{ t('find.keptAs', { name: kept }) }}</span>
      </p>
      <p class="soft">
        <RouterLink :to="`/tally/${encodeURIComponent(file.tag)}`">{{ file.tag }}</RouterLink>{{
          `, ${shortDay(file.day)}, ${headerSays(clip)}`
        }}
      </p>
      <template v-if="file.said">
        <p v-if="file.said.keywords.length" data-keywords>
          <span class="soft">{{ t('find.keywords') }}</span> {{ file.said.keywords.join(', ') }}
        </p>
        <p v-if="file.said.caption" data-caption>{{ file.said.caption }}</p>
        <p v-if="file.said.rights" class="soft" data-rights>{{ file.said.rights }}</p>
        <p v-if="file.said.waiting.length" class="soft" data-waiting>
          {{ t('find.waiting', { stores: listed(file.said.waiting) }) }}
        </p>
        <p v-for="one in file.said.trouble" :key="one" class="soft" data-beside-trouble>
          {{ t('find.besideTrouble', { why: one }) }}
        </p>
      </template>
    </div>
    <div class="way">
      <p v-if="way" class="none">{{ way }}</p>
      <template v-for="(place, n) in near" :key="place.store">
        <p :class="{ first: n === 0 }" data-place>
          <RouterLink :to="{ path: '/stores', query: { store: place.store } }">{{ place.store }}</RouterLink>:
          {{ whereOf(place) }}
        </p>
        <code v-if="n === 0">{{ place.path }}</code>
      </template>
      <RouterLink
        v-if="near.length"
        :to="{ path: '/returns', query: { tag: file.tag, clip: clip.path } }"
        data-bring-back
        >{{ t('returns.ofThis') }}</RouterLink
      >
      <p v-for="place in lost" :key="place.store" class="soft" data-place>
        {{ place.store }}: {{ place.where }}
      </p>
    </div>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 9rem minmax(0, 1fr) minmax(0, 1.2fr);
  gap: var(--space-4);
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.peg {
  width: 9rem;
  height: 5rem;
  padding: 0;
  border: 0;
  background: none;
  cursor: pointer;
}
.peg img {
  width: 100%;
  height: 100%;
  object-fit: contain;
  object-position: left top;
}
.blank {
  display: block;
  width: 100%;
  height: 100%;
  border: var(--line-hair) solid var(--hair);
}
p {
  margin: 0;
}
.name {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  align-items: center;
  overflow-wrap: anywhere;
}
.name .tag {
  font-size: var(--type-title);
}
.way .first {
  font-weight: 700;
}
code {
  display: block;
  font-size: var(--type-note);
  overflow-wrap: anywhere;
  user-select: all;
}
.none {
  font-weight: 700;
}
@media (--phone) {
  li {
    grid-template-columns: 5rem minmax(0, 1fr);
  }
  .peg {
    width: 5rem;
    height: 3rem;
  }
  .way {
    grid-column: 1 / -1;
  }
}
</style>
