<script setup lang="ts">
import { useBringRoll } from '../../api/acts/copies'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import RunLine from '../../parts/RunLine.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** Room that is or was made, and the way back. */
defineProps<{ line: Shapes['RoomRunOut']; store: string }>()
const { whyNot } = useWho()
const bring = useBringRoll()
</script>

<template>
  <div :data-room-run="line.tag">
    <RunLine :line="line">
      <ActButton
        v-if="line.off"
        type="button"
        link
        :label="t('makeRoom.back')"
        :why-not="whyNot('offload')"
        :busy="bring.isPending.value"
        :data-back="line.tag"
        @press="bring.mutate({ roll: line.roll, store })"
      />
    </RunLine>
    <SaidNo :error="bring.error.value" />
  </div>
</template>
