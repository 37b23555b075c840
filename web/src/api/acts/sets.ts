import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/sets'
const VOLUME = `${P}/{number}/volumes/{volume}` as const
const at = (number: number, volume: number) => ({ params: { path: { production: HERE, number, volume } } })

/** Divide rolls among media. */
export const useDivide = () =>
  useAct(
    (body: Shapes['DivideIn']) => answered(client.POST(P, { params: { path: { production: HERE } }, body })),
    'sets',
  )

/** What goes onto a medium is brought to a folder, and the medium gets nothing more. */
export const useMakeVolume = () =>
  useAct(
    ({ number, volume, ...body }: Shapes['VolumeFolderIn'] & { number: number; volume: number }) =>
      answered(client.POST(`${VOLUME}/folder`, { ...at(number, volume), body })),
    'sets',
    'returns',
  )

/** A medium is in a reader again: its rolls are read, and count then. */
export const useTakeMediumIn = () =>
  useAct(
    (body: Shapes['ReturnedIn']) =>
      answered(client.POST(`${P}/returned`, { params: { path: { production: HERE } }, body })),
    'sets',
    'stores',
    'tally',
  )

/** Where a medium is kept. */
export const useSayShelf = () =>
  useAct(
    ({ number, volume, shelf }: { number: number; volume: number; shelf: string }) =>
      answered(client.PUT(`${VOLUME}/shelf`, { ...at(number, volume), body: { shelf } })),
    'sets',
  )
