<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { ref } from 'vue'
import { useTakeMediumIn } from '../../api/acts/sets'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import FolderField from '../returns/FolderField.vue'

/** A medium is in a reader again: it is known by its mark, and read. */
const { whyNot } = useWho()
const station = ref('')
const folder = ref('')
const place = ref('')
const take = useTakeMediumIn()
const lacks = () =>
  whyNot('keep_stores') ??
  (folder.value.trim() && place.value.trim() ? undefined : t('sets.sayFolderAndPlace'))
const go = () => take.mutate({ station: station.value, folder: folder.value.trim(), place: place.value })
</script>

<template>
  <form class="chapter" data-returned @submit.prevent="lacks() ?? go()">
    <h2>{{ t('sets.isBack') }}</h2>
    <p class="soft">{{ t('sets.isBackSays') }}</p>
    <p class="line">
      <FolderField v-model:station="station" v-model:folder="folder" />
      <label
        >{{ t('sets.place') }} <InputText v-model="place" class="field" maxlength="80" data-medium-place
      /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('sets.readIt')"
        :why-not="lacks()"
        :busy="take.isPending.value"
        data-read-medium
      />
    </p>
    <p v-if="take.isSuccess.value" role="status" data-being-read>
      <RouterLink to="/tally">{{ t('sets.beingRead') }}</RouterLink>
    </p>
    <SaidNo :error="take.error.value" />
  </form>
</template>

<style scoped>
.line {
  align-items: baseline;
}
</style>
