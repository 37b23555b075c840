import { answered, client, type Shapes } from '../client'
import { useAct } from './act'

export const useInsertCard = () =>
  useAct((body: Shapes['InsertIn']) => answered(client.POST('/api/standins/insert', { body })), 'standins')

export const useRemoveCard = () =>
  useAct(
    (slot: string) => answered(client.POST('/api/standins/remove/{slot}', { params: { path: { slot } } })),
    'standins',
  )

export const useFormatCard = () =>
  useAct(
    (serial: string) =>
      answered(client.POST('/api/standins/format/{serial}', { params: { path: { serial } } })),
    'standins',
  )

/** What people and time do to a simulated drive. */
export const useHappenToDrive = () =>
  useAct(
    ({ name, what }: Shapes['StandinDriveIn'] & { name: string }) =>
      answered(client.POST('/api/standins/drives/{name}', { params: { path: { name } }, body: { what } })),
    'standins',
  )
