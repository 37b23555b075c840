import { answered, client, type Shapes } from '../client'
import { useAct } from './act'

/** Make an empty ledger one's own. */
export const useBegin = () =>
  useAct((body: Shapes['BeginIn']) => answered(client.POST('/api/begin', { body })))

/** Join one more production by a link, as whoever is signed in. */
export const useJoinAsMyself = () =>
  useAct((secret: string) => answered(client.POST('/api/session/link/mine', { body: { secret } })))

/** Join, or choose a new password, by a link. */
export const useJoin = () =>
  useAct((body: Shapes['LinkIn']) => answered(client.POST('/api/session/link', { body })))
