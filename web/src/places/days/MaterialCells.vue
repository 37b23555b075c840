<script setup lang="ts">
import type { Shapes } from '../../api/client'
import { number, t } from '../../words/say'
import { longClock } from '../../words/times'
import { bytes, exactBytes } from '../../words/units'

/** Clips, length, files and size, as cells of a row. */
defineProps<{ material: Shapes['Material'] }>()
</script>

<template>
  <td class="number">{{ number(material.clips) }}</td>
  <td class="number" data-length>
    {{ material.seconds ? longClock(material.seconds) : '–' }}
    <small v-if="material.untold" data-untold>{{ t('days.untold', {}, material.untold) }}</small>
  </td>
  <td class="number">{{ number(material.files) }}</td>
  <td class="number" :title="exactBytes(material.bytes)">{{ bytes(material.bytes) }}</td>
</template>
