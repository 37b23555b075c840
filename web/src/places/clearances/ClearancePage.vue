<script setup lang="ts">
import { computed } from 'vue'
import { useClearance } from '../../api/queries/useClearance'
import { useWaterline } from '../../api/queries/useWaterline'
import LastKnown from '../../parts/LastKnown.vue'
import { listed, number, t } from '../../words/say'
import { age, dayAndClock } from '../../words/times'
import { bytes, counted } from '../../words/units'
import CertificateLines from './CertificateLines.vue'
import CopyEvidence from './CopyEvidence.vue'
import type { Evidence } from './evidence'

/** What a clearance was decided on, as it was written then; and what happened since. */
const props = defineProps<{ id: string }>()
const asked = useClearance(() => Number(props.id))
const found = computed(() => asked.data.value)
const evidence = computed(() => found.value?.evidence as Evidence | undefined)
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const at = (moment: string | null | undefined) =>
  moment ? dayAndClock(moment, zone.value) : t('clearancePage.never')
</script>

<template>
  <main class="place">
    <LastKnown :error="asked.error.value" :known="Boolean(found)" :updated-at="asked.dataUpdatedAt.value">
      <template v-if="found && evidence">
        <p>
          <RouterLink :to="`/cards/${encodeURIComponent(found.card)}`">{{
            t('clearancePage.card', { card: found.card })
          }}</RouterLink>
        </p>
        <h1>{{ t('clearancePage.title', { card: found.card, tag: found.tag }) }}</h1>
        <p class="lead">
          {{ at(found.at) }} <span class="soft">{{ age(found.at) }}</span>
        </p>
        <p v-if="found.revoked_at" class="trouble revoked" role="alert" data-revoked>
          {{
            t('clearancePage.revoked', {
              by: found.revoked_by,
              at: at(found.revoked_at),
              why: found.revoked_why,
            })
          }}
        </p>
        <p v-if="found.handed_back_at">
          {{
            t(found.handed_to ? 'clearancePage.handedTo' : 'clearancePage.handedBack', {
              to: found.handed_to,
              at: at(found.handed_back_at),
            })
          }}
        </p>
        <section>
          <h2>{{ t('clearancePage.certificate') }}</h2>
          <CertificateLines :clearance="found.id" />
        </section>
        <section>
          <h2>{{ t('clearancePage.asked') }}</h2>
          <p data-asked>{{ evidence.asked ?? t('clearancePage.notWritten') }}</p>
          <p v-if="evidence.listing.files !== undefined">
            {{
              t('clearancePage.cardAsRead', {
                files: counted(evidence.listing.files, 'file'),
                bytes: bytes(evidence.listing.bytes ?? 0),
                at: at(evidence.listing.began_at),
              })
            }}
          </p>
          <ul>
            <li v-for="one in evidence.signatures" :key="one.by" data-signed>
              {{ t('clearancePage.signed', { name: one.name, at: at(one.at) }) }}
            </li>
          </ul>
          <p v-if="evidence.ran?.length" class="soft">
            {{ t('clearancePage.ran', { people: listed(evidence.ran) }) }}
          </p>
        </section>
        <section v-for="roll in evidence.rolls" :key="roll.roll" :data-evidence="roll.roll">
          <h2>
            <RouterLink :to="`/tally/${roll.roll}`">{{ roll.roll }}</RouterLink>
          </h2>
          <p>
            {{
              t('clearancePage.rollHeld', {
                files: counted(roll.files.count, 'file'),
                bytes: bytes(roll.files.bytes),
                waived: number(roll.waived),
                left: number(roll.left_behind),
              })
            }}
            <span class="soft">{{ roll.asked }}</span>
          </p>
          <p class="soft">
            <code>sha256 {{ roll.files.sha256_of_list }}</code>
          </p>
          <CopyEvidence v-for="copy in roll.copies" :key="copy.store" :copy="copy" :at="at" />
        </section>
        <section v-if="evidence.waivers.length">
          <h2>{{ t('clearancePage.waived') }}</h2>
          <ul>
            <li v-for="one in evidence.waivers" :key="one.path">
              <code>{{ one.path }}</code> {{ t('clearancePage.by', { by: one.by, reason: one.reason }) }}
            </li>
          </ul>
        </section>
        <section v-if="evidence.holds_lifted?.length">
          <h2>{{ t('clearancePage.holdsLifted') }}</h2>
          <ul>
            <li v-for="(one, index) in evidence.holds_lifted" :key="index">
              {{
                t('clearancePage.holdLifted', {
                  on: one.on,
                  by: one.by,
                  reason: one.reason,
                  lifted: one.lifted_by,
                  at: at(one.lifted_at),
                })
              }}
              <span class="soft">{{ one.why }}</span>
            </li>
          </ul>
        </section>
        <section>
          <h2>{{ t('clearancePage.since') }}</h2>
          <p v-for="roll in found.rolls_now" :key="roll.tag" :data-now="roll.tag">
            {{ t('clearancePage.now', { tag: roll.tag, state: roll.state }) }}
          </p>
          <ol>
            <li v-for="entry in found.since" :key="entry.id">
              <span class="soft">{{ at(entry.at) }}</span> {{ entry.sentence }}
            </li>
          </ol>
          <p v-if="!found.since.length" class="soft">{{ t('clearancePage.nothingSince') }}</p>
        </section>
        <section>
          <h2>{{ t('clearancePage.files', { files: counted(found.files_in_all, 'file') }) }}</h2>
          <p v-if="!found.files_in_all" class="soft">{{ t('clearancePage.filesNotWritten') }}</p>
          <ul>
            <li v-for="file in found.files" :key="file.roll + file.path" class="file">
              <code>{{ file.path }}</code>
              <span>{{ bytes(file.size) }}</span>
              <code class="soft">{{ file.checksum }}</code>
            </li>
          </ul>
          <p v-if="found.files_in_all > found.files.length" class="soft">
            {{ t('clearancePage.more', { more: number(found.files_in_all - found.files.length) }) }}
          </p>
        </section>
      </template>
    </LastKnown>
  </main>
</template>

<style scoped>
h1 {
  margin: var(--space-2) 0;
  font: 700 var(--type-large) / 1.1 var(--tag);
}
h2 {
  margin: var(--space-5) 0 var(--space-2);
  padding-bottom: var(--space-1);
  border-bottom: var(--line-hair) solid var(--hair);
}
.lead {
  font-size: var(--type-lead);
}
.revoked {
  margin: var(--space-3) 0;
  padding: var(--space-3);
  border: var(--line-bold) solid var(--trouble);
}
.file {
  display: grid;
  grid-template-columns: 1fr 6rem 1fr;
  gap: var(--space-3);
}
@media (--tablet) {
  .file {
    grid-template-columns: 1fr auto;
  }
  .file .soft {
    grid-column: 1 / -1;
  }
}
</style>
