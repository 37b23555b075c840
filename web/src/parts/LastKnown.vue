<script setup lang="ts">
import Skeleton from 'primevue/skeleton'
import { computed } from 'vue'
import { age } from '../words/times'
import { t } from '../words/say'

/**
 * What a place shows of an answer. Where a later answer did not come, what was last known stays: dimmed, with its age
 * and the reason. Before the first answer a few grey planks stand for what will come.
 */
const props = defineProps<{ error: Error | null; known: boolean; updatedAt: number }>()
const since = computed(() => age(new Date(props.updatedAt).toISOString()))
</script>

<template>
  <p v-if="error" role="alert" class="trouble" data-not-answered>
    {{ error.message
    }}<template v-if="known">{{ ' ' }}{{ t('lastKnown.whatStandsBelowIsFrom', { since }) }}</template>
  </p>
  <div v-if="!known && !error" aria-busy="true" data-loading>
    <span class="unseen" role="status">{{ t('lastKnown.itIsBeingAskedFor') }}</span>
    <Skeleton v-for="line in 4" :key="line" />
  </div>
  <div v-if="known" :class="{ old: error }"><slot /></div>
</template>
