<script setup lang="ts">
import { computed } from 'vue'
import { HERE } from '../../api/here'
import { useCertificateKeys } from '../../api/queries/useCertificateKeys'
import { t } from '../../words/say'

/** A clearance as it is handed out: signed, on paper, and the list of what was revoked. */
const props = defineProps<{ clearance: number }>()
const here = `/api/productions/${encodeURIComponent(HERE)}/certificates`
const at = (kind: 'jsonl' | 'pdf') => `${here}/${props.clearance}/certificate.${kind}`
const keys = useCertificateKeys()
const key = computed(() => keys.data.value?.[0]?.fingerprint)
</script>

<template>
  <div data-certificate>
    <p class="line">
      <a :href="at('pdf')">{{ t('certificateLines.paper') }}</a>
      <a :href="at('jsonl')" download>{{ t('certificateLines.signed') }}</a>
      <a :href="`${here}/revoked.jsonl`" download>{{ t('certificateLines.revoked') }}</a>
    </p>
    <p v-if="key" class="soft">
      {{ t('certificateLines.key') }} <code data-fingerprint>{{ key }}</code>
    </p>
    <p v-else-if="keys.data.value" class="soft">{{ t('certificateLines.noKey') }}</p>
  </div>
</template>
