<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { refDebounced } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useTally } from '../../api/queries'
import WaterEdge from '../../marks/WaterEdge.vue'
import MoreRows from '../../parts/MoreRows.vue'
import { counted } from '../../words/units'
import TallyRow from './TallyRow.vue'
import LastKnown from '../../parts/LastKnown.vue'

const search = ref('')
const tally = useTally(refDebounced(search, 200))
const pages = computed(() => tally.data.value?.pages ?? [])
const rolls = computed(() => pages.value.flatMap((page) => page.rolls))
const stores = computed(() => pages.value[0]?.stores ?? [])
const inAll = computed(() => pages.value[0]?.in_all ?? 0)
const unsafe = computed(() => rolls.value.filter((roll) => roll.state !== 'safe'))
const safe = computed(() => rolls.value.filter((roll) => roll.state === 'safe'))
</script>

<template>
  <main class="place">
    <h1 class="unseen">Tally</h1>
    <LastKnown
      :error="tally.error.value"
      :known="Boolean(tally.data.value)"
      :updated-at="tally.dataUpdatedAt.value"
      ><template v-if="tally.data.value">
        <p v-if="inAll > 12 || search" class="find">
          <label>Find a roll or a card <InputText v-model="search" class="field" data-search /></label>
          <span class="soft" role="status">{{ counted(inAll, 'roll') }}</span>
        </p>
        <p v-if="!rolls.length && search" class="empty">
          No roll’s tag and no card’s label has “{{ search }}” in it.
        </p>
        <p v-else-if="!rolls.length" class="empty">
          No roll yet. The first one begins with a card on the <RouterLink to="/">Bench</RouterLink>.
        </p>
        <div v-else class="scroll" tabindex="0" role="region" aria-label="Rolls by store">
          <table>
            <caption>
              The rule:
              {{
                pages[0]?.rule
              }}.
            </caption>
            <thead>
              <tr>
                <th scope="col">Roll</th>
                <th scope="col">Raft</th>
                <th
                  v-for="store in stores"
                  :key="store.name"
                  scope="col"
                  :class="['store', { lost: store.lost }]"
                >
                  {{ store.name }}
                  <small
                    >{{ store.location
                    }}{{ store.lost ? ', lost' : store.online ? '' : ', not connected' }}</small
                  >
                </th>
              </tr>
            </thead>
            <tbody v-if="unsafe.length" class="unsafe">
              <TallyRow v-for="roll in unsafe" :key="roll.tag" :roll="roll" :stores="stores" />
              <tr class="surface" aria-hidden="true">
                <td :colspan="stores.length + 2"><WaterEdge /></td>
              </tr>
            </tbody>
            <tbody>
              <TallyRow v-for="roll in safe" :key="roll.tag" :roll="roll" :stores="stores" />
            </tbody>
          </table>
          <MoreRows
            v-if="tally.hasNextPage.value"
            :words="`${rolls.length} of ${counted(inAll, 'roll')} shown: show more`"
            :asking="tally.isFetchingNextPage.value"
            @more="tally.fetchNextPage()"
          />
        </div> </template
    ></LastKnown>
  </main>
</template>

<style scoped>
.find {
  display: flex;
  gap: var(--space-4);
  align-items: baseline;
  padding-bottom: var(--space-2);
}
.scroll {
  overflow-x: auto;
}
table {
  width: 100%;
  border-collapse: collapse;
}
caption {
  padding-bottom: var(--space-2);
  text-align: left;
  color: var(--ink-soft);
}
thead th {
  padding: var(--space-1) var(--space-2) var(--space-2) 0;
  border-bottom: var(--line) solid var(--ink);
  text-align: left;
  vertical-align: bottom;
  font: 700 var(--type-lead)/1.1 var(--tag);
  white-space: nowrap;
}
small {
  display: block;
  font: 400 var(--type-note)/1.3 var(--text);
  color: var(--ink-soft);
}
.lost {
  color: var(--trouble);
}
@media (--phone) {
  .store {
    display: none;
  }
}
.surface td {
  padding: 0;
  color: var(--water);
}
.surface svg {
  transform: scaleY(-1);
}
.empty {
  padding: var(--space-10) 0;
  font-size: var(--type-tag);
}
</style>
