import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

type Topic = Shapes['Topic']

/** Every query's key begins with its name; this says which live topics make it out of date. */
export const staleBy: Record<Topic, readonly string[]> = {
  readers: ['bench', 'queue', 'rigs', 'choice', 'contents', 'standins', 'clearing', 'waterline'],
  cards: ['bench', 'setup', 'contents', 'clearing', 'waterline', 'log', 'standins'],
  media: ['contents', 'rigs', 'choice'],
  setup: ['setup', 'example', 'bench', 'choice', 'rigs'],
  rolls: ['bench', 'choice', 'contents', 'tally', 'roll', 'files', 'clearing', 'waterline', 'log'],
  stores: ['bench', 'choice', 'tally', 'roll', 'clearing', 'waterline'],
  looks: ['roll'],
  session: [],
}

/** Questions whose key goes on with the name of what they are about. */
export const byName: Partial<Record<Topic, readonly string[]>> = { rolls: ['roll', 'files'], looks: ['roll'] }

export const useMe = () =>
  useQuery({ queryKey: ['me'], queryFn: () => answered(client.GET('/api/session')), staleTime: Infinity })

export const useBench = () =>
  useQuery({
    queryKey: ['bench'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/bench', { params: { path: { production: HERE } } })),
    // a worker that dies says nothing: whether it is there is asked for as long as a run is under way
    refetchInterval: (query) =>
      query.state.data?.slots.some((slot) => slot.offload && !slot.offload.finished_at) ? 10_000 : false,
  })

/**
 * What is on the card of a stay in a reader; nothing is asked while there is none. It may be long: it is neither compared
 * with the answer before nor watched part by part.
 */
export const useContents = (insertion: MaybeRefOrGetter<number | null>) =>
  useQuery({
    queryKey: ['contents', insertion],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/insertions/{insertion_id}/contents', {
          params: { path: { production: HERE, insertion_id: toValue(insertion) ?? 0 } },
        }),
      ),
    enabled: () => toValue(insertion) !== null,
    structuralSharing: false,
    shallow: true,
  })

export const useQueue = () =>
  useQuery({
    queryKey: ['queue'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/queue', { params: { path: { production: HERE } } }),
      ),
    refetchInterval: 5_000,
  })

export const useRigs = () =>
  useQuery({
    queryKey: ['rigs'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/rigs', { params: { path: { production: HERE } } }),
      ),
  })

export const useSetUp = () =>
  useQuery({
    queryKey: ['setup'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/setup', { params: { path: { production: HERE } } })),
  })

/** A list of which the server hands out a page at a time; `after` asks for the next. */
interface Paged {
  after: string | null
}
const paged = { initialPageParam: '', getNextPageParam: (page: Paged) => page.after }

/** Which rolls are asked for; what is left out asks for all. */
export interface RollsSought {
  day?: string | undefined
  camera?: string | undefined
  state?: Shapes['RollState'] | undefined
  on?: string | undefined
  not_on?: string | undefined
  text?: string | undefined
}

export const useTally = (sought: MaybeRefOrGetter<RollsSought>) =>
  useInfiniteQuery({
    queryKey: ['tally', sought],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/tally', {
          params: { path: { production: HERE }, query: { ...toValue(sought), after: pageParam } },
        }),
      ),
    ...paged,
    placeholderData: keepPreviousData,
  })

export const useRollFiles = (tag: MaybeRefOrGetter<string>) =>
  useInfiniteQuery({
    queryKey: ['files', tag],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/tally/rolls/{tag}/files', {
          params: { path: { production: HERE, tag: toValue(tag) }, query: { after: pageParam } },
        }),
      ),
    ...paged,
    retry: false,
  })

export const useRoll = (tag: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['roll', tag],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/tally/rolls/{tag}', {
          params: { path: { production: HERE, tag: toValue(tag) } },
        }),
      ),
    retry: false,
  })

export const useClearing = () =>
  useInfiniteQuery({
    queryKey: ['clearing'],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/clearing', {
          params: { path: { production: HERE }, query: { after: pageParam } },
        }),
      ),
    ...paged,
  })

export const useWaterline = () =>
  useQuery({
    queryKey: ['waterline'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/waterline', { params: { path: { production: HERE } } }),
      ),
  })

export interface LogWanted {
  kind?: Shapes['ActKind'] | undefined
  person?: string | undefined
  text?: string | undefined
}

/** The journal, a page at a time; `wanted` is asked of the server, so that nothing it would find is missed. */
export const useLog = (wanted: MaybeRefOrGetter<LogWanted>) =>
  useInfiniteQuery({
    queryKey: ['log', wanted],
    queryFn: ({ pageParam }) =>
      answered(
        client.GET('/api/productions/{production}/log', {
          params: { path: { production: HERE }, query: { ...toValue(wanted), before: pageParam } },
        }),
      ),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (page) => page.before ?? undefined,
    placeholderData: keepPreviousData,
  })

export const useStandinCards = (there: MaybeRefOrGetter<boolean>) =>
  useQuery({
    queryKey: ['standins'],
    queryFn: () => answered(client.GET('/api/standins/cards')),
    enabled: () => toValue(there),
  })

/** What an offload of this much of a card would do, and the names its files would get. */
export const useChoice = (
  card: MaybeRefOrGetter<number | null>,
  wanted: MaybeRefOrGetter<Shapes['TakeIn']>,
  enabled: () => boolean,
) =>
  useQuery({
    queryKey: ['choice', card, wanted],
    queryFn: () =>
      answered(
        client.POST('/api/productions/{production}/bench/cards/{card_id}/choice', {
          params: { path: { production: HERE, card_id: toValue(card) ?? 0 } },
          body: toValue(wanted),
        }),
      ),
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
  })

/** What a plan would make of a real card. plan: the id of the one that is changed */
export const usePlanExample = (plan: () => number, words: MaybeRefOrGetter<Shapes['PlanIn']>) =>
  useQuery({
    queryKey: ['example', plan, words],
    queryFn: () =>
      answered(
        client.POST('/api/productions/{production}/setup/plans/{plan_id}/example', {
          params: { path: { production: HERE, plan_id: plan() } },
          body: toValue(words),
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  })

/** Which card or roll of this production is called this; asked once, and not kept. */
export const askScan = (code: string) =>
  answered(
    client.GET('/api/productions/{production}/clearing/scan', {
      params: { path: { production: HERE }, query: { code } },
    }),
  )
