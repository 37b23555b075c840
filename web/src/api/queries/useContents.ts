import { useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/**
 * What is on the card of a stay in a reader; nothing is asked while there is none. It may be long: it is neither compared
 * with the answer before nor watched part by part.
 */
export const useContents = (insertion: MaybeRefOrGetter<number | null>) =>
  useQuery({
    queryKey: ['contents', insertion],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/insertions/{insertion_id}/contents', {
          params: { path: { production: HERE, insertion_id: toValue(insertion) ?? 0 } },
        }),
      ),
    enabled: () => toValue(insertion) !== null,
    structuralSharing: false,
    shallow: true,
  })

/** Every clip on it, where the answer above has not all of them; nothing is asked for null. */
export const useAllClips = (insertion: MaybeRefOrGetter<number | null>) =>
  useQuery({
    queryKey: ['contents', insertion, 'clips'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/bench/insertions/{insertion_id}/clips', {
          params: { path: { production: HERE, insertion_id: toValue(insertion) ?? 0 } },
        }),
      ),
    enabled: () => toValue(insertion) !== null,
    structuralSharing: false,
    shallow: true,
  })
