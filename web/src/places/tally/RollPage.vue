<script setup lang="ts">
import { I18nT } from 'vue-i18n'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useCheckCopy, useReportFound, useReportLoss } from '../../api/acts/copies'
import { useOpenPackage } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import { useRoll } from '../../api/queries/useRoll'
import { useClips } from '../../api/queries/useClips'
import { useRollFiles } from '../../api/queries/useRollFiles'
import { useWaterline } from '../../api/queries/useWaterline'
import PennantMark from '../../marks/PennantMark.vue'
import { PLANK_WORDS } from '../../marks/plank'
import PlankMark from '../../marks/PlankMark.vue'
import NoteList from '../../parts/NoteList.vue'
import MoreRows from '../../parts/MoreRows.vue'
import { sayWhy, useWho } from '../../shell/me'
import { age, dayAndClock } from '../../words/times'
import { bytes, counted, exactBytes } from '../../words/units'
import RemedySteps from '../../parts/RemedySteps.vue'
import CopyTo from './CopyTo.vue'
import RollHandOver from './RollHandOver.vue'
import RollReport from './RollReport.vue'
import RollSaid from './RollSaid.vue'
import HungPictures from './HungPictures.vue'
import WorkUnderWay from './WorkUnderWay.vue'
import LastKnown from '../../parts/LastKnown.vue'
import { number, t } from '../../words/say'
import { EVIDENCE } from '../../words/evidence'
import SaidNo from '../../parts/SaidNo.vue'
import ActButton from '../../parts/ActButton.vue'

const props = defineProps<{ tag: string }>()
const { whyNot, may } = useWho()
const detail = useRoll(() => props.tag)
const files = useRollFiles(() => props.tag)
const filesShown = computed(() => files.data.value?.pages.flatMap((page) => page.files) ?? [])
const clips = useClips(() => props.tag)
const clipsShown = computed(() => clips.data.value?.pages.flatMap((page) => page.clips) ?? [])
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const check = useCheckCopy()
const openPackage = useOpenPackage()
const router = useRouter()
function standing(plank: Shapes['PlankOut']): string {
  const parts = [PLANK_WORDS[plank.state]]
  if (plank.missing_files && plank.files)
    parts.push(
      t('rollPage.ofKnownToBeThere', {
        files: number(plank.files),
        all: counted(plank.files + plank.missing_files, 'file'),
      }),
    )
  if (plank.read_at && plank.files) parts.push(`${EVIDENCE[plank.level]} ${age(plank.read_at)}`)
  if (plank.looked_at) parts.push(t('rollPage.lookedAt', { age: age(plank.looked_at) }))
  if (!plank.online) parts.push(t('rollPage.notConnected'))
  return parts.join('; ')
}
function noCheck(plank: Shapes['PlankOut']): string | undefined {
  if (plank.state === 'lost') return t('rollPage.lostNothingToCheck')
  return plank.ever_read ? undefined : t('rollPage.neverReadHere')
}
const lost = useReportLoss()
const found = useReportFound()
const workOn = (store: string) => detail.data.value?.under_way.find((one) => one.store === store)
const losing = ref('')
const reason = ref('')
const survives = computed(() => {
  const now = detail.data.value
  if (!now || now.survives_devices < 0) return t('rollPage.noCopyCounts')
  return t('rollPage.survivesTheLossOfAnd', {
    devices: counted(now.survives_devices, 'device'),
    locations: counted(now.survives_locations, 'location'),
  })
})
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/tally">{{ t('places.tally') }}</RouterLink>
    </p>
    <LastKnown
      :error="detail.error.value"
      :known="Boolean(detail.data.value)"
      :updated-at="detail.dataUpdatedAt.value"
      ><template v-if="detail.data.value">
        <h1><PennantMark :letter="detail.data.value.roll.camera.letter" :size="44" /> {{ tag }}</h1>
        <p>
          {{
            t('rollPage.card', {
              card: detail.data.value.roll.card,
              day: detail.data.value.roll.shoot_day,
              files: counted(detail.data.value.roll.files, 'file'),
            })
          }}
          <span :title="exactBytes(detail.data.value.roll.bytes)">{{
            bytes(detail.data.value.roll.bytes)
          }}</span>. {{ survives }}
        </p>
        <p v-if="detail.data.value.roll.blocks.length" class="trouble">
          {{
            detail.data.value.roll.state === 'below the line'
              ? t('rollPage.belowTheLine')
              : t('rollPage.shortOfTheRule')
          }}: {{ detail.data.value.roll.blocks.map((block) => block.sentence).join('; ') }}.
        </p>
        <RemedySteps :steps="detail.data.value.roll.remedy" class="remedy" />
        <RollReport :tag="tag" />
        <NoteList on="roll" :name="tag" :clips="filesShown.map((file) => file.path)" />
        <RollSaid :detail="detail.data.value" />
        <HungPictures
          v-if="clipsShown.length"
          :clips="clipsShown"
          :tag="tag"
          :more="clips.hasNextPage.value ? clips.fetchNextPage : undefined"
        />
        <MoreRows
          v-if="clips.hasNextPage.value"
          :words="t('rollPage.moreClips')"
          :asking="clips.isFetchingNextPage.value"
          @more="clips.fetchNextPage()"
        />
        <h2>{{ t('rollPage.copies') }}</h2>
        <p v-if="may('see_work')">
          <RouterLink :to="{ path: '/returns', query: { tag } }" data-bring-roll>{{
            t('returns.ofRoll')
          }}</RouterLink>
        </p>
        <ul class="copies">
          <li v-for="plank in detail.data.value.roll.planks" :key="plank.copy_id" :data-copy="plank.store">
            <PlankMark :state="plank.state" :half="plank.same_device" :size="28" />
            <span class="name">
              <span class="tag">{{ plank.store }}</span>
              <span class="soft"
                >{{ plank.device === plank.store ? '' : `${plank.device}, ` }}{{ plank.location }}</span
              >
            </span>
            <span>
              {{ standing(plank) }}
              <span v-if="plank.sealed" class="sealed">
                <span>{{ t('rollPage.sealed') }}</span>
                <ActButton
                  type="button"
                  link
                  :label="t('rollPage.openPackage')"
                  :why-not="whyNot('keep_stores')"
                  :busy="openPackage.isPending.value"
                  :data-open-package="plank.store"
                  @press="
                    openPackage.mutate({ store: plank.store, tag }, { onSuccess: () => router.push('/') })
                  "
                />
              </span>
            </span>
            <ActButton
              v-if="!workOn(plank.store)"
              type="button"
              class="quiet small"
              :label="t('rollPage.check', { store: plank.store })"
              :why-not="whyNot('check') ?? noCheck(plank)"
              :busy="check.isPending.value"
              @press="check.mutate(plank.copy_id)"
            />
            <WorkUnderWay v-else :work="workOn(plank.store)!" />
            <ActButton
              v-if="plank.state === 'lost'"
              type="button"
              class="quiet small"
              :label="t('rollPage.isFound', { store: plank.store })"
              :data-found="plank.store"
              :why-not="whyNot('report_loss')"
              :busy="found.isPending.value"
              @press="found.mutate(plank.store)"
            />
            <ActButton
              v-else
              type="button"
              :data-lose="plank.store"
              link
              :label="losing === plank.store ? t('rollPage.itIsHere') : t('rollPage.itIsLost')"
              :why-not="whyNot('report_loss')"
              @press="losing = losing === plank.store ? '' : plank.store"
            />
          </li>
        </ul>
        <CopyTo :roll="detail.data.value.roll" />
        <form v-if="losing" class="line" @submit.prevent="lost.mutate({ store: losing, reason })">
          <label
            >{{ t('rollPage.whatHappenedToNothingOn', { store: losing }) }}
            <InputText v-model="reason" class="field" data-loss-reason
          /></label>
          <ActButton
            class="quiet small"
            type="submit"
            :label="t('rollPage.reportLost', { store: losing })"
            data-report-loss
            :why-not="sayWhy(reason)"
            :busy="lost.isPending.value"
          />
        </form>
        <SaidNo
          :error="check.error.value ?? lost.error.value ?? found.error.value ?? openPackage.error.value"
        />
        <RollHandOver v-if="may('see_work')" :tag="tag" :clips="clipsShown.length > 0" />
        <template v-if="detail.data.value.waivers.length || detail.data.value.left_behind.length">
          <h2>{{ t('rollPage.inNoCopyOnPurpose') }}</h2>
          <ul>
            <li v-for="one in detail.data.value.waivers" :key="one.path" data-waived>
              <I18nT keypath="rollPage.waivedBy" scope="global">
                <template #path
                  ><code>{{ one.path }}</code></template
                >
                <template #person>{{ one.by }}</template>
                <template #reason>{{ one.reason }}</template>
              </I18nT>
            </li>
            <li v-for="path in detail.data.value.left_behind" :key="path" data-left-behind>
              <I18nT keypath="rollPage.leftOnTheCard" scope="global">
                <template #path
                  ><code>{{ path }}</code></template
                >
              </I18nT>
            </li>
          </ul>
        </template>
        <template v-if="detail.data.value.faults.length">
          <h2>{{ t('rollPage.damagedOrGoneFromIts') }}</h2>
          <ul>
            <li v-for="fault in detail.data.value.faults" :key="fault.store + fault.path" data-fault>
              <I18nT keypath="rollPage.faultOn" scope="global">
                <template #path
                  ><code>{{ fault.path }}</code></template
                >
                <template #store>{{ fault.store }}</template>
                <template #reason>{{ fault.reason }}</template>
              </I18nT>
            </li>
          </ul>
        </template>
        <h2>{{ t('rollPage.readings') }}</h2>
        <ul>
          <li v-for="(one, index) in detail.data.value.readings" :key="index">
            {{ dayAndClock(one.at, zone) }} ({{ age(one.at) }}), {{ one.origin }}: {{ one.store
            }}<template v-if="one.source">{{ t('rollPage.from', { store: one.source }) }}</template
            >,
            <template v-if="one.agreed_files"
              >{{ t('rollPage.agree', { level: EVIDENCE[one.level] }, one.agreed_files)
              }}{{ one.wrong_files ? ', ' : '' }}</template
            >
            <template v-if="one.wrong_files">{{ t('rollPage.wrong', {}, one.wrong_files) }}</template>
            <template v-if="one.off_files">{{ t('rollPage.off', {}, one.off_files) }}</template>
          </li>
        </ul>
        <h2>{{ t('rollPage.files') }}</h2>
        <ul class="files">
          <li v-for="file in filesShown" :key="file.path" :data-file="file.path">
            <span>
              <code>{{ file.path }}</code>
              <span v-if="file.kept_as" class="soft">
                {{ t('rollPage.keptAs') }} <code>{{ file.kept_as }}</code></span
              >
            </span>
            <span :title="exactBytes(file.size)">{{ bytes(file.size) }}</span>
            <span v-if="file.checksum" class="sums">
              <code class="soft">{{ file.algorithm }} {{ file.checksum }}</code>
              <code v-for="(sum, name) in file.others" :key="name" class="soft">{{ name }} {{ sum }}</code>
            </span>
            <span v-else class="trouble">{{ t('rollPage.neverReadOffTheCard') }}</span>
          </li>
        </ul>
        <MoreRows
          v-if="files.hasNextPage.value"
          :words="
            t('rollPage.ofShownShowMore', {
              shown: number(filesShown.length),
              files: counted(detail.data.value.roll.files, 'file'),
            })
          "
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
.sealed {
  display: block;
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
