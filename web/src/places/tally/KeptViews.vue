<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useDropView, useKeepView } from '../../api/acts/views'
import { useViews } from '../../api/queries/useViews'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { asAsked, FOR_ALL, seek, sought, type Asked } from './sought'

/** Views that whoever looks keeps: one press narrows the list to one of them. */
defineProps<{ narrowed: boolean }>()
const { me } = useWho()
const views = useViews()
const keep = useKeepView()
const drop = useDropView()
const naming = ref(false)
const name = ref('')
const asked = computed(() => JSON.stringify(asAsked(sought)))
const isShown = (one: Asked) => JSON.stringify(asAsked(seek(one))) === asked.value
const kept = computed(() => (views.data.value ?? []).some((one) => isShown(one.sought)))
function keepIt(): void {
  keep.mutate(
    { name: name.value, sought: { ...FOR_ALL, ...asAsked(sought) } },
    {
      onSuccess: () => {
        naming.value = false
        name.value = ''
      },
    },
  )
}
</script>

<template>
  <div v-if="!me.screen && (narrowed || views.data.value?.length)" class="views" data-views>
    <span v-for="one in views.data.value ?? []" :key="one.id" class="view" :data-view="one.name">
      <button
        type="button"
        class="link"
        :aria-pressed="isShown(one.sought)"
        @click="Object.assign(sought, seek(one.sought))"
      >
        {{ one.name }}
      </button>
      <ActButton
        v-if="isShown(one.sought)"
        type="button"
        link
        :label="t('views.drop')"
        :busy="drop.isPending.value"
        :aria-label="t('views.dropIt', { name: one.name })"
        @press="drop.mutate(one.id)"
      />
    </span>
    <form v-if="naming" class="line" @submit.prevent="keepIt">
      <label>{{ t('views.name') }} <InputText v-model="name" class="field" data-view-name /></label>
      <ActButton
        type="submit"
        class="quiet small"
        :label="t('views.keepIt')"
        :why-not="name.trim() ? undefined : t('views.lacksName')"
        :busy="keep.isPending.value"
        data-keep-view
      />
    </form>
    <button v-else-if="narrowed && !kept" type="button" class="link" data-name-view @click="naming = true">
      {{ t('views.keep') }}
    </button>
    <SaidNo :error="keep.error.value ?? drop.error.value" />
  </div>
</template>

<style scoped>
.views {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-1) var(--space-5);
  align-items: baseline;
  margin: 0 0 var(--space-3);
}
.view {
  display: inline-flex;
  gap: var(--space-2);
  align-items: baseline;
}
[aria-pressed='true'] {
  font-weight: 700;
  text-decoration-thickness: var(--line);
}
</style>
