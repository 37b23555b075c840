<script setup lang="ts">
import { computed } from 'vue'
import { t } from '../../words/say'
import { counted } from '../../words/units'
import type { CopyEvidence } from './evidence'

/** A copy as it stood when the card was cleared. */
const props = defineProps<{ copy: CopyEvidence; at: (moment: string | null | undefined) => string }>()
const readings = computed(() => props.copy.readings.flatMap((one) => (typeof one === 'number' ? [] : [one])))
const place = computed(() =>
  [props.copy.device, props.copy.medium, props.copy.location].filter(Boolean).join(', '),
)
</script>

<template>
  <div class="copy" :data-copy-evidence="copy.store">
    <span class="tag">{{ copy.store }}</span>
    <span>
      <strong v-if="copy.counts !== undefined">{{
        t(copy.counts ? 'copyEvidence.counted' : 'copyEvidence.didNotCount')
      }}</strong>
      {{ t('copyEvidence.how', { level: copy.level, read: at(copy.read_at), looked: at(copy.looked_at) }) }}
      <span v-if="copy.missing_files" class="trouble">
        {{ t('copyEvidence.missing', { files: counted(copy.missing_files, 'file') }) }}
      </span>
      <span class="soft"
        >{{ place }}{{ copy.offsite ? t('copyEvidence.offsite') : ''
        }}{{ copy.connected === false ? t('copyEvidence.away') : '' }} · <code>{{ copy.folder }}</code></span
      >
      <span v-for="one in readings" :key="one.id" class="soft reading">
        {{
          t('copyEvidence.reading', {
            origin: one.origin,
            at: at(one.began_at),
            level: one.level,
            files: counted(one.files, 'file'),
          })
        }}
      </span>
      <code class="soft reading">{{ copy.devices.join(', ') }}</code>
    </span>
  </div>
</template>

<style scoped>
.copy {
  display: grid;
  grid-template-columns: 10rem 1fr;
  gap: var(--space-1) var(--space-4);
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.reading {
  display: block;
}
@media (--tablet) {
  .copy {
    grid-template-columns: 1fr;
  }
}
</style>
