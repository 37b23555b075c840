<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useRestore } from '../../api/acts/returns'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import FolderField from './FolderField.vue'

/** A roll, one clip of it, or a day, brought to any folder. */
const props = defineProps<{ tag?: string | undefined; clip?: string | undefined; day?: string | undefined }>()
const { whyNot } = useWho()
const station = ref('')
const folder = ref('')
const reason = ref('')
const restore = useRestore()
const what = computed(() => {
  if (props.day) return t('returns.ofDay', { day: props.day })
  const clip = props.clip?.split('/').at(-1)
  return clip ? t('returns.ofClip', { clip, tag: props.tag ?? '' }) : (props.tag ?? '')
})
const lacks = computed(() => (folder.value.trim() ? undefined : t('returns.lacksFolder')))
const go = () => {
  if (lacks.value) return
  restore.mutate({
    station: station.value,
    folder: folder.value.trim(),
    tags: props.tag ? [props.tag] : [],
    day: props.day ?? null,
    clip: props.clip ?? '',
    system_disk_reason: reason.value,
  })
}
</script>

<template>
  <section class="chapter" data-restore>
    <h2>{{ t('returns.restore', { what }) }}</h2>
    <p class="soft">{{ t('returns.restoreSays') }}</p>
    <form class="line" @submit.prevent="go()">
      <FolderField v-model:station="station" v-model:folder="folder" />
      <label
        >{{ t('returns.reason') }} <InputText v-model="reason" class="field" autocomplete="off" data-reason
      /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('returns.bringThere')"
        :why-not="whyNot('offload') ?? lacks"
        :busy="restore.isPending.value"
        data-bring-there
      />
      <SaidNo :error="restore.error.value" />
    </form>
  </section>
</template>
