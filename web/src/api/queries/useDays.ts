import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** Every shoot day beside the others, newest first. */
export const useDays = () =>
  useQuery({
    queryKey: ['days'],
    queryFn: () =>
      answered(client.GET('/api/productions/{production}/days', { params: { path: { production: HERE } } })),
  })

/** The account of a day as things are now, or one that was frozen. day: YYYY-MM-DD; edition: id of a frozen one */
export const useDay = (
  day: MaybeRefOrGetter<string | undefined>,
  edition: MaybeRefOrGetter<number | undefined>,
) =>
  useQuery({
    queryKey: ['day', day, edition],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/days/{day}', {
          params: {
            path: { production: HERE, day: toValue(day) ?? '' },
            query: { edition: toValue(edition) },
          },
        }),
      ),
    enabled: computed(() => Boolean(toValue(day))),
    placeholderData: keepPreviousData,
  })
