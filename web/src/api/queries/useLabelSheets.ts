import { useQuery } from '@tanstack/vue-query'
import type { Ref } from 'vue'
import { answered, client } from '../client'
import { HERE } from '../here'

/** The sheets that labels can be printed on, by name. */
export const useLabelSheets = (wanted: Ref<boolean>) =>
  useQuery({
    queryKey: ['sheets'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/reports/labels/sheets', {
          params: { path: { production: HERE } },
        }),
      ),
    enabled: wanted,
    staleTime: Infinity,
  })
