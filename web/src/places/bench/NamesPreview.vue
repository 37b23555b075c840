<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Shapes } from '../../api/client'
import { counted } from '../../words/units'
import { t } from '../../words/say'

/** The names that the files of this very card get, the troubled ones first. */
const props = defineProps<{ names: Shapes['NamesOut']; folder: string; open?: boolean }>()
const all = ref(false)
const renamed = computed(() => props.names.names.some((one) => one.path !== one.kept_as))
const shown = computed(() => props.names.names.slice(0, all.value ? undefined : 6))
</script>

<template>
  <div class="names" data-names>
    <p>
      <code>{{ folder }}/</code>
      <template v-if="!renamed">{{ ' ' }}{{ t('namesPreview.theCardsOwnFoldersAnd') }}</template>
      <span v-if="names.whole" class="soft">
        {{ t('namesPreview.keepTheirNamesOtherFiles', {}, names.whole) }}</span
      >
    </p>
    <p v-if="names.collisions" class="trouble" data-collisions>
      {{ t('namesPreview.wouldBeGivenToMore', {}, names.collisions) }}
    </p>
    <p v-if="names.problems" :class="{ trouble: !names.mended }" data-problems>
      {{
        t('namesPreview.thatAStoreOfThis', {
          names: counted(names.problems, 'name'),
          mended: names.mended ? t('namesPreview.mendedAsShown') : '',
        })
      }}
    </p>
    <table v-if="renamed || names.problems || open">
      <tbody>
        <tr v-for="one in shown" :key="one.path" :class="{ odd: one.trouble }">
          <td>
            <code>{{ one.path }}</code>
          </td>
          <td aria-hidden="true">→</td>
          <td>
            <code data-kept>{{ one.kept_as }}</code>
            <span v-if="one.trouble" class="trouble"> {{ one.trouble }}</span>
          </td>
        </tr>
      </tbody>
    </table>
    <button
      v-if="(renamed || names.problems || open) && names.names.length > 6"
      type="button"
      class="link"
      @click="all = !all"
    >
      {{
        all
          ? t('namesPreview.fewer')
          : t('namesPreview.more', { count: Math.min(names.names.length, names.files) - 6 })
      }}
    </button>
  </div>
</template>

<style scoped>
.names {
  margin: var(--space-half) 0 var(--space-3);
}
table {
  border-collapse: collapse;
}
td {
  padding: var(--space-half) var(--space-3) var(--space-half) 0;
  vertical-align: baseline;
}
.odd td:first-child {
  border-left: var(--line-bar) solid var(--trouble);
  padding-left: var(--space-2);
}
</style>
