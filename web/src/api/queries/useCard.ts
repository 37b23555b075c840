import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** A card: where it is, what is on it, what it did over its life. */
export const useCard = (label: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['card', label],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/cards/{label}', {
          params: { path: { production: HERE, label: toValue(label) } },
        }),
      ),
    retry: false,
  })
