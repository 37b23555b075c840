<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useSetClock } from '../../api/acts/setup'
import { useWho } from '../../shell/me'

/** How far a camera's clock is off. Only what is shown changes; no file is touched. */
const props = defineProps<{ camera: string; aheadS: number }>()
const { may } = useWho()
const days = ref(String(Math.trunc(props.aheadS / 86_400)))
const time = ref(hoursOf(props.aheadS))

function hoursOf(seconds: number): string {
  const rest = Math.abs(seconds) % 86_400
  const two = (value: number) => String(Math.floor(value)).padStart(2, '0')
  return `${seconds < 0 && seconds > -86_400 ? '-' : ''}${two(rest / 3600)}:${two((rest / 60) % 60)}:${two(rest % 60)}`
}

/** Seconds ahead, or undefined while the fields do not make sense. */
const ahead = computed(() => {
  const clock = /^(-?)(\d{1,2}):([0-5]\d)(?::([0-5]\d))?$/.exec(time.value.trim())
  if (!clock || !/^-?\d{1,5}$/.test(days.value.trim())) return undefined
  const behind = clock[1] === '-' || days.value.trim().startsWith('-')
  const seconds = Number(clock[2]) * 3600 + Number(clock[3]) * 60 + Number(clock[4] ?? 0)
  return (behind ? -1 : 1) * (Math.abs(Number(days.value)) * 86_400 + seconds)
})

const set = useSetClock()
</script>

<template>
  <form data-clock @submit.prevent="ahead !== undefined && set.mutate({ camera, ahead_s: ahead })">
    <span>Camera {{ camera }}’s clock is ahead by</span>
    <label>
      <span class="unseen">Days ahead</span>
      <InputText v-model="days" class="field days" inputmode="numeric" data-days />
    </label>
    days
    <label>
      <span class="unseen">Hours, minutes and seconds ahead</span>
      <InputText v-model="time" class="field time" placeholder="00:00:00" data-time />
    </label>
    <Button
      class="act quiet small"
      type="submit"
      label="Show true times"
      :disabled="ahead === undefined || !may('set_clock') || set.isPending.value"
    />
    <span class="soft">“-” for a clock that is behind. The files stay as they are.</span>
    <p v-if="set.error.value" role="alert" class="trouble">{{ set.error.value.message }}</p>
  </form>
</template>

<style scoped>
form {
  display: flex;
  flex-wrap: wrap;
  gap: var(--space-2);
  align-items: center;
  margin-top: var(--space-1h);
}
.field {
  min-height: 2rem;
  padding: var(--space-half) var(--space-2);
}
.days {
  width: 4.5rem;
}
.time {
  width: 7rem;
}
</style>
