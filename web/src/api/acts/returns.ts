import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { asFile, useAct } from './act'

const P = '/api/productions/{production}/returns'
const here = { params: { path: { production: HERE } } }
const of = (look: number) => ({ params: { path: { production: HERE, look_id: look } } })

/** The files that a project's list names; nothing is kept. */
export const useReadList = () =>
  useAct((file: File) =>
    answered(
      client.POST(`${P}/lists`, {
        ...here,
        ...asFile(file),
      }),
    ),
  )

export const useLookInto = () =>
  useAct((body: Shapes['FolderLookIn']) => answered(client.POST(`${P}/looks`, { ...here, body })), 'returns')

export const useStopLooking = () =>
  useAct((look: number) => answered(client.DELETE(`${P}/looks/{look_id}`, of(look))), 'returns')

/** Have what is missing brought to where it was. */
export const useBringBack = () =>
  useAct(
    ({ look, ...body }: Shapes['BringBackIn'] & { look: number }) =>
      answered(client.POST(`${P}/looks/{look_id}/returns`, { ...of(look), body })),
    'returns',
  )

/** Have rolls, those of a day or one clip brought to a folder. */
export const useRestore = () =>
  useAct((body: Shapes['RestoreIn']) => answered(client.POST(`${P}/restores`, { ...here, body })), 'returns')

/** Have copies to work with made of recordings. */
export const useMakeWorking = () =>
  useAct((body: Shapes['MakeIn']) => answered(client.POST(`${P}/making`, { ...here, body })), 'returns')

/** Have what is seen of rolls written to a folder that opens on any computer. */
export const useTakeAway = () =>
  useAct(
    (body: Shapes['TakeAwayIn']) => answered(client.POST(`${P}/take-aways`, { ...here, body })),
    'returns',
  )
