import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** Keywords that were used before, with a word that begins so. */
export const useKeywords = (text: MaybeRefOrGetter<string>) =>
  useQuery({
    queryKey: ['keywords', text],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/keywords', {
          params: { path: { production: HERE }, query: { text: toValue(text) } },
        }),
      ),
    placeholderData: keepPreviousData,
  })
