<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useSetClock } from '../../api/acts/setup'
import MaskedField from '../../parts/MaskedField.vue'
import { useWho } from '../../shell/me'
import { secondsOf, stamp } from '../../words/times'

/** A camera's clock, told as people find out: it showed this when it was that. No file is touched by it. */
const props = defineProps<{ camera: string; aheadS: number; timeZone: string }>()
const { may } = useWho()
const now = Math.floor(Date.now() / 1000)
const showed = ref(props.aheadS ? stamp(now + props.aheadS, props.timeZone) : '')
const was = ref(stamp(now, props.timeZone))

/** Seconds ahead, or undefined while the fields say no times. */
const ahead = computed(() => {
  const [there, here] = [secondsOf(showed.value), secondsOf(was.value)]
  return there === undefined || here === undefined ? undefined : there - here
})
const words = computed(() => {
  if (ahead.value === undefined) return 'Look at the camera’s clock, and at one that is right.'
  if (ahead.value === 0) return `Camera ${props.camera}’s clock is right.`
  const off = Math.abs(ahead.value)
  const parts: [number, string][] = [
    [Math.floor(off / 86_400), 'd'],
    [Math.floor(off / 3600) % 24, 'h'],
    [Math.floor(off / 60) % 60, 'min'],
    [off % 60, 's'],
  ]
  const long = parts.filter(([count]) => count).map(([count, unit]) => `${count} ${unit}`)
  return `It is ${long.join(' ')} ${ahead.value > 0 ? 'ahead' : 'behind'}. To show true times puts right what is shown of every card of camera ${props.camera}, and the day of its next rolls; the files stay as they are.`
})
const set = useSetClock()
</script>

<template>
  <form data-clock @submit.prevent="ahead !== undefined && set.mutate({ camera, ahead_s: ahead })">
    <label>
      Camera {{ camera }} showed
      <MaskedField
        v-model="showed"
        mask="9999-99-99 99:99:99"
        placeholder="2026-05-14 09:30:00"
        data-showed
      />
    </label>
    <label>
      when it was
      <MaskedField v-model="was" mask="9999-99-99 99:99:99" data-was />
    </label>
    <Button
      class="act quiet small"
      type="submit"
      label="Show true times"
      :disabled="ahead === undefined || !may('set_clock') || set.isPending.value"
    />
    <p class="soft" role="status" data-ahead>{{ words }}</p>
    <p v-if="set.error.value" role="alert" class="trouble">{{ set.error.value.message }}</p>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2) var(--space-3);
  align-items: center;
  margin-top: var(--space-1h);
}
label {
  display: inline-flex;
  gap: var(--space-2);
  align-items: center;
}
.field {
  width: 13rem;
  min-height: 2rem;
  padding: var(--space-half) var(--space-2);
}
p {
  width: 100%;
}
</style>
