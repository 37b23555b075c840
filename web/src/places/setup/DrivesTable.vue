<script setup lang="ts">
import { computed } from 'vue'
import { useVolumes } from '../../api/queries/useVolumes'
import type { Shapes } from '../../api/client'
import { t } from '../../words/say'
import DriveRow from './DriveRow.vue'
import StoreRow from './StoreRow.vue'

/** The stores, and what else is plugged in and may become one. */
defineProps<{ stores: readonly Shapes['StoreOut'][] }>()
const volumes = useVolumes()
const others = computed(() => (volumes.data.value ?? []).filter((one) => !one.store))
</script>

<template>
  <ul class="rows stores">
    <StoreRow v-for="store in stores" :key="store.name" :store="store" />
  </ul>
  <h3>{{ t('drivesTable.pluggedIn') }}</h3>
  <p v-if="!others.length" class="soft">{{ t('drivesTable.nothingElse') }}</p>
  <ul class="rows others">
    <DriveRow v-for="one in others" :key="one.station + one.path" :volume="one" />
  </ul>
</template>

<style scoped>
.stores {
  --columns: 12rem 1fr auto;
}
.others {
  --columns: 12rem 1fr auto auto;
}
h3 {
  margin: var(--space-4) 0 var(--space-1);
}
</style>
