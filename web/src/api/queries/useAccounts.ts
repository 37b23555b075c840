import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

const WHILE_MADE_MS = 1000

/** The accounts that were made of a roll, a card, a day or a store, newest first. */
export const useAccounts = (
  on: Shapes['AccountOn'],
  about: MaybeRefOrGetter<string>,
  enabled: MaybeRefOrGetter<boolean>,
) =>
  useQuery({
    enabled,
    queryKey: ['accounts', on, about],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/accounts/{on}/{about}', {
          params: { path: { production: HERE, on, about: toValue(about) } },
        }),
      ),
    refetchInterval: (asked) => (asked.state.data?.some((one) => one.being_made) ? WHILE_MADE_MS : false),
  })
