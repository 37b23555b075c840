import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

/** Make the account of something as it is now. */
export const useMakeAccount = () =>
  useAct(
    (about: { on: Shapes['AccountOn']; about: string }) =>
      answered(
        client.POST('/api/productions/{production}/accounts/{on}/{about}', {
          params: { path: { production: HERE, ...about } },
        }),
      ),
    'accounts',
  )

/** Have an edition put on paper. */
export const useAskPaper = () =>
  useAct(
    (edition: number) =>
      answered(
        client.POST('/api/productions/{production}/accounts/editions/{edition_id}/paper', {
          params: { path: { production: HERE, edition_id: edition } },
        }),
      ),
    'accounts',
  )
