<script setup lang="ts">
import { computed } from 'vue'
import { useAskDecoding } from '../../api/acts/choosing'
import { useChoosing } from '../../api/queries/useChoosing'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { age } from '../../words/times'
import type { Shapes } from '../../api/client'

/** Which clips of a roll to open, so that little looking finds much; and whether all of it decodes. */
const props = defineProps<{ tag: string }>()
const emit = defineEmits<{ open: [path: string] }>()
const { whyNot } = useWho()
const choosing = useChoosing(() => props.tag)
const spots = computed(() => choosing.data.value?.spots ?? [])
const decoding = computed(() => choosing.data.value?.decoding)
const ask = useAskDecoding()
const nameOf = (path: string) => path.split('/').at(-1) ?? path
const WHY: Record<Shapes['Why'], string> = {
  first: t('spotCheck.first'),
  last: t('spotCheck.last'),
  longest: t('spotCheck.longest'),
  trouble: t('spotCheck.trouble'),
  unshown: t('spotCheck.unshown'),
  breaks: t('spotCheck.breaks'),
}
</script>

<template>
  <section v-if="spots.length" class="spots" :aria-label="t('spotCheck.title')" data-spots>
    <p class="spot-line">
      <span>{{ t('spotCheck.open') }}</span>
      <span v-for="spot in spots" :key="spot.path" :data-spot="nameOf(spot.path)">
        <ActButton link :label="nameOf(spot.path)" @press="emit('open', spot.path)" />
        <span class="soft"
          >{{ spot.why.map((one) => WHY[one]).join(', ')
          }}{{ spot.opened ? t('spotCheck.opened') : '' }}</span
        >
      </span>
    </p>
    <p class="spot-line">
      <span v-if="decoding" :class="{ trouble: decoding.breaking }" data-decoding>
        {{
          decoding.left
            ? t('spotCheck.decoding', {
                done: decoding.recordings - decoding.left,
                all: decoding.recordings,
              })
            : t('spotCheck.decodedAll', { age: age(decoding.at) }, decoding.recordings)
        }}
        {{ decoding.breaking ? t('spotCheck.breaking', {}, decoding.breaking) : '' }}
        {{ decoding.unknown ? t('spotCheck.unknown', {}, decoding.unknown) : '' }}
        {{ !decoding.left && !decoding.breaking && !decoding.unknown ? t('spotCheck.allWell') : '' }}
      </span>
      <ActButton
        v-if="!decoding?.left"
        class="quiet small"
        :label="decoding ? t('spotCheck.again') : t('spotCheck.ask')"
        :why-not="whyNot('check')"
        :busy="ask.isPending.value"
        data-ask-decoding
        @press="ask.mutate(tag)"
      />
    </p>
    <SaidNo :error="ask.error.value" />
  </section>
</template>

<style scoped>
.spots {
  margin-top: var(--space-2);
}
.spot-line {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-4);
  align-items: baseline;
  margin: var(--space-1) 0;
}
</style>
