import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

export const useSignIn = () =>
  useAct((given: Shapes['SignIn']) => answered(client.POST('/api/session', { body: given })), 'me')

export const useSignOut = () => useAct(() => answered(client.DELETE('/api/session')), 'me')

/** Prove that nobody rewrote the journal. */
export const useProveJournal = () =>
  useAct(() =>
    answered(
      client.GET('/api/productions/{production}/log/seal', { params: { path: { production: HERE } } }),
    ),
  )
