import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/bench'

/** Call a reader by a name of its own; empty: as the system calls it. */
export const useNameReader = () =>
  useAct(
    ({ id, name }: { id: number; name: string }) =>
      answered(
        client.PUT(`${P}/readers/{reader_id}/name`, {
          params: { path: { production: HERE, reader_id: id } },
          body: { name },
        }),
      ),
    'readers',
    'bench',
  )

/** A folder is a reader for the one card it holds, or is none any more. */
export const useSayFolder = () =>
  useAct(
    (body: Shapes['FolderIn']) =>
      answered(client.PUT(`${P}/folders`, { params: { path: { production: HERE } }, body })),
    'readers',
    'bench',
  )
