import { useQueryClient } from '@tanstack/vue-query'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

export const useSignIn = () =>
  useAct((given: Shapes['SignIn']) => answered(client.POST('/api/session', { body: given })), 'me')

/** Nobody is known here any more: with that the page goes, which would stay if the session had ended by itself. */
export function useSignOut() {
  const cache = useQueryClient()
  return useAct(async () => {
    await answered(client.DELETE('/api/session'))
    cache.setQueryData(['me'], null)
  }, 'me')
}

/** Prove that nobody rewrote the journal. */
export const useProveJournal = () =>
  useAct(() =>
    answered(
      client.GET('/api/productions/{production}/log/seal', { params: { path: { production: HERE } } }),
    ),
  )
