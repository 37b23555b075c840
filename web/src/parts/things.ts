import type { RouteLocationRaw } from 'vue-router'
import type { Shapes } from '../api/client'

/** The page of a card, a roll or a store that was found. */
export function thingPath(one: Shapes['FoundThingOut']): RouteLocationRaw {
  if (one.thing === 'store') return { path: '/stores', query: { store: one.name } }
  return one.thing === 'card'
    ? `/cards/${encodeURIComponent(one.name)}`
    : `/tally/${encodeURIComponent(one.name)}`
}
