/**
 * What is asked in one moment goes to the server as one request: a page asks all that it shows anew whenever something
 * happens, and when it wakes. Each question still gets its own answer, as soon as that is there.
 */

const WHERE = '/api/at-once'
/** Addresses longer than this are refused by some servers on the way. */
const MOST_LETTERS = 6_000
const MOST = 40
/** What hangs in the slots: people look there first. */
const FIRST = /\/bench$/
/** Worked out for each person anew: what all who show this page ask alike does not wait for them. */
const LAST = /\/(news|notes)\b/
/** Not JSON, or asked while there is no page to speak of; or long in coming, so that nothing is to wait for it. */
const ALONE = /^\/api\/(live|session|begin)\b|\/(contents|files|clips|search)\b/
const rank = ({ address }: Waiting) => (FIRST.test(address) ? 0 : LAST.test(address) ? 2 : 1)

interface Waiting {
  request: Request
  address: string
  tell: (answer: Response) => void
  fail: (reason: unknown) => void
}

let waiting: Waiting[] = []

export function fetchAtOnce(request: Request): Promise<Response> {
  const { pathname, search } = new URL(request.url)
  if (request.method !== 'GET' || ALONE.test(pathname)) return fetch(request)
  return new Promise((tell, fail) => {
    if (!waiting.length) setTimeout(send)
    waiting.push({ request, address: pathname + search, tell, fail })
  })
}

function send() {
  const asked = waiting.sort((a, b) => rank(a) - rank(b))
  waiting = []
  for (const part of inParts(asked)) void (part.length > 1 ? together(part) : part.forEach(alone))
}

function* inParts(asked: Waiting[]): Generator<Waiting[]> {
  let part: Waiting[] = []
  let letters = 0
  for (const one of asked) {
    const more = encodeURIComponent(one.address).length + 4
    if (part.length === MOST || (part.length && letters + more > MOST_LETTERS)) {
      yield part
      part = []
      letters = 0
    }
    part.push(one)
    letters += more
  }
  yield part
}

function alone(one: Waiting) {
  fetch(one.request).then(one.tell, one.fail)
}

async function together(asked: Waiting[]) {
  const left = [...asked]
  try {
    const of = asked.map((one) => `of=${encodeURIComponent(one.address)}`).join('&')
    const answer = await fetch(`${WHERE}?${of}`)
    if (!answer.ok || !answer.body) {
      for (const one of left) one.tell(answer.clone())
      return
    }
    for await (const line of linesOf(answer.body)) left.shift()?.tell(answerOf(line))
    if (left.length) throw new TypeError('the server stopped answering')
  } catch (reason) {
    for (const one of left) one.fail(reason)
  }
}

/** `{"status":200,"body":…}`, whose body is passed on as it came. */
function answerOf(line: string): Response {
  const [, status, body] = /^\{"status":(\d+),"body":(.*)\}$/s.exec(line) ?? []
  if (!status || body === undefined) throw new TypeError('the server answered otherwise than asked')
  const type = Number(status) < 400 ? 'application/json' : 'application/problem+json'
  return new Response(body, { status: Number(status), headers: { 'Content-Type': type } })
}

async function* linesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<string> {
  const reader = body.getReader()
  const decoder = new TextDecoder()
  let kept = ''
  for (;;) {
    const { done, value } = await reader.read()
    if (done) return
    const parts = (kept + decoder.decode(value, { stream: true })).split('\n')
    kept = parts.pop() ?? ''
    yield* parts
  }
}
