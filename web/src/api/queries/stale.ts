import type { Shapes } from '../client'

type Topic = Shapes['Topic']

/** What is asked of the server, by the first word of its key. A key that begins otherwise does not compile. */
export type Question =
  | 'me'
  | 'bench'
  | 'queue'
  | 'rigs'
  | 'contents'
  | 'choice'
  | 'setup'
  | 'example'
  | 'tally'
  | 'roll'
  | 'files'
  | 'clips'
  | 'choosing'
  | 'against'
  | 'swings'
  | 'clearing'
  | 'waterline'
  | 'log'
  | 'moves'
  | 'standins'
  | 'begun'
  | 'begin'
  | 'link'
  | 'people'
  | 'stores'
  | 'volumes'
  | 'stations'
  | 'cards'
  | 'readers'
  | 'effect'
  | 'card'
  | 'clearance'
  | 'whatif'
  | 'onward'
  | 'upkeep'
  | 'room'
  | 'search'
  | 'comparison'
  | 'where'
  | 'find'
  | 'returns'
  | 'making-room'
  | 'keywords'
  | 'notes'
  | 'shifts'
  | 'sessions'
  | 'screens'
  | 'stands'
  | 'sheets'
  | 'days'
  | 'day'
  | 'reports'
  | 'units'
  | 'news'
  | 'views'
  | 'since'
  | 'here'
  | 'trends'
  | 'codes'
  | 'keys'
  | 'accounts'
  | 'after'
  | 'deliveries'
  | 'emblem'
  | 'sets'

declare module '@tanstack/vue-query' {
  interface Register {
    queryKey: readonly [Question, ...unknown[]]
  }
}

/** Which questions each live topic makes out of date. */
export const staleBy: Record<Topic, readonly Question[]> = {
  readers: [
    'making-room',
    'returns',
    'stands',
    'where',
    'find',
    'readers',
    'stations',
    'bench',
    'queue',
    'rigs',
    'choice',
    'contents',
    'standins',
    'clearing',
    'waterline',
    'card',
  ],
  cards: [
    'trends',
    'since',
    'days',
    'day',
    'stands',
    'where',
    'find',
    'effect',
    'card',
    'clearance',
    'cards',
    'moves',
    'bench',
    'setup',
    'contents',
    'clearing',
    'waterline',
    'log',
    'standins',
  ],
  media: ['reports', 'days', 'day', 'moves', 'contents', 'rigs', 'choice'],
  setup: [
    'keys',
    'trends',
    'units',
    'effect',
    'setup',
    'readers',
    'me',
    'cards',
    'people',
    'stations',
    'volumes',
    'example',
    'bench',
    'choice',
    'rigs',
  ],
  rolls: [
    'after',
    'making-room',
    'returns',
    'trends',
    'reports',
    'days',
    'day',
    'stands',
    'where',
    'find',
    'card',
    'clearance',
    'whatif',
    'onward',
    'upkeep',
    'room',
    'search',
    'comparison',
    'effect',
    'bench',
    'choice',
    'contents',
    'tally',
    'since',
    'roll',
    'files',
    'choosing',
    'against',
    'clearing',
    'waterline',
    'log',
  ],
  stores: [
    'making-room',
    'trends',
    'days',
    'day',
    'stands',
    'where',
    'find',
    'effect',
    'whatif',
    'onward',
    'upkeep',
    'room',
    'search',
    'comparison',
    'card',
    'stores',
    'volumes',
    'setup',
    'bench',
    'choice',
    'tally',
    'since',
    'roll',
    'clearing',
    'waterline',
  ],
  looks: ['roll'],
  pictures: ['clips', 'choosing', 'against', 'find'],
  marks: ['making-room', 'keywords', 'choosing', 'against', 'find'],
  comparing: ['comparison', 'returns'],
  notes: ['reports', 'notes', 'find', 'stands', 'day', 'log'],
  presence: ['here'],
  accounts: ['accounts'],
  deliveries: ['deliveries', 'emblem'],
  sets: ['sets'],
  news: ['news', 'log'],
  shifts: ['shifts', 'day', 'log'],
  session: ['sessions', 'me'],
}

/** Questions whose key goes on with the name of what they are about. */
export const byName: Partial<Record<Topic, readonly Question[]>> = {
  rolls: ['roll', 'files', 'clips', 'choosing'],
  looks: ['roll'],
  pictures: ['clips', 'choosing'],
  marks: ['choosing'],
}
