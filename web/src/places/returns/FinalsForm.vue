<script setup lang="ts">
import { computed, ref } from 'vue'
import { useSayFolder } from '../../api/acts/readers'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import FolderField from './FolderField.vue'

/** A folder of finals, which is taken in like a card. */
const { whyNot } = useWho()
const station = ref('')
const folder = ref('')
const say = useSayFolder()
const lacks = computed(() => (folder.value.trim() ? undefined : t('finals.lacks')))
const go = () =>
  lacks.value ??
  say.mutate({ path: folder.value.trim(), is_reader: true, station: station.value, finals: true })
</script>

<template>
  <form class="chapter" data-finals @submit.prevent="go()">
    <h2>{{ t('finals.title') }}</h2>
    <p class="soft">{{ t('finals.says') }}</p>
    <p class="line">
      <FolderField v-model:station="station" v-model:folder="folder" />
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('finals.take')"
        :why-not="whyNot('keep_stores') ?? lacks"
        :busy="say.isPending.value"
        data-show-finals
      />
    </p>
    <p v-if="say.isSuccess.value" role="status" data-finals-shown>
      <RouterLink to="/">{{ t('finals.shown') }}</RouterLink>
    </p>
    <SaidNo :error="say.error.value" />
  </form>
</template>

<style scoped>
[role='status'] {
  margin: var(--space-3) 0;
  line-height: 2;
}
</style>
