<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed, reactive, ref, watch } from 'vue'
import { useIntroduceBucket, useIntroduceServer, useIntroduceWebdav } from '../../api/acts/stores'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import NumberField from '../../parts/NumberField.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import BucketKeys from './BucketKeys.vue'
import HostKey from './HostKey.vue'
import SecretFields from './SecretFields.vue'
import UserAndPassword from './UserAndPassword.vue'

/** A folder of a server, or a bucket, on its way to being a store. */
const emit = defineEmits<{ introduced: [] }>()
const { whyNot } = useWho()
const toServer = useIntroduceServer()
const toBucket = useIntroduceBucket()
const toWebdav = useIntroduceWebdav()
type Kind = 'sftp' | 'objects' | 'webdav'
const kind = ref<Kind>('sftp')
const KINDS: { name: string; value: Kind }[] = [
  { name: t('serverForm.sftp'), value: 'sftp' },
  { name: t('serverForm.bucketKind'), value: 'objects' },
  { name: t('serverForm.webdav'), value: 'webdav' },
]
const what = reactive({ name: '', device: '', medium: 'array', place: '', reason: '', attests: false })
const server = reactive({ host: '', port: 22, user: '', folder: '', host_key: '', key: '', password: '' })
const bucket = reactive({ endpoint: '', region: '', bucket: '', prefix: '', access_key: '', secret_key: '' })
const webdav = reactive({ url: '', user: '', password: '' })
const media = ['array', 'network', 'cloud', 'disk', 'ssd'].map((value) => ({ name: value, value }))
/** What is usual for each: a bucket's server attests, and what it holds is read back on request. */
watch(kind, (now) => {
  what.attests = now === 'objects'
  what.medium = now === 'objects' ? 'cloud' : 'array'
})
/** What each kind needs before anything is sent, in the order in which it is asked for. */
const lacksOf: Record<Kind, () => string | undefined> = {
  sftp: () => {
    if (!server.host_key) return t('serverForm.compareFirst')
    return server.key || server.password ? undefined : t('serverForm.giveAKey')
  },
  objects: () => (bucket.access_key && bucket.secret_key ? undefined : t('serverForm.giveBothKeys')),
  webdav: () => (webdav.user && webdav.password ? undefined : t('serverForm.giveUserAndPassword')),
}
const wordsOf: Record<Kind, () => string[]> = {
  sftp: () => [server.user, server.folder],
  objects: () => [bucket.endpoint, bucket.bucket],
  webdav: () => [webdav.url],
}
const lacks = computed(() => {
  const first = lacksOf[kind.value]()
  if (first) return first
  const rest = [...wordsOf[kind.value](), what.name, what.device, what.place, what.reason]
  return rest.every((one) => one.trim()) ? undefined : t('serverForm.sayAll')
})
const done = { onSuccess: () => emit('introduced') }
const send: Record<Kind, () => void> = {
  sftp: () => toServer.mutate({ ...server, ...what }, done),
  objects: () => toBucket.mutate({ ...bucket, ...what }, done),
  webdav: () => toWebdav.mutate({ ...webdav, ...what, attests: false }, done),
}
const go = () => !lacks.value && send[kind.value]()
const busy = computed(() => [toServer, toBucket, toWebdav].some((one) => one.isPending.value))
const refusal = computed(() => toServer.error.value ?? toBucket.error.value ?? toWebdav.error.value)
</script>

<template>
  <form data-server-form @submit.prevent="go()">
    <fieldset class="line">
      <legend>{{ t('serverForm.which') }}</legend>
      <ChooseOne v-model="kind" :label="t('serverForm.kind')" :options="KINDS" data-kind-of-server />
      <template v-if="kind === 'sftp'">
        <label>{{ t('serverForm.host') }} <InputText v-model="server.host" class="field" data-host /></label>
        <NumberField v-model="server.port" :label="t('serverForm.port')" :min="1" :max="65535" data-port />
        <HostKey v-model="server.host_key" :host="server.host" :port="server.port" />
      </template>
      <label v-else-if="kind === 'webdav'" class="grows"
        >{{ t('serverForm.endpoint') }}
        <InputText v-model="webdav.url" class="field" :placeholder="t('serverForm.urlLike')" data-url
      /></label>
      <template v-else>
        <label class="grows"
          >{{ t('serverForm.endpoint') }}
          <InputText
            v-model="bucket.endpoint"
            class="field"
            :placeholder="t('serverForm.endpointLike')"
            data-endpoint
        /></label>
        <label
          >{{ t('serverForm.region') }} <InputText v-model="bucket.region" class="field" data-region
        /></label>
        <label
          >{{ t('serverForm.bucket') }} <InputText v-model="bucket.bucket" class="field" data-bucket
        /></label>
        <label
          >{{ t('serverForm.prefix') }} <InputText v-model="bucket.prefix" class="field" data-prefix
        /></label>
      </template>
    </fieldset>
    <fieldset class="line">
      <legend>{{ t('serverForm.opens') }}</legend>
      <template v-if="kind === 'sftp'">
        <label
          >{{ t('serverForm.user') }}
          <InputText v-model="server.user" class="field" autocomplete="off" data-user
        /></label>
        <label class="grows"
          >{{ t('serverForm.folder') }}
          <InputText
            v-model="server.folder"
            class="field"
            :placeholder="t('serverForm.folderLike')"
            data-folder
        /></label>
        <SecretFields v-model:secret-key="server.key" v-model:password="server.password" />
      </template>
      <UserAndPassword
        v-else-if="kind === 'webdav'"
        v-model:user="webdav.user"
        v-model:password="webdav.password"
      />
      <BucketKeys v-else v-model:access-key="bucket.access_key" v-model:secret-key="bucket.secret_key" />
      <p class="soft wide">{{ t('serverForm.keptShut') }}</p>
    </fieldset>
    <fieldset class="line">
      <legend>{{ t('serverForm.whatItIs') }}</legend>
      <label>{{ t('serverForm.name') }} <InputText v-model="what.name" class="field" data-name /></label>
      <label
        >{{ t('serverForm.device') }} <InputText v-model="what.device" class="field" data-device
      /></label>
      <ChooseOne v-model="what.medium" :label="t('serverForm.medium')" :options="media" data-medium />
      <label>{{ t('serverForm.place') }} <InputText v-model="what.place" class="field" data-place /></label>
      <label class="grows"
        >{{ t('serverForm.reason') }} <InputText v-model="what.reason" class="field" data-reason
      /></label>
      <label v-if="kind !== 'webdav'" class="wide ticked"
        ><Checkbox v-model="what.attests" binary data-attests /> {{ t('serverForm.attests') }}</label
      >
      <p class="soft wide">{{ t('serverForm.oneDevice') }}</p>
    </fieldset>
    <ActButton
      type="submit"
      :label="t('serverForm.go', { name: what.name || '…' })"
      :why-not="whyNot('keep_stores') ?? lacks"
      :busy="busy"
      data-introduce-server
    />
    <SaidNo :error="refusal" />
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
