<script setup lang="ts">
import { computed } from 'vue'
import { useSayNewsSeen } from '../../api/acts/news'
import { useNews } from '../../api/queries/useNews'
import ActButton from '../../parts/ActButton.vue'
import LastKnown from '../../parts/LastKnown.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { NEWS_KINDS } from '../../words/news'
import { number, t } from '../../words/say'
import { age } from '../../words/times'
import NewsChoices from './NewsChoices.vue'
import NewsPrograms from './NewsPrograms.vue'

/** What happened that matters: what nobody has seen yet first; and who is told of what. */
const { whyNot } = useWho()
const asked = useNews()
const seen = useSayNewsSeen()
const news = computed(() => asked.data.value?.news ?? [])
const unseen = computed(() => news.value.filter((one) => !one.seen_by && !one.over))
const rest = computed(() => news.value.filter((one) => one.seen_by || one.over))
</script>

<template>
  <main class="place">
    <h1>{{ t('news.title') }}</h1>
    <LastKnown
      :error="asked.error.value"
      :known="Boolean(asked.data.value)"
      :updated-at="asked.dataUpdatedAt.value"
    >
      <section class="chapter" data-unseen>
        <h2>{{ t('news.unseen') }}</h2>
        <p v-if="!unseen.length" data-nothing-new>{{ t('news.nothing') }}</p>
        <ul>
          <li v-for="one in unseen" :key="one.id" :class="{ grave: one.grave }" :data-news="one.kind">
            <strong>{{ NEWS_KINDS[one.kind] }}</strong>
            <span>{{ one.sentence }}</span>
            <span class="soft"
              >{{ age(one.at) }}<template v-if="one.escalated"> · {{ t('news.escalated') }}</template></span
            >
            <ActButton
              type="button"
              link
              :label="t('news.iKnow')"
              :why-not="whyNot('note')"
              data-i-know
              @press="seen.mutate([one.id])"
            />
          </li>
        </ul>
        <ActButton
          v-if="unseen.length > 1"
          type="button"
          class="quiet small"
          :label="t('news.iKnowAll', { count: number(unseen.length) })"
          :why-not="whyNot('note')"
          :busy="seen.isPending.value"
          data-i-know-all
          @press="seen.mutate(unseen.map((one) => one.id))"
        />
        <SaidNo :error="seen.error.value" />
      </section>
      <section v-if="rest.length" class="chapter" data-before>
        <h2>{{ t('news.before') }}</h2>
        <ul>
          <li v-for="one in rest" :key="one.id" :data-news="one.kind">
            <strong>{{ NEWS_KINDS[one.kind] }}</strong>
            <span>{{ one.sentence }}</span>
            <span class="soft">{{ age(one.at) }}</span>
            <span class="soft">{{
              [one.over ? t('news.over') : '', one.seen_by ? t('news.seenBy', { by: one.seen_by }) : '']
                .filter(Boolean)
                .join(', ')
            }}</span>
          </li>
        </ul>
      </section>
      <template v-if="asked.data.value">
        <NewsChoices :page="asked.data.value" />
        <NewsPrograms :page="asked.data.value" />
      </template>
    </LastKnown>
  </main>
</template>

<style scoped>
h1 {
  font: 700 var(--type-large)/1.2 var(--tag);
}
li {
  display: grid;
  grid-template-columns: 9rem 1fr auto auto;
  gap: var(--space-1) var(--space-4);
  padding: var(--space-1h) 0 var(--space-1h) var(--space-3);
  border-bottom: var(--line-hair) solid var(--hair);
}
.grave {
  box-shadow: inset var(--line-bar) 0 0 var(--trouble);
}
ul + .may {
  margin-top: var(--space-3);
}
@media (--upright) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
