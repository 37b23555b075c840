/** The first part of the address names the production; what comes after it is a place in it. */
const PLACES = [
  '',
  'begin',
  'join',
  'tally',
  'clearing',
  'clearances',
  'stores',
  'cards',
  'find',
  'log',
  'days',
  'reports',
  'deliveries',
  'sets',
  'returns',
  'room',
  'news',
  'wall',
  'trends',
  'handover',
  'setup',
  'legend',
  'parts',
]
const first = decodeURIComponent(location.pathname.split('/')[1] ?? '')

/** The production that every question is about, by its name in addresses; empty where the address names none. */
export const HERE = PLACES.includes(first) ? '' : first

/** Go to a production that there is, if this address names none of them. */
export function goToOneOf(productions: readonly { slug: string }[]): void {
  const newest = productions[0]
  if (!newest || productions.some((one) => one.slug === HERE)) return
  const place = HERE ? location.pathname.slice(HERE.length + 1) : location.pathname
  location.replace(`/${encodeURIComponent(newest.slug)}${place}${location.search}`)
}
