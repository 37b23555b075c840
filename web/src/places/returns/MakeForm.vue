<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { ref } from 'vue'
import { useMakeWorking } from '../../api/acts/returns'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { CODECS, HEIGHTS } from './recipes'
import type { Target } from './target'

/** Copies to work with, of every recording with pictures, made by a recipe. */
const props = defineProps<{ target: Target; lacks?: string | undefined }>()
const { whyNot } = useWho()
const codec = ref<Shapes['Codec']>('prores_proxy')
const height = ref(0)
const burnIn = ref(false)
const make = useMakeWorking()
const go = () =>
  make.mutate({ ...props.target, codec: codec.value, height: height.value, burn_in: burnIn.value })
</script>

<template>
  <form data-make @submit.prevent="lacks ?? go()">
    <h3>{{ t('making.title') }}</h3>
    <p class="soft">{{ t('making.says') }}</p>
    <p class="line">
      <ChooseOne v-model="codec" :label="t('making.pictures')" :options="CODECS" data-codec />
      <ChooseOne v-model="height" :label="t('making.size')" :options="HEIGHTS" data-height />
      <label class="ticked"><Checkbox v-model="burnIn" binary /> {{ t('making.burnIn') }}</label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('making.make')"
        :why-not="whyNot('offload') ?? lacks"
        :busy="make.isPending.value"
        data-make-go
      />
    </p>
    <SaidNo :error="make.error.value" />
  </form>
</template>
