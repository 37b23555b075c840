<script setup lang="ts">
import { useRuleEffect } from '../../api/queries/useRuleEffect'
import type { Shapes } from '../../api/client'
import EffectSaid from './EffectSaid.vue'

/** What a changed rule would do to cards and rolls as they are now, before it is saved. */
const props = defineProps<{ wanted: Shapes['RuleWanted'] }>()
const asked = useRuleEffect(() => props.wanted)
</script>

<template>
  <EffectSaid v-if="Object.keys(wanted).length" :effect="asked.data.value" :error="asked.error.value" />
</template>
