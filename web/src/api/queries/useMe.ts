import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { answered, client, type Shapes } from '../client'
import { t } from '../../words/say'
import { Refusal } from '../refusal'

const queryKey = ['me'] as const

/** Who is signed in. Whoever was known and is not any more stays, with their page: that is a session that ended. */
export function useMe() {
  const cache = useQueryClient()
  const ask = async (): Promise<Shapes['Me'] | null> => {
    const me = await answered(client.GET('/api/session'))
    if (!me && cache.getQueryData(queryKey)) throw new Refusal(401, t('signIn.yourSessionHasEndedSign'))
    return me
  }
  return useQuery({ queryKey, queryFn: ask, staleTime: Infinity })
}
