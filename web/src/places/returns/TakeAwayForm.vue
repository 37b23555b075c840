<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref } from 'vue'
import { useTakeAway } from '../../api/acts/returns'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import FolderField from './FolderField.vue'

/** What is seen of a roll or a day, in a folder that opens on any computer. */
const props = defineProps<{ tag?: string | undefined; day?: string | undefined }>()
const { whyNot } = useWho()
const station = ref('')
const folder = ref('')
const words = ref(true)
const take = useTakeAway()
const what = computed(() => (props.day ? t('returns.ofDay', { day: props.day }) : (props.tag ?? '')))
const lacks = computed(() => (folder.value.trim() ? undefined : t('returns.lacksFolder')))
const go = () => {
  if (lacks.value) return
  take.mutate({
    station: station.value,
    folder: folder.value.trim(),
    tags: props.tag ? [props.tag] : [],
    day: props.day ?? null,
    words: words.value,
  })
}
</script>

<template>
  <section class="chapter" data-take-away>
    <h2>{{ t('takeAway.title', { what }) }}</h2>
    <p class="soft">{{ t('takeAway.says') }}</p>
    <form class="line" @submit.prevent="go()">
      <FolderField v-model:station="station" v-model:folder="folder" />
      <label class="ticked"><Checkbox v-model="words" binary /> {{ t('takeAway.words') }}</label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('takeAway.take')"
        :why-not="whyNot('offload') ?? lacks"
        :busy="take.isPending.value"
        data-take-away-go
      />
      <SaidNo :error="take.error.value" />
    </form>
  </section>
</template>
