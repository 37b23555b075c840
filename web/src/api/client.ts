import createClient, { type Middleware } from 'openapi-fetch'
import { t } from '../words/say'
import { alreadySaid, askWho, wasLetIn } from './asking'
import { fetchAtOnce } from './atOnce'
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

const WHO = 'Say who you are: this screen is shared.'
const WRONG = /^(That is not the PIN|This name has no PIN)/
/** What was sent, for sending it again: a request can be read once. */
const sent = new Map<string, Request>()

/** At a shared screen an act is refused until somebody says who does it; it is sent again with their PIN. */
const sayWho: Middleware = {
  onRequest({ request, id }) {
    if (request.method !== 'GET') sent.set(id, request.clone())
    return request
  },
  async onResponse({ response, id }) {
    const asked = sent.get(id)
    sent.delete(id)
    let answer = response
    while (asked && answer.status === 403) {
      const problem = (await answer.clone().json()) as Partial<Shapes['Problem']>
      const said = problem.title ?? ''
      if (said !== WHO && !WRONG.test(said)) break
      const known = said === WHO ? alreadySaid(asked.url) : undefined
      const acting = known ?? (await askWho(said === WHO ? '' : said))
      if (!acting) break
      const again = asked.clone()
      again.headers.set('X-Raft-Who', acting.username)
      again.headers.set('X-Raft-Pin', acting.pin)
      answer = await fetch(again)
      if (answer.ok) wasLetIn(asked.url, acting)
    }
    return answer
  },
  onError({ id }) {
    sent.delete(id)
  },
}

const client = createClient<paths>({ baseUrl: '/', fetch: fetchAtOnce })
client.use(sendToken, sayWho)

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
