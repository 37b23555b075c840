import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { asFile, useAct } from './act'

const P = '/api/productions/{production}/deliveries'
const at = (consignment: number) => ({ params: { path: { production: HERE, consignment_id: consignment } } })

/** Put rolls together for somebody; where the client's page is comes back, this once. */
export const useDeliver = () =>
  useAct(
    (body: Shapes['ConsignmentIn']) =>
      answered(client.POST(P, { params: { path: { production: HERE } }, body })),
    'deliveries',
  )

/** Show a picture on every client's page; none: show none any more. */
export const useEmblemKept = () =>
  useAct(
    (file: File | null) =>
      answered(
        file
          ? client.POST(`${P}/emblem`, { params: { path: { production: HERE } }, ...asFile(file) })
          : client.DELETE(`${P}/emblem`, { params: { path: { production: HERE } } }),
      ),
    'emblem',
  )

/** It goes nowhere any more, and its link opens nothing. */
export const useWithdraw = () =>
  useAct(
    (consignment: number) => answered(client.DELETE(`${P}/{consignment_id}`, at(consignment))),
    'deliveries',
  )

/** Accounts, and a READ ME, beside the copies on a drive that goes to somebody. */
export const useLeavePapers = () =>
  useAct(
    ({ id, store }: { id: number; store: string }) =>
      answered(client.POST(`${P}/{consignment_id}/papers`, { ...at(id), body: { store } })),
    'deliveries',
  )

/** Somebody said that it arrived: its rolls are delivered. */
export const useReceive = () =>
  useAct(
    ({ id, ...body }: Shapes['ReceivedIn'] & { id: number }) =>
      answered(client.POST(`${P}/{consignment_id}/received`, { ...at(id), body })),
    'deliveries',
  )
