<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref, toRef } from 'vue'
import { useBeginCodes, useConfirmCodes, useEndCodes } from '../api/acts/people'
import { useCodes } from '../api/queries/useCodes'
import ActButton from '../parts/ActButton.vue'
import SaidNo from '../parts/SaidNo.vue'
import { t } from '../words/say'

/** Whether signing in asks for a code from one's phone too. password: one's own, as typed beside it */
const props = defineProps<{ password: string; shown: boolean }>()
const emit = defineEmits<{ done: [] }>()
const codes = useCodes(toRef(props, 'shown'))
const begin = useBeginCodes()
const confirm = useConfirmCodes()
const end = useEndCodes()
const code = ref('')
const lacksPassword = computed(() => (props.password ? undefined : t('codes.lacksPassword')))
const begun = computed(() => (codes.data.value?.on ? undefined : begin.data.value))
function done(): void {
  code.value = ''
  begin.reset()
  emit('done')
}
</script>

<template>
  <h3>{{ t('codes.title') }}</h3>
  <p class="soft">{{ codes.data.value?.on ? t('codes.on') : t('codes.off') }}</p>
  <div v-if="begun" class="line" data-codes-begun>
    <img :src="begun.picture" :alt="t('codes.picture')" />
    <div>
      <p>{{ t('codes.how') }}</p>
      <p>
        {{ t('codes.typed') }} <code data-secret>{{ begun.secret }}</code>
      </p>
      <label
        >{{ t('codes.code') }} <InputText v-model="code" class="field" inputmode="numeric" data-first-code
      /></label>
      <ActButton
        type="button"
        class="quiet small"
        :label="t('codes.confirm')"
        :why-not="code.trim() ? undefined : t('codes.lacksCode')"
        :busy="confirm.isPending.value"
        data-confirm-codes
        @press="confirm.mutate(code, { onSuccess: done })"
      />
    </div>
  </div>
  <p v-else class="line">
    <ActButton
      v-if="codes.data.value?.on"
      type="button"
      class="quiet small"
      :label="t('codes.end')"
      :why-not="lacksPassword"
      :busy="end.isPending.value"
      data-end-codes
      @press="end.mutate(password, { onSuccess: done })"
    />
    <ActButton
      v-else
      type="button"
      class="quiet small"
      :label="t('codes.begin')"
      :why-not="lacksPassword"
      :busy="begin.isPending.value"
      data-begin-codes
      @press="begin.mutate(password)"
    />
  </p>
  <SaidNo :error="begin.error.value ?? confirm.error.value ?? end.error.value" />
</template>

<style scoped>
img {
  width: 12rem;
  height: 12rem;
}
code {
  font-family: var(--mono);
  overflow-wrap: anywhere;
}
</style>
