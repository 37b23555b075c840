import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

/** Have rolls taken off a store, each file after another copy of it was read back. */
export const useMakeRoom = () =>
  useAct(
    (body: Shapes['MakeRoomIn']) =>
      answered(
        client.POST('/api/productions/{production}/room', { params: { path: { production: HERE } }, body }),
      ),
    'making-room',
  )
