<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, useId, watch } from 'vue'
import { useStations } from '../../api/queries/useStations'
import { useVolumes } from '../../api/queries/useVolumes'
import ChooseOne from '../../parts/ChooseOne.vue'
import { t } from '../../words/say'

/** A folder on a station's machine, typed whole; what is plugged in there is offered to begin with. */
const station = defineModel<string>('station', { required: true })
const folder = defineModel<string>('folder', { required: true })
const stations = useStations()
const volumes = useVolumes()
const id = useId()
const names = computed(() =>
  (stations.data.value ?? []).filter((one) => !one.turned_away).map(({ name }) => ({ name, value: name })),
)
watch(
  names,
  (now) => {
    if (!now.some((one) => one.value === station.value)) station.value = now[0]?.value ?? ''
  },
  { immediate: true },
)
const offered = computed(() =>
  (volumes.data.value ?? [])
    .filter((one) => !one.card && (one.station || station.value) === station.value)
    .map((one) => one.path),
)
</script>

<template>
  <ChooseOne
    v-if="names.length > 1"
    v-model="station"
    :label="t('returns.station')"
    :options="names"
    data-station
  />
  <label class="at"
    >{{ t('returns.folder') }}
    <InputText
      v-model="folder"
      class="field folder"
      :list="id"
      autocomplete="off"
      spellcheck="false"
      :placeholder="t('returns.folderHint')"
      data-folder
    />
    <datalist :id="id">
      <option v-for="one in offered" :key="one" :value="one" />
    </datalist>
  </label>
</template>

<style scoped>
.folder {
  width: 100%;
}
.at {
  flex: 1 1 24rem;
  max-width: 40rem;
}
</style>
