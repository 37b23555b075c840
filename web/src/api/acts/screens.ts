import { answered, client } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/screens'

/** Have this browser show the production with nobody signed in. */
export const useShareScreen = () =>
  useAct(async (name: string) => {
    await answered(client.POST(P, { params: { path: { production: HERE } }, body: { name } }))
    location.reload()
  })

export const useEndScreen = () =>
  useAct(
    (screen: number) =>
      answered(
        client.DELETE(`${P}/{screen_id}`, { params: { path: { production: HERE, screen_id: screen } } }),
      ),
    'screens',
  )
