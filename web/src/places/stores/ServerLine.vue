<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useChangeCredentials } from '../../api/acts/stores'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import BucketKeys from './BucketKeys.vue'
import HostKey from './HostKey.vue'
import SecretFields from './SecretFields.vue'
import UserAndPassword from './UserAndPassword.vue'

/** Where a store on a server is, how its copies are proven, and what opens it, to be given anew. */
const props = defineProps<{ store: Shapes['StoreOut'] }>()
const { whyNot } = useWho()
const change = useChangeCredentials()
const open = ref(false)
const key = ref('')
const password = ref('')
const hostKey = ref('')
const reason = ref('')
const accessKey = ref('')
const bucketKey = ref('')
const user = ref('')
const kind = computed(() => props.store.kind)
const isSftp = computed(() => kind.value === 'sftp')
const at = computed(() => {
  const { host, hostname, port } = new URL(props.store.path.replace(/^sftp:/, 'http:'))
  return { host: host ? hostname : '', port: Number(port) || 22 }
})
const lacks = computed(() => {
  if (kind.value === 'objects' && !(accessKey.value && bucketKey.value)) return t('serverForm.giveBothKeys')
  if (kind.value === 'webdav' && !(user.value && password.value)) return t('serverForm.giveUserAndPassword')
  if (isSftp.value && !key.value && !password.value) return t('serverForm.giveAKey')
  return reason.value.trim() ? undefined : t('serverLine.sayWhy')
})
const go = () =>
  !lacks.value &&
  change.mutate(
    {
      store: props.store.name,
      key: key.value,
      password: password.value,
      user: user.value,
      access_key: accessKey.value,
      secret_key: bucketKey.value,
      host_key: hostKey.value,
      reason: reason.value,
    },
    {
      onSuccess: () => {
        open.value = false
        for (const field of [key, password, user, accessKey, bucketKey, hostKey, reason]) field.value = ''
      },
    },
  )
</script>

<template>
  <div class="server" :data-server="store.name">
    <code>{{ store.path }}</code>
    <span class="soft">
      {{ t(store.attests ? 'serverLine.attests' : 'serverLine.readsBack') }}
      <template v-if="isSftp"
        >{{ t('serverLine.hostKey') }} <code>{{ store.host_key }}</code></template
      >
      <template v-else>{{ t('serverLine.noTimes') }}</template>
    </span>
    <ActButton
      type="button"
      link
      :label="t('serverLine.giveAnew')"
      :why-not="whyNot('keep_stores')"
      :data-credentials="store.name"
      @press="open = !open"
    />
    <form v-if="open" class="line wide" @submit.prevent="go()">
      <BucketKeys v-if="kind === 'objects'" v-model:access-key="accessKey" v-model:secret-key="bucketKey" />
      <UserAndPassword v-else-if="kind === 'webdav'" v-model:user="user" v-model:password="password" />
      <template v-else>
        <SecretFields v-model:secret-key="key" v-model:password="password" />
        <HostKey v-model="hostKey" :host="at.host" :port="at.port" />
      </template>
      <label>{{ t('serverLine.why') }} <InputText v-model="reason" class="field" data-why /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('serverLine.change')"
        :why-not="lacks"
        :busy="change.isPending.value"
      />
      <p class="soft wide">{{ t(isSftp ? 'serverLine.tried' : 'serverLine.triedBucket') }}</p>
    </form>
    <SaidNo :error="change.error.value" />
  </div>
</template>

<style scoped>
.server {
  grid-column: 2 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-4);
  align-items: center;
  font-size: var(--type-note);
}
.wide {
  width: 100%;
}
code {
  overflow-wrap: anywhere;
}
@media (--tablet) {
  .server {
    grid-column: 1;
  }
}
</style>
