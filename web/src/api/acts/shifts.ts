import { answered, client } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/shifts'
const here = { params: { path: { production: HERE } } }

export const useHandOver = () =>
  useAct((words: string) => answered(client.POST(P, { ...here, body: { words } })), 'shifts', 'log')

export const useTakeOver = () =>
  useAct(
    (matters: number[]) => answered(client.POST(`${P}/taken`, { ...here, body: { matters } })),
    'shifts',
    'log',
  )
