import { reactive } from 'vue'
import type { Shapes } from '../../api/client'

/** No day, camera, state or store is called so. */
export const ALL = '*'

/** What the list is narrowed to. It stays while other screens are looked at. store: `+NAME` a copy was read there, `-NAME` none was */
export const sought = reactive({
  text: '',
  day: ALL,
  camera: ALL,
  state: ALL as Shapes['RollState'] | typeof ALL,
  store: ALL,
})

export const seekAll = () =>
  void Object.assign(sought, { text: '', day: ALL, camera: ALL, state: ALL, store: ALL })
