<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Shapes } from '../../api/client'
import { PLANK_WORDS } from '../../marks/plank'
import PlankMark from '../../marks/PlankMark.vue'
import { age } from '../../words/times'
import { bytes, counted } from '../../words/units'
import { number, t } from '../../words/say'
import { EVIDENCE } from '../../words/evidence'

/** What a store holds of a roll: a mark that can be come to by keyboard, with the details beside it. */
const props = defineProps<{
  tag: string
  store: Shapes['StoreColumn']
  plank: Shapes['PlankOut'] | undefined
  first: boolean
  /** The details are on the left, where there is no room on the right. */
  left: boolean
}>()
const shown = ref(false)

const place = computed(() => {
  const { device, location, online, lost } = props.store
  return `${device}, ${location}${lost ? t('copyMark.lost') : online ? '' : t('copyMark.notConnected')}`
})
const details = computed(() => {
  const plank = props.plank
  if (!plank) return [t('copyMark.nothingOfItWasEver')]
  const found = [PLANK_WORDS[plank.state]]
  if (plank.files || plank.missing_files)
    found.push(
      plank.missing_files
        ? t('copyMark.ofKnownToBeThere', {
            files: number(plank.files),
            all: counted(plank.files + plank.missing_files, 'file'),
          })
        : `${counted(plank.files, 'file')}, ${bytes(plank.bytes)}`,
    )
  if (plank.broken_files)
    found.push(t('copyMark.damagedOrGone', { files: counted(plank.broken_files, 'file') }))
  if (plank.read_at && plank.files) found.push(`${EVIDENCE[plank.level]} ${age(plank.read_at)}`)
  if (plank.looked_at) found.push(t('copyMark.lookedAt', { age: age(plank.looked_at) }))
  if (plank.same_device) found.push(t('copyMark.onTheSameDeviceAs'))
  return found
})
const brief = computed(() => {
  const plank = props.plank
  if (!plank) return ''
  if (plank.state === 'broken')
    return t('copyMark.damagedOrGone', { files: counted(plank.broken_files, 'file') })
  if (plank.state === 'partial')
    return t('copyMark.of', {
      files: number(plank.files),
      all: counted(plank.files + plank.missing_files, 'file'),
    })
  if (plank.state === 'wanted') return t('copyMark.nothingThereYet')
  return plank.files && plank.read_at ? `${EVIDENCE[plank.level]} ${age(plank.read_at)}` : ''
})
</script>

<template>
  <td class="store" @mouseleave="shown = false" @mouseenter="shown = true">
    <RouterLink
      :to="`/tally/${tag}`"
      class="mark"
      :tabindex="first ? 0 : -1"
      :aria-label="t('copyMark.on', { tag, name: store.name, details: details.join('; ') })"
      data-mark
      @focus="shown = true"
      @blur="shown = false"
      @keydown.escape="shown = false"
    >
      <PlankMark v-if="plank" :state="plank.state" :half="plank.same_device" :size="20" />
      <span v-else class="none" aria-hidden="true">·</span>
      <small v-if="brief" :class="{ short: plank?.state === 'broken' || plank?.state === 'partial' }">{{
        brief
      }}</small>
    </RouterLink>
    <div v-if="shown" class="details" :class="{ left }" aria-hidden="true" data-details>
      <p class="tag">{{ t('copyMark.on2', { tag, name: store.name }) }}</p>
      <p class="soft">{{ place }}</p>
      <p v-for="one in details" :key="one">{{ one }}</p>
    </div>
  </td>
</template>

<style scoped>
.store {
  position: relative;
  padding: var(--space-2) var(--space-2) var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
  vertical-align: middle;
}
.mark {
  display: grid;
  gap: var(--space-half);
  min-height: 2.75rem;
  align-content: center;
  text-decoration: none;
}
.mark svg {
  display: block;
}
small {
  font-size: var(--type-note);
  line-height: 1.2;
  color: var(--ink-soft);
}
.short {
  font-weight: 700;
}
.none {
  color: var(--ink-soft);
}
.details {
  position: absolute;
  z-index: 5;
  top: 0.25rem;
  left: calc(100% - 0.5rem);
  width: 17rem;
  padding: var(--space-2) var(--space-3);
  border: var(--line) solid var(--ink);
  background: var(--sheet);
  pointer-events: none;
}
.details.left {
  right: calc(100% + 0.5rem);
  left: auto;
}
.details .tag {
  font-size: var(--type-lead);
}
@media (--phone) {
  .store {
    display: none;
  }
}
</style>
