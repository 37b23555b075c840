import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

export type RoomSought = Shapes['RoomSoughtIn']

/** What could be taken off a store to make room there, and what was; asked once a store is chosen. */
export const useMakingRoom = (sought: MaybeRefOrGetter<RoomSought>) =>
  useQuery({
    queryKey: ['making-room', sought],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/room', {
          params: { path: { production: HERE }, query: toValue(sought) },
        }),
      ),
    enabled: () => Boolean(toValue(sought).store),
    placeholderData: keepPreviousData,
    retry: false,
  })
