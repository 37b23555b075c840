<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useNameReader, useSayFolder } from '../../api/acts/readers'
import type { Shapes } from '../../api/client'
import { useReaders } from '../../api/queries/useReaders'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** The readers that stations see, by names that people give them; and folders that pass for one. */
const props = defineProps<{ stations: readonly Shapes['StationOut'][] }>()
const { may, whyNot } = useWho()
const asked = useReaders()
const call = useNameReader()
const say = useSayFolder()
const path = ref('')
const station = ref('')
/** Those that are there, the server's own first and by no name. */
const where = computed(() => [
  { name: t('readersTable.thisMachine'), value: '' },
  ...props.stations
    .filter((one) => one.joined && one.running)
    .map((one) => ({ name: one.name, value: one.name })),
])
const stationOf = (reader: Shapes['ReaderOut']) =>
  props.stations.some((one) => one.name === reader.station && one.joined) ? reader.station : ''
const typed = (event: Event) => (event.target as HTMLInputElement).value
</script>

<template>
  <h3>{{ t('readersTable.readers') }}</h3>
  <ul class="rows" :title="whyNot('keep_stores')">
    <li v-for="reader in asked.data.value ?? []" :key="reader.id" :data-reader="reader.name">
      <InputText
        :model-value="reader.name"
        class="field"
        maxlength="40"
        :disabled="!may('keep_stores')"
        :aria-label="t('readersTable.nameOf', { name: reader.name })"
        @change="(event: Event) => call.mutate({ id: reader.id, name: typed(event) })"
      />
      <span class="soft">{{ t('readersTable.at', { station: reader.station }) }} {{ reader.folder }}</span>
      <ActButton
        v-if="reader.folder"
        type="button"
        link
        :label="t('readersTable.noMore')"
        :why-not="whyNot('keep_stores')"
        @press="
          say.mutate({ path: reader.folder, is_reader: false, station: stationOf(reader), finals: false })
        "
      />
    </li>
  </ul>
  <form
    class="line"
    @submit.prevent="
      say.mutate({ path, is_reader: true, station, finals: false }, { onSuccess: () => (path = '') })
    "
  >
    <label>{{ t('readersTable.aFolder') }} <InputText v-model="path" class="field" data-folder /></label>
    <ChooseOne v-if="where.length > 1" v-model="station" :label="t('readersTable.on')" :options="where" />
    <ActButton
      type="submit"
      class="quiet small"
      :label="t('readersTable.isAReader')"
      :why-not="whyNot('keep_stores') ?? (path.trim() ? undefined : t('readersTable.givePath'))"
      :busy="say.isPending.value"
      data-say-folder
    />
  </form>
  <p class="soft">{{ t('readersTable.whatItIs') }}</p>
  <SaidNo :error="call.error.value ?? say.error.value" />
</template>

<style scoped>
ul {
  --columns: minmax(12rem, 20rem) 1fr auto;
}
h3 {
  margin: var(--space-4) 0 var(--space-1);
}
form {
  margin-top: var(--space-2);
}
</style>
