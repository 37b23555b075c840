import { useQuery } from '@tanstack/vue-query'
import { answered, client } from '../client'
import { HERE } from '../here'

/** What was asked of rolls from when on, by whom and why; newest first. */
export const useRuleChanges = () =>
  useQuery({
    queryKey: ['setup', 'changes'],
    queryFn: () =>
      answered(
        client.GET('/api/productions/{production}/setup/rule/changes', {
          params: { path: { production: HERE } },
        }),
      ),
  })
