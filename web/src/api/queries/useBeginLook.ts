import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { toValue, type MaybeRefOrGetter } from 'vue'
import { answered, client } from '../client'

/** What is plugged in, and the rule that those drives suggest which were chosen; asked again as drives come and go. */
export const useBeginLook = (token: string, chosen: MaybeRefOrGetter<readonly string[]>) =>
  useQuery({
    queryKey: ['begin', chosen],
    queryFn: () =>
      answered(client.POST('/api/begin/look', { body: { token, chosen: [...toValue(chosen)] } })),
    placeholderData: keepPreviousData,
    refetchInterval: 3_000,
    retry: false,
  })
