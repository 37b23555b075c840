<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useCheckCopy, useReportFound, useReportLoss } from '../../api/acts/copies'
import type { Shapes } from '../../api/client'
import { useRoll, useRollFiles, useWaterline } from '../../api/queries'
import PennantMark from '../../marks/PennantMark.vue'
import { PLANK_WORDS } from '../../marks/plank'
import PlankMark from '../../marks/PlankMark.vue'
import MoreRows from '../../parts/MoreRows.vue'
import { useWho } from '../../shell/me'
import { age, dayAndClock } from '../../words/times'
import { bytes, counted, exactBytes } from '../../words/units'
import RemedySteps from '../../parts/RemedySteps.vue'
import CopyTo from './CopyTo.vue'
import HungPictures from './HungPictures.vue'
import WorkUnderWay from './WorkUnderWay.vue'
import LastKnown from '../../parts/LastKnown.vue'

const props = defineProps<{ tag: string }>()
const { may } = useWho()
const detail = useRoll(() => props.tag)
const files = useRollFiles(() => props.tag)
const filesShown = computed(() => files.data.value?.pages.flatMap((page) => page.files) ?? [])
const pictures = computed(() =>
  filesShown.value
    .filter((file) => file.preview)
    .map(({ path, preview, body }) => ({ preview, body, name: path.split('/').at(-1) ?? path })),
)
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const check = useCheckCopy()
function standing(plank: Shapes['PlankOut']): string {
  const parts = [PLANK_WORDS[plank.state]]
  if (plank.missing_files && plank.files)
    parts.push(
      `${plank.files.toLocaleString('en')} of ${counted(plank.files + plank.missing_files, 'file')} known to be there`,
    )
  if (plank.read_at && plank.files) parts.push(`${plank.level} ${age(plank.read_at)}`)
  if (plank.looked_at) parts.push(`looked at ${age(plank.looked_at)}`)
  if (!plank.online) parts.push('not connected')
  return parts.join('; ')
}
const lost = useReportLoss()
const found = useReportFound()
const workOn = (store: string) => detail.data.value?.under_way.find((one) => one.store === store)
const losing = ref('')
const reason = ref('')
const survives = computed(() => {
  const now = detail.data.value
  if (!now || now.survives_devices < 0) return 'No copy counts.'
  return `Survives the loss of ${counted(now.survives_devices, 'device')} and of ${counted(now.survives_locations, 'location')}.`
})
</script>

<template>
  <main class="place">
    <p><RouterLink to="/tally">Tally</RouterLink></p>
    <LastKnown
      :error="detail.error.value"
      :known="Boolean(detail.data.value)"
      :updated-at="detail.dataUpdatedAt.value"
      ><template v-if="detail.data.value">
        <h1><PennantMark :letter="detail.data.value.roll.camera.letter" :size="44" /> {{ tag }}</h1>
        <p>
          Card {{ detail.data.value.roll.card }}, {{ detail.data.value.roll.shoot_day }},
          {{ counted(detail.data.value.roll.files, 'file') }},
          <span :title="exactBytes(detail.data.value.roll.bytes)">{{
            bytes(detail.data.value.roll.bytes)
          }}</span>. {{ survives }}
        </p>
        <p v-if="detail.data.value.roll.blocks.length" class="trouble">
          {{ detail.data.value.roll.state === 'below the line' ? 'Below the line' : 'Short of the rule' }}:
          {{ detail.data.value.roll.blocks.map((block) => block.sentence).join('; ') }}.
        </p>
        <RemedySteps :steps="detail.data.value.roll.remedy" class="remedy" />
        <HungPictures v-if="pictures.length" :pictures="pictures" />
        <h2>Copies</h2>
        <ul class="copies">
          <li v-for="plank in detail.data.value.roll.planks" :key="plank.copy_id" :data-copy="plank.store">
            <PlankMark :state="plank.state" :half="plank.same_device" :size="28" />
            <span class="name">
              <span class="tag">{{ plank.store }}</span>
              <span class="soft"
                >{{ plank.device === plank.store ? '' : `${plank.device}, ` }}{{ plank.location }}</span
              >
            </span>
            <span>{{ standing(plank) }}</span>
            <Button
              v-if="!workOn(plank.store)"
              class="act quiet small"
              :disabled="!may('check') || !plank.ever_read || plank.state === 'lost'"
              :label="`Check ${plank.store}`"
              @click="check.mutate(plank.copy_id)"
            />
            <WorkUnderWay v-else :work="workOn(plank.store)!" />
            <Button
              v-if="plank.state === 'lost'"
              class="act quiet small"
              :label="`${plank.store} is found`"
              :disabled="!may('report_loss')"
              :data-found="plank.store"
              @click="found.mutate(plank.store)"
            />
            <button
              v-else
              type="button"
              class="link"
              :disabled="!may('report_loss')"
              :data-lose="plank.store"
              @click="losing = losing === plank.store ? '' : plank.store"
            >
              {{ losing === plank.store ? 'it is here' : 'it is lost' }}
            </button>
          </li>
        </ul>
        <CopyTo :roll="detail.data.value.roll" />
        <form v-if="losing" class="line" @submit.prevent="lost.mutate({ store: losing, reason })">
          <label
            >What happened to {{ losing }}? Nothing on its device counts from then on, anywhere.
            <InputText v-model="reason" class="field" data-loss-reason
          /></label>
          <Button
            class="act quiet small"
            type="submit"
            :label="`Report ${losing} lost`"
            :disabled="!reason.trim()"
            data-report-loss
          />
        </form>
        <p
          v-for="error in [check.error.value, lost.error.value, found.error.value].filter(
            (one) => one !== null,
          )"
          :key="error.message"
          role="alert"
          class="trouble"
        >
          {{ error.message }}
        </p>
        <template v-if="detail.data.value.waivers.length || detail.data.value.left_behind.length">
          <h2>In no copy, on purpose</h2>
          <ul>
            <li v-for="one in detail.data.value.waivers" :key="one.path" data-waived>
              <code>{{ one.path }}</code> waived by {{ one.by }}: {{ one.reason }}
            </li>
            <li v-for="path in detail.data.value.left_behind" :key="path" data-left-behind>
              <code>{{ path }}</code> left on the card
            </li>
          </ul>
        </template>
        <template v-if="detail.data.value.faults.length">
          <h2>Damaged, or gone from its place</h2>
          <ul>
            <li v-for="fault in detail.data.value.faults" :key="fault.store + fault.path" data-fault>
              <code>{{ fault.path }}</code> on {{ fault.store }}: {{ fault.reason }}
            </li>
          </ul>
        </template>
        <h2>Readings</h2>
        <ul>
          <li v-for="(one, index) in detail.data.value.readings" :key="index">
            {{ dayAndClock(one.at, zone) }} ({{ age(one.at) }}), {{ one.origin }}: {{ one.store }},
            <template v-if="one.agreed_files"
              >{{ one.level }}, {{ counted(one.agreed_files, 'file') }} agree{{
                one.wrong_files ? ', ' : ''
              }}</template
            >
            <template v-if="one.wrong_files">{{ counted(one.wrong_files, 'file') }} wrong</template>
          </li>
        </ul>
        <h2>Files</h2>
        <ul class="files">
          <li v-for="file in filesShown" :key="file.path" :data-file="file.path">
            <span>
              <code>{{ file.path }}</code>
              <span v-if="file.kept_as" class="soft">
                kept as <code>{{ file.kept_as }}</code></span
              >
            </span>
            <span :title="exactBytes(file.size)">{{ bytes(file.size) }}</span>
            <span v-if="file.checksum" class="sums">
              <code class="soft">{{ file.algorithm }} {{ file.checksum }}</code>
              <code v-for="(sum, name) in file.others" :key="name" class="soft">{{ name }} {{ sum }}</code>
            </span>
            <span v-else class="trouble">never read off the card</span>
          </li>
        </ul>
        <MoreRows
          v-if="files.hasNextPage.value"
          :words="`${filesShown.length.toLocaleString('en')} of ${counted(detail.data.value.roll.files, 'file')} shown: show more`"
          :asking="files.isFetchingNextPage.value"
          @more="files.fetchNextPage()"
        /> </template
    ></LastKnown>
  </main>
</template>

<style scoped>
h1 {
  display: flex;
  gap: var(--space-3);
  align-items: center;
  margin: var(--space-1h) 0;
  font: 700 var(--type-huge)/1 var(--tag);
}
h2 {
  margin: var(--space-5) 0 var(--space-2);
}
.remedy {
  justify-content: start;
  margin-top: var(--space-2);
}
.copies li {
  display: grid;
  grid-template-columns: 7rem 10.5rem 1fr 12rem 9rem;
  gap: var(--space-1h) var(--space-4);
  align-items: center;
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.name {
  display: grid;
  min-width: 9.5rem;
}
.name .tag {
  font-size: var(--type-tag);
}
.sums {
  display: grid;
}
.files li {
  display: grid;
  grid-template-columns: 1fr 5.5rem 1fr;
  gap: var(--space-3);
  align-items: center;
}
@media (--tablet) {
  .copies li {
    grid-template-columns: 1fr 1fr;
  }
}
@media (--upright) {
  .files li {
    grid-template-columns: 1fr auto;
  }
  .files .sums {
    grid-column: 1 / -1;
  }
}
</style>
