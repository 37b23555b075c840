<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useProveJournal } from '../../api/acts/session'
import { useLog, useWaterline } from '../../api/queries'
import { dayAndClock } from '../../words/times'
import LastKnown from '../../parts/LastKnown.vue'

const before = ref<number>()
const log = useLog(before)
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const seal = useProveJournal()
const sealed = computed(() => {
  const answer = seal.data.value
  if (!answer) return ''
  return answer.broken_at === null
    ? 'Every entry is as it was written.'
    : `Entry ${answer.broken_at} was changed after it was written.`
})
</script>

<template>
  <main class="place">
    <h1 class="unseen">Log</h1>
    <LastKnown :error="log.error.value" :known="Boolean(log.data.value)" :updated-at="log.dataUpdatedAt.value"
      ><template v-if="log.data.value">
        <p class="seal">
          <Button class="act quiet small" label="Prove the log" @click="seal.mutate(undefined)" />
          <span role="status">{{ sealed }}</span>
        </p>
        <ol>
          <li v-for="entry in log.data.value.entries" :key="entry.id">
            <time :datetime="entry.at">{{ dayAndClock(entry.at, zone) }}</time>
            <span class="tag">{{ entry.subject }}</span>
            <span>{{ entry.sentence }}</span>
            <span class="soft">{{ entry.person ?? entry.origin }}</span>
          </li>
        </ol>
        <p class="seal">
          <Button v-if="before" class="act quiet small" label="Newest" @click="before = undefined" />
          <Button
            v-if="log.data.value.before"
            class="act quiet small"
            label="Older"
            @click="before = log.data.value?.before ?? undefined"
          />
        </p> </template
    ></LastKnown>
  </main>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 150px 110px 1fr 160px;
  gap: 4px 16px;
  align-items: baseline;
  padding: 7px 0;
  border-bottom: 1px solid var(--hair);
}
.tag {
  font-size: 18px;
}
.seal {
  display: flex;
  gap: 12px;
  align-items: center;
  padding: 6px 0;
}
@media (max-width: 700px) {
  li {
    grid-template-columns: 1fr auto;
  }
}
</style>
