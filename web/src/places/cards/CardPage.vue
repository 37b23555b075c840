<script setup lang="ts">
import { computed } from 'vue'
import {
  useHandBack,
  usePassCard,
  useRevokeClearance,
  useSetAside,
  useTrustCard,
  useUseAgain,
} from '../../api/acts/clearing'
import { useCard } from '../../api/queries/useCard'
import { useWaterline } from '../../api/queries/useWaterline'
import PennantMark from '../../marks/PennantMark.vue'
import RunBars from '../../marks/RunBars.vue'
import VerdictMark from '../../marks/VerdictMark.vue'
import AccountLines from '../../parts/AccountLines.vue'
import HoldForm from '../../parts/HoldForm.vue'
import HoldList from '../../parts/HoldList.vue'
import LastKnown from '../../parts/LastKnown.vue'
import NoteList from '../../parts/NoteList.vue'
import SayIt from '../../parts/SayIt.vue'
import WhoHasIt from '../../parts/WhoHasIt.vue'
import { useWho } from '../../shell/me'
import { listed, t } from '../../words/say'
import { age, dayAndClock } from '../../words/times'
import { bytes, counted, rate } from '../../words/units'
import { VERDICTS } from '../../words/verdicts'
import { LIVES } from './lives'
import LostWith from './LostWith.vue'
import TakeOff from './TakeOff.vue'
import WaiveStretch from './WaiveStretch.vue'

/** A card: where it is and who has it, what is on it, what people said of it, and what it did over its life. */
const props = defineProps<{ label: string }>()
const { whyNot } = useWho()
const detail = useCard(() => props.label)
const card = computed(() => detail.data.value?.card)
const one = computed(() => detail.data.value?.case)
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const handBack = useHandBack()
const revoke = useRevokeClearance()
const aside = useSetAside()
const again = useUseAgain()
const trust = useTrustCard()
const pass = usePassCard()
const LOSSES = [
  { kind: 'lost', act: t('cardPage.lost'), ask: t('cardPage.lostWhat'), go: t('cardPage.lostIt') },
  { kind: 'broken', act: t('cardPage.broken'), ask: t('cardPage.whatIsWrong'), go: t('cardPage.brokenIt') },
] as const
const oldestFirst = computed(() => [...(detail.data.value?.runs ?? [])].reverse())
const mayHandBack = computed(
  () =>
    one.value &&
    !one.value.slot &&
    (one.value.standing === 'cleared' || (one.value.standing === 'handed back' && !one.value.handed_to)),
)
const mayRevoke = computed(() => one.value?.cleared_at && !one.value.revoked_at)
const toSign = computed(() => one.value?.group === 'sign now')
const cleared = computed(() => {
  const now = one.value
  if (!now?.cleared_at) return ''
  const parts = [t('cardPage.cleared', { age: age(now.cleared_at), people: listed(now.cleared_by) })]
  if (now.handed_back_at)
    parts.push(
      now.handed_to
        ? t('cardPage.wentTo', { to: now.handed_to, age: age(now.handed_back_at) })
        : t(now.slot ? 'cardPage.leftAndBack' : 'cardPage.left', { age: age(now.handed_back_at) }),
    )
  if (now.revoked_at)
    parts.push(t('cardPage.revoked', { by: now.revoked_by, age: age(now.revoked_at), why: now.revoked_why }))
  return parts.join(' ')
})
</script>

<template>
  <main class="place">
    <p>
      <RouterLink to="/cards">{{ t('places.cards') }}</RouterLink>
    </p>
    <LastKnown
      :error="detail.error.value"
      :known="Boolean(detail.data.value)"
      :updated-at="detail.dataUpdatedAt.value"
    >
      <template v-if="card && one && detail.data.value">
        <header>
          <PennantMark :letter="card.camera.letter" :size="44" />
          <h1 class="tag">{{ card.label }}</h1>
          <VerdictMark :verdict="VERDICTS[card.standing]" />
          <p>
            <strong>{{ LIVES[card.life] }}</strong>, {{ card.whereabouts
            }}<span class="soft">
              · {{ [card.kind, card.capacity ? bytes(card.capacity) : ''].filter(Boolean).join(', ') }}</span
            >
          </p>
        </header>
        <WhoHasIt
          v-if="!one.slot"
          :of="card.label"
          :holder="card.holder"
          :since="card.since"
          :note="card.note"
          :busy="pass.isPending.value"
          :error="pass.error.value"
          @give="
            (given, done) =>
              pass.mutate(
                { label, username: given.username, outside: given.outside, note: given.note },
                { onSuccess: done },
              )
          "
        />
        <p data-sentence>{{ one.sentence }}</p>
        <p v-if="cleared" data-cleared>
          {{ cleared }}
          <RouterLink v-if="one.clearance_id" :to="`/clearances/${one.clearance_id}`" data-clearance>{{
            t('cardPage.whatItWasClearedOn')
          }}</RouterLink>
        </p>
        <p class="soft">{{ t('cardPage.asked', { rule: one.asked }) }}</p>
        <NoteList on="card" :name="card.label" />
        <HoldList :holds="one.holds" />
        <p class="line acts">
          <RouterLink
            v-if="toSign"
            class="act small"
            :to="{ path: '/clearing', query: { card: card.label, sign: '1' } }"
            >{{ t('cardPage.sign', { tag: one.tag ?? '' }) }}</RouterLink
          >
          <SayIt
            v-if="mayHandBack"
            name="hand-back"
            :act="t('cardPage.handBack')"
            :ask="t('cardPage.toWhom')"
            :go="t('cardPage.hasIt')"
            :why-not="whyNot('sign')"
            :busy="handBack.isPending.value"
            :error="handBack.error.value"
            @say="(to, done) => handBack.mutate({ card: card!.card_id, to }, { onSuccess: done })"
          />
          <SayIt
            v-if="mayRevoke"
            name="revoke"
            :act="t('cardPage.revoke')"
            :ask="t('cardPage.whyRevoked')"
            :go="t('cardPage.revokeIt')"
            :why-not="whyNot('revoke')"
            :busy="revoke.isPending.value"
            :error="revoke.error.value"
            @say="(reason, done) => revoke.mutate({ card: card!.card_id, reason }, { onSuccess: done })"
          />
          <HoldForm on="card" :name="card.label" :words="t('cardPage.hold')" />
          <HoldForm
            on="camera"
            :name="card.camera.letter"
            :words="t('cardPage.holdCamera', { letter: card.camera.letter })"
          />
          <SayIt
            v-if="one.out_of_use"
            name="use-again"
            :act="t(card.life === 'lost' ? 'cardPage.found' : 'cardPage.useAgain')"
            :ask="t('cardPage.whyUsedAgain')"
            :go="t('cardPage.mayBeUsed')"
            :why-not="whyNot(card.life === 'retired' ? 'set_up' : 'set_aside')"
            :busy="again.isPending.value"
            :error="again.error.value"
            @say="(why, done) => again.mutate({ card: card!.card_id, why }, { onSuccess: done })"
          />
          <SayIt
            v-if="!one.out_of_use"
            name="quarantine"
            :act="t('cardPage.quarantine')"
            :ask="t('cardPage.whatIsWrong')"
            :go="t('cardPage.quarantineIt')"
            :why-not="whyNot('set_aside')"
            :busy="aside.isPending.value"
            :error="aside.error.value"
            @say="
              (reason, done) =>
                aside.mutate({ card: card!.card_id, kind: 'quarantined', reason }, { onSuccess: done })
            "
          />
          <SayIt
            v-for="loss in one.out_of_use || one.slot ? [] : LOSSES"
            :key="loss.kind"
            :name="loss.kind"
            :act="loss.act"
            :ask="loss.ask"
            :go="loss.go"
            :why-not="whyNot('set_aside')"
            :busy="aside.isPending.value"
            :error="aside.error.value"
            @say="
              (reason, done) =>
                aside.mutate({ card: card!.card_id, kind: loss.kind, reason }, { onSuccess: done })
            "
          >
            <LostWith :lost="detail.data.value.if_lost" />
          </SayIt>
          <SayIt
            v-if="card.life !== 'retired'"
            name="retire"
            :act="t('cardPage.retire')"
            :ask="t('cardPage.whatIsWrong')"
            :go="t('cardPage.retireIt')"
            :why-not="whyNot('set_aside')"
            :busy="aside.isPending.value"
            :error="aside.error.value"
            @say="
              (reason, done) =>
                aside.mutate({ card: card!.card_id, kind: 'retired', reason }, { onSuccess: done })
            "
          />
        </p>
        <div v-if="card.doubts.length" class="doubts" role="alert" data-doubts>
          <p v-for="doubt in card.doubts" :key="doubt" class="trouble">
            {{ t('cardPage.doubt', { doubt }) }}
          </p>
          <SayIt
            name="trust"
            :act="t('cardPage.trust')"
            :ask="t('cardPage.whyTrusted')"
            :go="t('cardPage.iAnswerForIt')"
            :why-not="whyNot('set_aside')"
            :busy="trust.isPending.value"
            :error="trust.error.value"
            @say="
              (reason, done) =>
                trust.mutate({ card: card!.card_id, reason, seen: card!.doubts }, { onSuccess: done })
            "
          />
        </div>
        <WaiveStretch :one="one" />
        <TakeOff :detail="detail.data.value" />
        <section>
          <h2>{{ t('cardPage.overItsLife') }}</h2>
          <div class="life">
            <p data-record>
              {{ t('cardPage.filled', {}, card.cycles) }},
              {{ t('cardPage.read', { bytes: bytes(card.life_bytes) }) }},
              <span :class="{ trouble: card.errors }">{{ t('cardPage.errors', {}, card.errors) }}</span>{{
                card.best_rate && card.rate
                  ? t('cardPage.speed', { now: rate(card.rate), best: rate(card.best_rate) })
                  : ''
              }}.
            </p>
            <RunBars :runs="oldestFirst" :label="t('cardPage.speedByRun')" />
          </div>
        </section>
        <section v-if="detail.data.value.rolls.length">
          <h2>{{ t('cardPage.rolls') }}</h2>
          <ul class="rows">
            <li v-for="roll in detail.data.value.rolls" :key="roll.tag" class="roll" :data-roll="roll.tag">
              <RouterLink class="tag" :to="`/tally/${roll.tag}`">{{ roll.tag }}</RouterLink>
              <span>{{ roll.shoot_day }}</span>
              <span>{{ counted(roll.files, 'file') }}, {{ bytes(roll.bytes) }}</span>
              <span :class="{ trouble: roll.state === 'below the line' }">{{
                t('cardPage.rollStands', {
                  state: roll.state,
                  cleared: roll.cleared ? t('cardPage.rollCleared') : t('cardPage.rollNotCleared'),
                })
              }}</span>
            </li>
          </ul>
          <AccountLines on="card" :about="label" />
        </section>
        <section>
          <h2>{{ t('cardPage.history') }}</h2>
          <ol>
            <li v-for="entry in detail.data.value.events" :key="entry.id" class="event">
              <span class="soft">{{ dayAndClock(entry.at, zone) }}</span>
              <span>{{ entry.sentence }}</span>
              <span class="soft">{{ entry.person ?? entry.origin }}</span>
            </li>
          </ol>
        </section>
      </template>
    </LastKnown>
  </main>
</template>

<style scoped>
header {
  display: grid;
  grid-template-columns: auto auto auto 1fr;
  gap: var(--space-3) var(--space-5);
  align-items: center;
  margin: var(--space-2) 0 var(--space-4);
}
h1 {
  margin: 0;
  font-size: var(--type-huge);
}
h2 {
  margin: var(--space-6) 0 var(--space-2);
}
.acts {
  margin: var(--space-3) 0;
}
.doubts {
  display: grid;
  gap: var(--space-1);
  padding: var(--space-3);
  border: var(--line-bold) solid var(--trouble);
}
.life {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-4) var(--space-8);
  align-items: end;
}
.roll {
  --columns: 6rem 8rem 1fr 1.4fr;
}
.event {
  display: grid;
  grid-template-columns: 10rem 1fr auto;
  gap: var(--space-3);
  padding: var(--space-1) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
@media (--tablet) {
  header {
    grid-template-columns: auto 1fr;
  }
  header p {
    grid-column: 1 / -1;
  }
  .event {
    grid-template-columns: 1fr;
    gap: 0;
  }
}
</style>
