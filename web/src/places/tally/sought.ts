import { reactive } from 'vue'
import type { Shapes } from '../../api/client'

/** No day, camera, state or store is called so. */
export const ALL = '*'

/** As the server is asked; what is left out asks for all. */
export type Asked = Partial<Shapes['SoughtIn']>

/** Asks for all. */
export const FOR_ALL = { text: '', camera: '', on: '', not_on: '', changed: false }

const everything = () => ({
  text: '',
  day: ALL,
  camera: ALL,
  state: ALL as Shapes['RollState'] | typeof ALL,
  store: ALL,
  changed: false,
})
export type Sought = ReturnType<typeof everything>

/** What the list is narrowed to. It stays while other screens are looked at. store: `+NAME` a copy was read there, `-NAME` none was */
export const sought = reactive(everything())

export const seekAll = () => void Object.assign(sought, everything())

export function asAsked(one: Sought): Asked {
  const text = one.text.trim()
  return {
    ...(text && { text }),
    ...(one.day !== ALL && { day: one.day }),
    ...(one.camera !== ALL && { camera: one.camera }),
    ...(one.state !== ALL && { state: one.state }),
    ...(one.store.startsWith('+') && { on: one.store.slice(1) }),
    ...(one.store.startsWith('-') && { not_on: one.store.slice(1) }),
    ...(one.changed && { changed: true }),
  }
}

/** What was kept as it is asked for, as it is chosen. */
export const seek = (asked: Asked): Sought => ({
  text: asked.text ?? '',
  day: asked.day ?? ALL,
  camera: asked.camera || ALL,
  state: asked.state ?? ALL,
  store: asked.on ? `+${asked.on}` : asked.not_on ? `-${asked.not_on}` : ALL,
  changed: asked.changed ?? false,
})
