import { answered, client, type Shapes } from '../client'
import { HERE } from '../here'
import { useAct } from './act'

const P = '/api/productions/{production}/people'
const here = { params: { path: { production: HERE } } }
const of = (person: number) => ({ params: { path: { production: HERE, person_id: person } } })

export const useInvite = () =>
  useAct((role: string) => answered(client.POST(`${P}/invitations`, { ...here, body: { role } })), 'people')

export const useLinkForPassword = () =>
  useAct((person: number) => answered(client.POST(`${P}/{person_id}/password-link`, of(person))))

/** What somebody is in this production; whoever was of another is on its crew by that. */
export const useGiveRole = () =>
  useAct(
    ({ person, role }: { person: number; role: string }) =>
      answered(client.PUT(`${P}/{person_id}/role`, { ...of(person), body: { role } })),
    'people',
  )

/** Off the crew, or on it again. */
export const useTakeOff = () =>
  useAct(
    ({ person, off }: { person: number; off: boolean }) =>
      off
        ? answered(client.DELETE(`${P}/{person_id}`, of(person)))
        : answered(client.POST(`${P}/{person_id}/again`, of(person))),
    'people',
  )

export const useOwnPassword = () =>
  useAct((body: Shapes['OwnPassword']) => answered(client.POST('/api/session/password', { body })))

/** Choose what to say who one is with at a shared screen. */
export const useSetPin = () =>
  useAct((body: Shapes['PinIn']) => answered(client.PUT('/api/session/pin', { body })))

/** Sign out elsewhere. */
export const useEndSession = () =>
  useAct(
    (name: string) => answered(client.DELETE('/api/session/all/{name}', { params: { path: { name } } })),
    'sessions',
  )

/** One-time codes from one's phone: nothing is asked for until the first was confirmed. */
export const useBeginCodes = () =>
  useAct((password: string) => answered(client.POST('/api/session/codes', { body: { password } })))

export const useConfirmCodes = () =>
  useAct((code: string) => answered(client.PUT('/api/session/codes', { body: { code } })), 'codes')

export const useEndCodes = () =>
  useAct(
    (password: string) => answered(client.POST('/api/session/codes/end', { body: { password } })),
    'codes',
  )
