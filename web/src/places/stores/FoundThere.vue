<script setup lang="ts">
import { computed, ref } from 'vue'
import { useAdopt, useSearchStore, useTakeIn } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import { useSearch } from '../../api/queries/useSearch'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { age } from '../../words/times'
import { bytes, counted } from '../../words/units'

/** Which rolls seem to lie on a store, what of it the ledger knows, and what belongs to no roll. */
const props = defineProps<{ store: string; server: boolean }>()
const { whyNot } = useWho()
const open = ref(false)
const search = useSearchStore()
const adopt = useAdopt()
const takeIn = useTakeIn()
const answer = useSearch(() => props.store, open)
const found = computed(() => answer.data.value)
const going = computed(() => found.value?.going ?? false)
const said = computed(() => {
  const one = found.value
  if (!one) return ''
  if (one.going) return t('foundThere.going')
  if (!one.asked_at) return t('foundThere.never')
  if (one.trouble) return t('foundThere.trouble', { why: one.trouble })
  return t('foundThere.looked', {
    age: age(one.asked_at),
    files: counted(one.files, 'file'),
    bytes: bytes(one.bytes),
  })
})
const where = (folder: string) => folder || t('foundThere.itself')
function standing(one: Shapes['FoundRollOut']): string {
  if (one.known) return t('foundThere.known')
  if (one.twice) return t('foundThere.twice')
  if (one.moved_from) return t('foundThere.moved', { from: one.moved_from })
  return t('foundThere.unknown')
}
const may = (one: Shapes['FoundRollOut']) => !one.known && !one.twice
</script>

<template>
  <div class="found" :data-found="store">
    <ActButton
      type="button"
      link
      :label="t('foundThere.show')"
      :aria-expanded="open"
      :data-show-found="store"
      @press="open = !open"
    />
    <template v-if="open">
      <p class="line">
        <span class="soft" role="status" data-search>{{ said }}</span>
        <ActButton
          type="button"
          class="quiet small"
          :label="t('foundThere.search')"
          :why-not="whyNot('check')"
          :busy="going || search.isPending.value"
          :data-search-store="store"
          @press="search.mutate(store)"
        />
      </p>
      <SaidNo :error="search.error.value ?? adopt.error.value ?? takeIn.error.value ?? answer.error.value" />
      <ul>
        <li v-for="one in found?.rolls ?? []" :key="one.tag + one.folder" :data-found-roll="one.tag">
          <span class="tag">{{ one.tag }}</span>
          <span>
            {{
              t('foundThere.files', {
                files: counted(one.files, 'file'),
                of: one.of_files,
                folder: where(one.folder),
              })
            }}
            <span class="soft">{{ standing(one) }}</span>
          </span>
          <ActButton
            v-if="may(one)"
            type="button"
            class="quiet small"
            :label="t(one.moved_from ? 'foundThere.follow' : 'foundThere.adopt')"
            :why-not="whyNot('offload')"
            :busy="adopt.isPending.value"
            :data-adopt="one.tag"
            @press="adopt.mutate({ store, tag: one.tag, folder: one.folder })"
          />
        </li>
        <li v-for="one in found?.strangers ?? []" :key="'/' + one.folder" class="soft" data-stranger>
          <span />
          <span>{{
            t('foundThere.stranger', {
              files: counted(one.files, 'file'),
              bytes: bytes(one.bytes),
              folder: one.folder,
            })
          }}</span>
          <ActButton
            v-if="!server"
            type="button"
            link
            :label="t('foundThere.takeIn')"
            :why-not="whyNot('keep_stores')"
            :data-take-in="one.folder"
            @press="takeIn.mutate({ store, folder: one.folder, finals: false })"
          />
          <ActButton
            v-if="!server"
            type="button"
            link
            :label="t('foundThere.takeInFinals')"
            :why-not="whyNot('keep_stores')"
            :data-take-in-finals="one.folder"
            @press="takeIn.mutate({ store, folder: one.folder, finals: true })"
          />
        </li>
      </ul>
      <p v-if="found?.strangers_left" class="soft">
        {{ t('foundThere.moreStrangers', {}, found.strangers_left) }}
      </p>
    </template>
  </div>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 5rem 1fr auto;
  gap: var(--space-1) var(--space-4);
  align-items: center;
  padding: var(--space-1) 0;
}
p {
  margin: var(--space-1) 0;
}
@media (--tablet) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
