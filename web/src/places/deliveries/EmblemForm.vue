<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import { useEmblemKept } from '../../api/acts/deliveries'
import { useEmblem } from '../../api/queries/useDeliveries'
import { useWaterline } from '../../api/queries/useWaterline'
import ActButton from '../../parts/ActButton.vue'
import LastKnown from '../../parts/LastKnown.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { dayAndClock } from '../../words/times'

/** The picture by which the production shows itself to clients: as it is made, not as the file was. */
const { may, whyNot } = useWho()
const asked = useEmblem()
const keep = useEmblemKept()
const line = useWaterline()
const zone = computed(() => line.data.value?.time_zone ?? 'UTC')
const file = useTemplateRef<HTMLInputElement>('file')

function chosen() {
  const one = file.value?.files?.[0]
  if (one) keep.mutate(one)
  if (file.value) file.value.value = ''
}
</script>

<template>
  <section class="emblem" data-emblem>
    <h2>{{ t('deliveries.emblem') }}</h2>
    <LastKnown
      :error="asked.error.value"
      :known="Boolean(asked.data.value)"
      :updated-at="asked.dataUpdatedAt.value"
    >
      <p v-if="asked.data.value?.picture" class="shown">
        <img :src="asked.data.value.picture" :alt="t('deliveries.emblemShown')" />
        <span class="soft">{{
          t('deliveries.emblemBy', { at: dayAndClock(asked.data.value.at!, zone), by: asked.data.value.by })
        }}</span>
        <ActButton
          type="button"
          link
          :label="t('deliveries.forgetEmblem')"
          :why-not="whyNot('deliver')"
          :busy="keep.isPending.value"
          data-forget-emblem
          @press="keep.mutate(null)"
        />
      </p>
      <p v-else class="soft">{{ t('deliveries.noEmblem') }}</p>
    </LastKnown>
    <label v-if="may('deliver')"
      >{{ t('deliveries.emblemFile') }}
      <input ref="file" type="file" accept="image/*" class="field" data-emblem-file @change="chosen"
    /></label>
    <SaidNo :error="keep.error.value" />
  </section>
</template>

<style scoped>
.emblem {
  display: grid;
  gap: var(--space-3);
  justify-items: start;
  margin-top: var(--space-5);
}
.shown {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
  align-items: center;
}
img {
  max-width: 10rem;
  max-height: 6rem;
}
</style>
