import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'

/** What an offload of this much of a card would do, and the names its files would get. */
export const useChoice = (
  card: MaybeRefOrGetter<number | null>,
  wanted: MaybeRefOrGetter<Shapes['TakeIn']>,
  enabled: () => boolean,
) =>
  useQuery({
    queryKey: ['choice', card, wanted],
    queryFn: () =>
      answered(
        client.POST('/api/productions/{production}/bench/cards/{card_id}/choice', {
          params: { path: { production: HERE, card_id: toValue(card) ?? 0 } },
          body: toValue(wanted),
        }),
      ),
    enabled,
    placeholderData: keepPreviousData,
    retry: false,
  })
