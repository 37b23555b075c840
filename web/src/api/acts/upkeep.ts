import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/upkeep'

/** From now on, bring whatever is verified to a store. */
export const useGiveOrder = () =>
  useAct(
    (body: Shapes['StandingOrderIn']) =>
      answered(client.POST(`${P}/orders`, { params: { path: { production: HERE } }, body })),
    'upkeep',
  )

export const useWithdrawOrder = () =>
  useAct(
    (order: number) =>
      answered(
        client.DELETE(`${P}/orders/{order_id}`, { params: { path: { production: HERE, order_id: order } } }),
      ),
    'upkeep',
  )

/** Say whether copies on a store are read again and mended by themselves. */
export const useSetCare = () =>
  useAct(
    ({ store, ...body }: Shapes['CareIn'] & { store: string }) =>
      answered(
        client.PUT(`${P}/stores/{name}`, { params: { path: { production: HERE, name: store } }, body }),
      ),
    'upkeep',
  )
