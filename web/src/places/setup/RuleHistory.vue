<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRuleChanges } from '../../api/queries/useRuleChanges'
import { t } from '../../words/say'
import { age } from '../../words/times'

/** What was asked from when on, by whom and why. */
const asked = useRuleChanges()
const MOST = 3
const all = ref(false)
const changes = computed(() => asked.data.value ?? [])
const shown = computed(() => (all.value ? changes.value : changes.value.slice(0, MOST)))
</script>

<template>
  <div v-if="changes.length" data-rule-history>
    <h3>{{ t('ruleHistory.title') }}</h3>
    <ul>
      <li v-for="one in shown" :key="one.at">
        {{ t('ruleHistory.changed', { age: age(one.at), by: one.by, rule: one.sentence }) }}
        <span class="soft">{{ one.reason }}</span>
      </li>
    </ul>
    <button v-if="changes.length > MOST" type="button" class="link" @click="all = !all">
      {{ all ? t('ruleHistory.less') : t('ruleHistory.all') }}
    </button>
  </div>
</template>

<style scoped>
h3 {
  margin: var(--space-4) 0 var(--space-1);
}
</style>
