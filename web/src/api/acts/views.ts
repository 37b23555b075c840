import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/tally'
const here = { params: { path: { production: HERE } } }

export const useKeepView = () =>
  useAct((body: Shapes['ViewIn']) => answered(client.POST(`${P}/views`, { ...here, body })), 'views')

export const useDropView = () =>
  useAct(
    (view: number) =>
      answered(
        client.DELETE(`${P}/views/{view_id}`, { params: { path: { production: HERE, view_id: view } } }),
      ),
    'views',
  )

const F = '/api/productions/{production}/find/views'

export const useKeepQuestion = () =>
  useAct((body: Shapes['QuestionIn']) => answered(client.POST(F, { ...here, body })), 'views')

export const useDropQuestion = () =>
  useAct(
    (view: number) =>
      answered(client.DELETE(`${F}/{view_id}`, { params: { path: { production: HERE, view_id: view } } })),
    'views',
  )

/** Say that one has seen what was shown. */
export const useSayLooked = () =>
  useAct(
    (body: Shapes['LookedIn']) => answered(client.POST(`${P}/looked`, { ...here, body })),
    'since',
    'tally',
  )
