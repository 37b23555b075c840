import createClient, { type Middleware } from 'openapi-fetch'
import { t } from '../words/say'
import { Refusal } from './refusal'
import type { components, paths } from './schema'

export type Shapes = components['schemas']

function cookie(name: string): string {
  const found = document.cookie.split('; ').find((part) => part.startsWith(name + '='))
  return found ? decodeURIComponent(found.slice(name.length + 1)) : ''
}

const sendToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', cookie('csrftoken'))
    return request
  },
}

const client = createClient<paths>({ baseUrl: '/' })
client.use(sendToken)

type Answer<T> = { data?: T; error?: unknown; response: Response }

/** The answer, or a Refusal. A server that cannot be reached is a Refusal with status 0. */
export async function answered<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>
  try {
    answer = await call
  } catch {
    throw new Refusal(0, t('client.cannotBeReached'))
  }
  if (answer.response.ok) return answer.data as T
  const problem = answer.error as Partial<Shapes['Problem']> | undefined
  throw new Refusal(
    answer.response.status,
    problem?.title ?? t('client.notAccepted', { status: answer.response.status }),
  )
}

export { client }
