import { answered, client, type Shapes } from '../client'
import { useAct } from './act'

const of = (person: number) => ({ params: { path: { person_id: person } } })

export const useInvite = () =>
  useAct((role: string) => answered(client.POST('/api/people/invitations', { body: { role } })), 'people')

export const useLinkForPassword = () =>
  useAct((person: number) => answered(client.POST('/api/people/{person_id}/password-link', of(person))))

export const useGiveRole = () =>
  useAct(
    ({ person, role }: { person: number; role: string }) =>
      answered(client.PUT('/api/people/{person_id}/role', { ...of(person), body: { role } })),
    'people',
  )

/** Off the crew, or on it again. */
export const useTakeOff = () =>
  useAct(
    ({ person, off }: { person: number; off: boolean }) =>
      off
        ? answered(client.DELETE('/api/people/{person_id}', of(person)))
        : answered(client.POST('/api/people/{person_id}/again', of(person))),
    'people',
  )

export const useOwnPassword = () =>
  useAct((body: Shapes['OwnPassword']) => answered(client.POST('/api/session/password', { body })))
