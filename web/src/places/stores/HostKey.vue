<script setup lang="ts">
import { watch } from 'vue'
import { useAskHostKey } from '../../api/acts/stores'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** A server is asked what it presents itself with; a person compares it before anything is sent there. */
const props = defineProps<{ host: string; port: number }>()
const hostKey = defineModel<string>({ required: true })
const { whyNot } = useWho()
const ask = useAskHostKey()
const go = () =>
  ask.mutate(
    { host: props.host, port: props.port },
    { onSuccess: (shown) => (hostKey.value = shown.host_key) },
  )
/** It speaks of the server that was asked, and of no other. */
watch(
  () => [props.host, props.port],
  () => {
    hostKey.value = ''
    ask.reset()
  },
)
</script>

<template>
  <span class="wide">
    <ActButton
      type="button"
      class="quiet small"
      :label="t('hostKey.ask')"
      :why-not="whyNot('keep_stores') ?? (host ? undefined : t('hostKey.sayWhich'))"
      :busy="ask.isPending.value"
      data-ask-host-key
      @press="go()"
    />
    <span v-if="hostKey && ask.data.value" class="shown" role="status" data-fingerprint>
      {{ t('hostKey.presents') }} <code>{{ ask.data.value.fingerprint }}</code> {{ t('hostKey.compare') }}
    </span>
    <SaidNo :error="ask.error.value" />
  </span>
</template>

<style scoped>
.wide {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-3);
  align-items: center;
  width: 100%;
}
.shown {
  flex: 1 1 30rem;
}
code {
  overflow-wrap: anywhere;
}
</style>
