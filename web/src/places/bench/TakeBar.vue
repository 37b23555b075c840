<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import { clockToSecond } from '../../words/times'
import { bytes, counted } from '../../words/units'
import type { Clip } from './clips'
import { cameraFolders, type Taking } from './taking'
import { t } from '../../words/say'

/** How much of the card goes: all, what is new, a stretch of time, folders, kinds, or clips picked by hand. */
const props = defineProps<{ taking: Taking; clips: Clip[]; held: number; timeZone: string }>()
const take = computed(() => props.taking.take)
const names = computed(() => props.taking.choice.data.value?.names)

const KINDS: Record<string, string> = {
  picture: t('takeBar.stills'),
  video: t('takeBar.video'),
  sequence: t('takeBar.sequences'),
  sound: t('takeBar.sound'),
}
const kinds = computed(() => [...new Set(props.clips.map((clip) => clip.kind))])
const folders = computed(() => cameraFolders(props.clips))

function turn(list: string[], one: string) {
  const at = list.indexOf(one)
  if (at < 0) list.push(one)
  else list.splice(at, 1)
}

const DAY_S = 86_400
/** A time of day while the card was shot, else on its own first or last day; undefined where it is no time. */
function secondsAt(text: string, near: number): number | undefined {
  const found = /^(\d{1,2}):(\d{2})(?::(\d{2}))?$/.exec(text.trim())
  if (!found) return undefined
  const wanted = Number(found[1]) * 3600 + Number(found[2]) * 60 + Number(found[3] ?? 0)
  const [hours = 0, minutes = 0, seconds = 0] = clockToSecond(near, props.timeZone).split(':').map(Number)
  const that = near + wanted - (hours * 3600 + minutes * 60 + seconds)
  // a card that was shot over midnight has the evening's times on the day before its last
  return [that, that - DAY_S, that + DAY_S].find((at) => at >= first.value && at <= last.value) ?? that
}
const first = computed(() => props.clips[0]?.starts ?? 0)
const last = computed(() => props.clips.at(-1)?.starts ?? 0)
const shown = (seconds: number | null | undefined) =>
  seconds === null || seconds === undefined ? '' : clockToSecond(seconds, props.timeZone)
function set(which: 'from_s' | 'until_s', text: string | undefined) {
  const near = which === 'from_s' ? first.value : last.value
  const at = secondsAt(text ?? '', near)
  props.taking.within(which, at ?? null)
}
</script>

<template>
  <section class="take" :aria-label="t('takeBar.howMuchOfTheCard')" data-take>
    <div class="ways">
      <button
        type="button"
        class="pick"
        :aria-pressed="!taking.partly.value"
        data-way="everything"
        @click="taking.clear()"
      >
        {{ t('takeBar.everything') }}
      </button>
      <button
        v-if="held"
        type="button"
        class="pick"
        :aria-pressed="take.only_new"
        data-way="new"
        @click="take.only_new = !take.only_new"
      >
        {{ t('takeBar.onlyNew') }}
      </button>
      <template v-if="kinds.length > 1">
        <button
          v-for="kind in kinds"
          :key="kind"
          type="button"
          class="pick"
          :aria-pressed="take.kinds.includes(kind)"
          :data-way="kind"
          @click="turn(take.kinds, kind)"
        >
          {{ KINDS[kind] ?? kind }}
        </button>
      </template>
      <template v-if="folders.length > 1">
        <button
          v-for="folder in folders.slice(0, 8)"
          :key="folder"
          type="button"
          class="pick"
          :aria-pressed="take.folders.includes(folder)"
          :data-folder="folder"
          @click="turn(take.folders, folder)"
        >
          {{ folder.split('/').at(-1) }}
        </button>
      </template>
      <label class="hours">
        {{ t('takeBar.from') }}
        <InputText
          class="field time"
          :model-value="shown(take.from_s)"
          placeholder="00:00:00"
          data-from
          @change="set('from_s', ($event.target as HTMLInputElement).value)"
        />
      </label>
      <label class="hours">
        {{ t('takeBar.until') }}
        <InputText
          class="field time"
          :model-value="shown(take.until_s)"
          placeholder="24:00:00"
          data-until
          @change="set('until_s', ($event.target as HTMLInputElement).value)"
        />
      </label>
      <span v-if="take.picked" class="soft">{{
        t('takeBar.picked', { clips: counted(take.picked.length, 'clip') })
      }}</span>
    </div>
    <p v-if="taking.partly.value" class="sum" aria-live="polite" data-taken>
      <template v-if="names">{{
        t('takeBar.takes', {
          files: counted(names.files, 'file'),
          bytes: bytes(names.bytes),
          rest: names.left_files
            ? t('takeBar.leavesBehindByNameTo', { files: counted(names.left_files, 'file') })
            : t('takeBar.everythingElseOnTheCard'),
        })
      }}</template>
      <span v-else-if="taking.choice.error.value" class="trouble">{{
        taking.choice.error.value.message
      }}</span>
    </p>
    <p v-else class="soft sum">
      {{ t('takeBar.drawOnTheRibbonTo') }}
    </p>
  </section>
</template>

<style scoped>
.take {
  margin: var(--space-1) 0 var(--space-3);
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  align-items: center;
}
.hours {
  display: inline-flex;
  gap: var(--space-1h);
  align-items: center;
}
.time {
  width: 6.5rem;
  min-height: 2.25rem;
  padding: var(--space-half) var(--space-2);
}
.sum {
  margin-top: var(--space-1h);
}
</style>
