<script setup lang="ts">
import { computed, ref } from 'vue'
import { useNewKey } from '../../api/acts/setup'
import { useCertificateKeys } from '../../api/queries/useCertificateKeys'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { age, dayAndClock } from '../../words/times'

/** What certificates are signed with. A new key changes what everybody compares: it is asked for twice. */
const props = defineProps<{ zone: string }>()
const asked = useCertificateKeys()
const keys = computed(() => asked.data.value ?? [])
const { whyNot } = useWho()
const make = useNewKey()
const sure = ref(false)
const go = () => make.mutate(undefined, { onSuccess: () => (sure.value = false) })
</script>

<template>
  <div class="keys" data-keys>
    <h3>{{ t('certificateKeys.title') }}</h3>
    <p v-if="asked.data.value && !keys.length" class="soft">{{ t('certificateKeys.none') }}</p>
    <ul>
      <li v-for="(one, index) in keys" :key="one.fingerprint + one.since">
        <code :data-key="index">{{ one.fingerprint }}</code>
        <span class="soft">{{
          t(index ? 'certificateKeys.earlier' : 'certificateKeys.inUse', {
            day: dayAndClock(one.since, props.zone),
            age: age(one.since),
          })
        }}</span>
      </li>
    </ul>
    <p v-if="sure" class="line" data-new-key-sure>
      {{ t('certificateKeys.consequence') }}
      <ActButton
        class="quiet small"
        :label="t('certificateKeys.make')"
        :why-not="whyNot('set_up')"
        :busy="make.isPending.value"
        @press="go()"
      />
      <button type="button" class="quiet small" @click="sure = false">
        {{ t('certificateKeys.leave') }}
      </button>
    </p>
    <ActButton
      v-else
      class="quiet small"
      :label="t('certificateKeys.another')"
      :why-not="whyNot('set_up')"
      data-new-key
      @press="sure = true"
    />
    <SaidNo :error="make.error.value" />
  </div>
</template>

<style scoped>
.keys {
  margin-block: var(--space-4);
}
.keys li {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-3);
}
</style>
