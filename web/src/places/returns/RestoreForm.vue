<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useRestore } from '../../api/acts/returns'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import type { Target } from './target'

/** The files themselves, from copies. */
const props = defineProps<{ target: Target; clip?: string | undefined; lacks?: string | undefined }>()
const { whyNot } = useWho()
const reason = ref('')
const bag = ref(false)
const restore = useRestore()
const go = () =>
  restore.mutate({
    ...props.target,
    clip: props.clip ?? '',
    system_disk_reason: reason.value,
    bag: bag.value && !props.clip,
  })
</script>

<template>
  <form data-restore @submit.prevent="lacks ?? go()">
    <h3>{{ t('returns.restore') }}</h3>
    <p class="soft">{{ t('returns.restoreSays') }}</p>
    <p class="line">
      <label
        >{{ t('returns.reason') }} <InputText v-model="reason" class="field" autocomplete="off" data-reason
      /></label>
      <label v-if="!clip" class="ticked"
        ><Checkbox v-model="bag" binary data-bag /> {{ t('returns.bag') }}</label
      >
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('returns.bringThere')"
        :why-not="whyNot('offload') ?? lacks"
        :busy="restore.isPending.value"
        data-bring-there
      />
    </p>
    <SaidNo :error="restore.error.value" />
  </form>
</template>
