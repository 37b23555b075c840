import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/notes'

export const useWriteNote = () =>
  useAct(
    (body: Shapes['NoteIn']) => answered(client.POST(P, { params: { path: { production: HERE } }, body })),
    'notes',
  )

export const useWithdrawNote = () =>
  useAct(
    (note: number) =>
      answered(client.DELETE(`${P}/{note_id}`, { params: { path: { production: HERE, note_id: note } } })),
    'notes',
  )
