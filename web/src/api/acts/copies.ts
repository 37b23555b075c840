import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

export const useCheckCopy = () =>
  useAct(
    (copy: number) =>
      answered(
        client.POST('/api/productions/{production}/copies/{copy_id}/check', {
          params: { path: { production: HERE, copy_id: copy } },
        }),
      ),
    'roll',
    'tally',
    'clearing',
  )

const ofStore = (store: string) => ({ params: { path: { production: HERE, name: store } } })

/** A store's device is lost: nothing on it counts from then on, anywhere. */
export const useReportLoss = () =>
  useAct(
    ({ store, reason }: { store: string; reason: string }) =>
      answered(
        client.POST('/api/productions/{production}/stores/{name}/lost', {
          ...ofStore(store),
          body: { reason },
        }),
      ),
    'roll',
  )

export const useReportFound = () =>
  useAct(
    (store: string) =>
      answered(client.POST('/api/productions/{production}/stores/{name}/found', ofStore(store))),
    'roll',
  )

/** Bring a roll from a verified copy to a store that lacks it, or some of it. */
export const useBringRoll = () =>
  useAct(
    ({ roll, store }: { roll: number; store: string }) =>
      answered(
        client.POST('/api/productions/{production}/bench/rolls/{roll_id}/bring', {
          params: { path: { production: HERE, roll_id: roll } },
          body: { store },
        }),
      ),
    'roll',
    'tally',
    'clearing',
  )

const R = '/api/productions/{production}/tally/rolls/{tag}'
const ofRoll = (tag: string) => ({ params: { path: { production: HERE, tag } } })

/** Say that rolls were given to whom they were made for. */
export const useSayDelivered = () =>
  useAct(
    (body: Shapes['DeliveryIn']) =>
      answered(
        client.POST('/api/productions/{production}/tally/deliveries', {
          params: { path: { production: HERE } },
          body,
        }),
      ),
    'roll',
    'clearing',
  )

/** Say that a roll was not delivered after all. */
export const useTakeDeliveryBack = () =>
  useAct((tag: string) => answered(client.DELETE(`${R}/delivery`, ofRoll(tag))), 'roll', 'clearing')

/** Note that somebody opened a clip. */
export const useNoteOpening = () =>
  useAct(
    ({ tag, path }: { tag: string; path: string }) =>
      answered(client.POST(`${R}/openings`, { ...ofRoll(tag), body: { path } })),
    'roll',
  )

/** Say of files of a roll that nobody needs them. */
export const useDropFiles = () =>
  useAct(
    ({ tag, ...body }: Shapes['DropIn'] & { tag: string }) =>
      answered(client.POST(`${R}/drops`, { ...ofRoll(tag), body })),
    'roll',
    'clearing',
  )

/** Bring many rolls to a store, each by a run of its own. */
export const useBringOnward = () =>
  useAct(
    (body: Shapes['OnwardIn']) =>
      answered(
        client.POST('/api/productions/{production}/bench/onward', {
          params: { path: { production: HERE } },
          body,
        }),
      ),
    'onward',
    'tally',
    'queue',
  )
