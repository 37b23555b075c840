<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import { computed, ref, useTemplateRef } from 'vue'
import { useLookInto, useReadList } from '../../api/acts/returns'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { counted } from '../../words/units'
import FolderField from './FolderField.vue'

/** Which folder is to be looked into; with a project's list, for what that names. */
const { whyNot } = useWho()
const station = ref('')
const folder = ref('')
const byContent = ref(true)
const look = useLookInto()
const list = useReadList()
const file = useTemplateRef<HTMLInputElement>('file')
const listName = ref('')
const paths = computed(() => (listName.value ? (list.data.value?.paths ?? []) : []))
const lacks = computed(() => {
  if (!folder.value.trim()) return t('returns.lacksFolder')
  if (list.isPending.value) return t('returns.listIsRead')
  return listName.value && !paths.value.length ? t('returns.lacksList') : undefined
})
function chosen() {
  const one = file.value?.files?.[0]
  listName.value = one?.name ?? ''
  list.reset()
  if (one) list.mutate(one)
}
const go = () => {
  if (lacks.value) return
  look.mutate({
    station: station.value,
    folder: folder.value.trim(),
    by_content: byContent.value,
    list_name: listName.value,
    paths: paths.value,
  })
}
</script>

<template>
  <form class="line" data-look-into @submit.prevent="go()">
    <FolderField v-model:station="station" v-model:folder="folder" />
    <label
      >{{ t('returns.list') }}
      <input ref="file" type="file" accept=".csv,.otio,.txt,.json" data-project-list @change="chosen" />
    </label>
    <span v-if="paths.length" data-listed>{{
      t('returns.listed', { files: counted(paths.length, 'file') })
    }}</span>
    <label class="ticked"><Checkbox v-model="byContent" binary /> {{ t('returns.byContent') }}</label>
    <ActButton
      type="submit"
      class="quiet small"
      :label="t('returns.look')"
      :why-not="whyNot('check') ?? lacks"
      :busy="look.isPending.value"
      data-look
    />
    <SaidNo :error="look.error.value ?? list.error.value" />
  </form>
</template>
