<script setup lang="ts">
import { computed } from 'vue'
import { useRigs } from '../../api/queries/useRigs'
import RigRows from '../../marks/RigRows.vue'
import { counted } from '../../words/units'
import { t } from '../../words/say'

/** The cards of the rig that a camera is in, side by side, before any of them starts. */
const props = defineProps<{ letter: string }>()
const asked = useRigs()
const rigs = computed(() =>
  (asked.data.value ?? [])
    .filter((rig) => rig.cameras.includes(props.letter))
    .map((rig) => ({
      ...rig,
      marks: rig.rows.map((row) => ({
        letter: row.camera.letter,
        label: row.label,
        clips: row.clips,
        missing: row.missing,
      })),
      counts: rig.rows.map((row) => `${row.camera.letter} ${row.clips.length}`).join(', '),
      absent: rig.cameras.filter((letter) => !rig.rows.some((row) => row.camera.letter === letter)),
    })),
)
</script>

<template>
  <section
    v-for="rig in rigs"
    :key="rig.name"
    class="panel"
    :aria-label="t('rigPanel.rig', { name: rig.name })"
    data-rig-panel
  >
    <h2>
      {{
        t('rigPanel.rig2', {
          name: rig.name,
          shots: rig.shots.length ? counted(rig.shots.length, 'shot') : t('rigPanel.waitsForItsCards'),
        })
      }}
    </h2>
    <p class="soft">
      {{
        t('rigPanel.clipsOnEachCard', {
          counts: rig.counts,
          absent: rig.absent.length ? t('rigPanel.noCardOfIsIn', { absent: rig.absent.join(', ') }) : '',
        })
      }}
    </p>
    <RigRows v-if="rig.shots.length" :rows="rig.marks" :shots="rig.shots" />
    <ul v-if="rig.odd.length" class="odd">
      <li v-for="sentence in rig.odd" :key="sentence" class="trouble" data-rig-odd>{{ sentence }}</li>
    </ul>
    <p v-else-if="rig.shots.length" data-rig-even>{{ t('rigPanel.everyCameraHasOneClip') }}</p>
  </section>
</template>

<style scoped>
.panel {
  margin-top: var(--space-4);
}
.odd {
  margin-top: var(--space-1);
}
</style>
