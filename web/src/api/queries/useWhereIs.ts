import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** Where the things are whose names fit a few words best; asked while somebody asks. */
export const useWhereIs = (text: Ref<string>, open: Ref<boolean>) =>
  useQuery({
    queryKey: ['where', text],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/where', {
          params: { path: { production: HERE }, query: { text: text.value } },
        }),
      ),
    enabled: () => open.value && text.value !== '',
    placeholderData: keepPreviousData,
    staleTime: 0,
  })
