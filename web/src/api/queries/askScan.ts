import { answered, client } from '../client'
import { HERE } from '../here'

/** Which card or roll of this production is called this; asked once, and not kept. */
export const askScan = (code: string) =>
  answered(
    client.GET('/api/productions/{production}/clearing/scan', {
      params: { path: { production: HERE }, query: { code } },
    }),
  )
