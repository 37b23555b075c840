import { useLocalStorage } from '@vueuse/core'
import { watchEffect } from 'vue'

export const theme = useLocalStorage<'daylight' | 'night'>('raft-theme', 'daylight')
export const muted = useLocalStorage('raft-muted', false)
/** Single-key shortcuts can be switched off (WCAG 2.2, 2.1.4): they get in the way of speech input. */
export const keysOn = useLocalStorage('raft-keys', true)

export function useTheme(): void {
  watchEffect(() => {
    document.documentElement.dataset.theme = theme.value
  })
}

export const otherTheme = () => (theme.value = theme.value === 'night' ? 'daylight' : 'night')
