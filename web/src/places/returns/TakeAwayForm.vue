<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { ref } from 'vue'
import { useTakeAway } from '../../api/acts/returns'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import type { Target } from './target'

/** What is seen of it, with a page that opens on any computer. */
const props = defineProps<{ target: Target; lacks?: string | undefined }>()
const { whyNot } = useWho()
const words = ref(true)
const take = useTakeAway()
const go = () => take.mutate({ ...props.target, words: words.value })
</script>

<template>
  <form data-take-away @submit.prevent="lacks ?? go()">
    <h3>{{ t('takeAway.title') }}</h3>
    <p class="soft">{{ t('takeAway.says') }}</p>
    <p class="line">
      <label class="ticked"><Checkbox v-model="words" binary /> {{ t('takeAway.words') }}</label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('takeAway.take')"
        :why-not="whyNot('offload') ?? lacks"
        :busy="take.isPending.value"
        data-take-away-go
      />
    </p>
    <SaidNo :error="take.error.value" />
  </form>
</template>
