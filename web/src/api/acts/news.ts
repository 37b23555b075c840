import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/news'
const PROGRAMS = '/api/productions/{production}/programs'
const here = { params: { path: { production: HERE } } }

/** Say that one knows, so that nobody else is told. */
export const useSayNewsSeen = () =>
  useAct((ids: number[]) => answered(client.POST(`${P}/seen`, { ...here, body: { ids } })), 'news')

export const useChooseNews = () =>
  useAct((body: Shapes['ChoicesIn']) => answered(client.PUT(`${P}/mine`, { ...here, body })), 'news')

export const useSetEscalation = () =>
  useAct(
    (minutes: number | null) =>
      answered(client.PUT(`${PROGRAMS}/escalation`, { ...here, body: { minutes } })),
    'news',
  )

/** Another program is told; the secret that it checks messages with comes back, once. */
export const useTellProgram = () =>
  useAct((body: Shapes['ProgramIn']) => answered(client.POST(PROGRAMS, { ...here, body })), 'news')

export const useTellNoMore = () =>
  useAct(
    (hook: number) =>
      answered(
        client.DELETE(`${PROGRAMS}/{hook_id}`, { params: { path: { production: HERE, hook_id: hook } } }),
      ),
    'news',
  )
