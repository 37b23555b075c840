import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

/** What would be brought to a store, and what stays and why; asked for while it is known what is meant. */
export const useOnward = (meant: MaybeRefOrGetter<Shapes['OnwardIn'] | undefined>) =>
  useQuery({
    queryKey: ['onward', meant],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/onward', {
          params: { path: { production: HERE }, query: toValue(meant) ?? { of: 'everything', store: '' } },
        }),
      ),
    enabled: computed(() => toValue(meant) !== undefined),
    placeholderData: keepPreviousData,
    retry: false,
  })
