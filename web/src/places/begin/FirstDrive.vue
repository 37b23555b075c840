<script setup lang="ts">
import Checkbox from 'primevue/checkbox'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'
import type { Shapes } from '../../api/client'
import { t } from '../../words/say'
import { bytes } from '../../words/units'
import type { Drive } from './drives'

/** What is plugged in, as a plank that may be taken: its size, and what speaks against it. */
const props = defineProps<{ volume: Shapes['VolumeOut']; drives: Map<string, Drive> }>()
const drive = computed(() => props.drives.get(props.volume.path))
const chosen = computed({
  get: () => drive.value?.chosen ?? false,
  set: (on) => {
    const { path, label, medium } = props.volume
    const known = drive.value ?? { path, name: label, medium, place: t('firstDrive.here'), chosen: on }
    props.drives.set(path, { ...known, chosen: on })
  },
})
</script>

<template>
  <li :class="{ off: !volume.usable }" :data-volume="volume.path">
    <label class="ticked">
      <Checkbox v-model="chosen" binary :disabled="!volume.usable" />
      <span class="tag">{{ volume.own_disk ? t('firstDrive.ownDisk') : volume.label }}</span>
    </label>
    <span class="soft">
      <code>{{ volume.path }}</code>
      {{ t('firstDrive.room', { free: bytes(volume.free), total: bytes(volume.total) }) }}
    </span>
    <span v-if="drive?.chosen" class="line named">
      <label>{{ t('firstDrive.called') }} <InputText v-model="drive.name" class="field" data-called /></label>
      <label>{{ t('firstDrive.place') }} <InputText v-model="drive.place" class="field short" /></label>
    </span>
    <ul v-if="volume.against.length" :class="{ trouble: !volume.usable }" data-against>
      <li v-for="sentence in volume.against" :key="sentence">{{ sentence }}</li>
    </ul>
  </li>
</template>

<style scoped>
li[data-volume] {
  display: grid;
  grid-template-columns: 14rem 1fr;
  gap: var(--space-1) var(--space-4);
  align-items: center;
  padding: var(--space-2) 0;
  border-bottom: var(--line-hair) solid var(--hair);
}
.named,
ul {
  grid-column: 2;
}
.short {
  width: 9rem;
}
.tag {
  font-size: var(--type-lead);
}
@media (--phone) {
  li[data-volume] {
    grid-template-columns: 1fr;
  }
  .named,
  ul {
    grid-column: 1;
  }
}
</style>
