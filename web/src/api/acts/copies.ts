import { answered, client } from '../client'
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
