import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { asFile, useAct } from './act'

const P = '/api/productions/{production}/units'
const here = { params: { path: { production: HERE } } }
const of = (unit: number) => ({ params: { path: { production: HERE, unit_id: unit } } })

export const useSendUnit = () =>
  useAct((body: Shapes['UnitIn']) => answered(client.POST(P, { ...here, body })), 'units')

export const useEndUnit = () =>
  useAct((unit: number) => answered(client.DELETE(`${P}/{unit_id}`, of(unit))), 'units')

/** What a unit begins its ledger with. It holds the unit's secret. */
export const useUnitSetUp = () =>
  useAct((unit: number) => answered(client.POST(`${P}/{unit_id}/set-up`, of(unit))))

/** In the ledger that a unit takes with it; the production's name in addresses comes back. */
export const useBeginAsUnit = () =>
  useAct((body: Shapes['UnitSetUp']) => answered(client.POST(`${P}/begin`, { ...here, body })), 'me')

/** Everything that this unit's ledger knows, as a file. */
export const useHandIn = () =>
  useAct((as: 'blob') => answered(client.POST(`${P}/hand-in`, { ...here, parseAs: as })))

/** Take in what a unit handed in. */
export const useJoinUnit = () =>
  useAct(
    (file: File) =>
      answered(
        client.POST(`${P}/joins`, {
          ...here,
          ...asFile(file),
        }),
      ),
    'units',
  )
