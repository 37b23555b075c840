<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, reactive } from 'vue'
import { useIntroduceServer } from '../../api/acts/stores'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import HostKey from './HostKey.vue'
import SecretFields from './SecretFields.vue'

/** A folder of a server, on its way to being a store. */
const emit = defineEmits<{ introduced: [] }>()
const { whyNot } = useWho()
const introduce = useIntroduceServer()
const draft = reactive({
  name: '',
  host: '',
  port: 22,
  user: '',
  folder: '',
  host_key: '',
  key: '',
  password: '',
  device: '',
  medium: 'array',
  place: '',
  reason: '',
  attests: false,
})
const media = ['array', 'network', 'cloud', 'disk', 'ssd'].map((value) => ({ name: value, value }))
const lacks = computed(() => {
  if (!draft.host_key) return t('serverForm.compareFirst')
  if (!draft.key && !draft.password) return t('serverForm.giveAKey')
  const rest = [draft.name, draft.user, draft.folder, draft.device, draft.place, draft.reason]
  return rest.every((one) => one.trim()) ? undefined : t('serverForm.sayAll')
})
const go = () => !lacks.value && introduce.mutate({ ...draft }, { onSuccess: () => emit('introduced') })
</script>

<template>
  <form data-server-form @submit.prevent="go()">
    <fieldset class="line">
      <legend>{{ t('serverForm.which') }}</legend>
      <label>{{ t('serverForm.host') }} <InputText v-model="draft.host" class="field" data-host /></label>
      <NumberField v-model="draft.port" :label="t('serverForm.port')" :min="1" :max="65535" data-port />
      <HostKey v-model="draft.host_key" :host="draft.host" :port="draft.port" />
    </fieldset>
    <fieldset class="line">
      <legend>{{ t('serverForm.opens') }}</legend>
      <label
        >{{ t('serverForm.user') }}
        <InputText v-model="draft.user" class="field" autocomplete="off" data-user
      /></label>
      <label class="grows"
        >{{ t('serverForm.folder') }}
        <InputText v-model="draft.folder" class="field" :placeholder="t('serverForm.folderLike')" data-folder
      /></label>
      <SecretFields v-model:secret-key="draft.key" v-model:password="draft.password" />
      <p class="soft wide">{{ t('serverForm.keptShut') }}</p>
    </fieldset>
    <fieldset class="line">
      <legend>{{ t('serverForm.whatItIs') }}</legend>
      <label>{{ t('serverForm.name') }} <InputText v-model="draft.name" class="field" data-name /></label>
      <label
        >{{ t('serverForm.device') }} <InputText v-model="draft.device" class="field" data-device
      /></label>
      <ChooseOne v-model="draft.medium" :label="t('serverForm.medium')" :options="media" data-medium />
      <label>{{ t('serverForm.place') }} <InputText v-model="draft.place" class="field" data-place /></label>
      <label class="grows"
        >{{ t('serverForm.reason') }} <InputText v-model="draft.reason" class="field" data-reason
      /></label>
      <label class="wide ticked"
        ><Checkbox v-model="draft.attests" binary data-attests /> {{ t('serverForm.attests') }}</label
      >
      <p class="soft wide">{{ t('serverForm.oneDevice') }}</p>
    </fieldset>
    <ActButton
      type="submit"
      :label="t('serverForm.go', { name: draft.name || '…' })"
      :why-not="whyNot('set_up') ?? lacks"
      :busy="introduce.isPending.value"
      data-introduce-server
    />
    <SaidNo :error="introduce.error.value" />
  </form>
</template>

<style scoped>
form {
  display: grid;
  gap: var(--space-3);
  justify-items: start;
  max-width: 60rem;
  margin: var(--space-3) 0 var(--space-5);
}
fieldset {
  width: 100%;
  border: 0;
  border-left: var(--line-bar) solid var(--ink);
  padding: 0 0 0 var(--space-4);
}
.wide {
  width: 100%;
}
.grows {
  display: inline-flex;
  flex: 1 1 22rem;
  gap: var(--space-2);
  align-items: center;
}
.grows .field {
  flex: 1;
}
</style>
