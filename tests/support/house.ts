import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { connect, type Sql } from '#db/client'

export interface Demo {
  url: string
  apiKey: string
  members: { email: string; password: string; role: string; name: string }[]
  points: { name: string; kind: string; slug: string; key: string }[]
  standins: { site: string; mailbox: string; receiver: string }
}

/** What `npm test` says of the house of this worker: workers that share a runner's work have one each. */
function ofWorker(name: string): string | undefined {
  const all = process.env[name]?.split(',')
  return all?.[Number(process.env.TEST_PARALLEL_INDEX ?? 0) % all.length]
}

/** The house that `npm test` started for the tests, as its demo.json describes it. */
export function demo(): Demo {
  const file = ofWorker('CAVLIN_TEST_DEMO')
  if (!file) throw new Error('These tests need a running house: start them with `npm test`, or `npm test house`, `npm test e2e`.')
  return JSON.parse(readFileSync(file, 'utf8')) as Demo
}

export const member = (who: string) => demo().members.find(m => m.email.startsWith(who))!

const isSignedIn = async (cookie: string) => (await fetch(`${demo().url}/api/session`, { headers: { cookie } })).ok

/**
 * Signs in; a session that another test began for the same member serves as long as it lasts: a password is made dear to check.
 * @returns what says who it is with each request
 */
export async function cookieOf(who: string): Promise<string> {
  const { email, password } = member(who)
  const file = `${ofWorker('CAVLIN_TEST_DEMO')}.sessions`
  const kept = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Record<string, string>) : {}
  if (kept[email] && (await isSignedIn(kept[email]))) return kept[email]
  const answer = await fetch(`${demo().url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  if (!answer.ok) throw new Error(`${email} could not be signed in: ${answer.status} ${await answer.text()}`)
  const cookie = answer.headers.getSetCookie()[0]!.split(';')[0]!
  writeFileSync(file, JSON.stringify({ ...kept, [email]: cookie }), { mode: 0o600 })
  return cookie
}

/** Signs in and gives what sends requests as that member. */
export async function signedIn(who: string): Promise<(path: string, method?: string, body?: unknown) => Promise<Response>> {
  const cookie = await cookieOf(who)
  return (path, method = 'GET', body) =>
    fetch(demo().url + path, {
      method,
      headers: { cookie, ...(body !== undefined && { 'content-type': 'application/json' }) },
      body: body === undefined ? undefined : JSON.stringify(body),
    })
}

let people = 0
/** An address that nobody has used. */
export const somebody = (name = 'guest') => `${name}.${Date.now().toString(36)}.${++people}@guests.example`

export interface Reply {
  status: number
  type: string
  body: { entry?: string; errors?: { field: string; message: string }[]; detail?: string } & Record<string, unknown>
}

/** Sends an entry as a script would. */
export async function send(key: string, answers: unknown, headers: Record<string, string> = {}, url = demo().url): Promise<Reply> {
  const answer = await fetch(`${url}/w/points/${key}/entries`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body: typeof answers === 'string' ? answers : JSON.stringify({ answers }),
  })
  return { status: answer.status, type: answer.headers.get('content-type') ?? '', body: (await answer.json()) as Reply['body'] }
}

/** Asks the open API. */
export async function ask<T>(path: string, house = demo()): Promise<T> {
  const answer = await fetch(house.url + path, { headers: { authorization: `Bearer ${house.apiKey}` } })
  if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`)
  return (await answer.json()) as T
}

/** Tries until it holds; long enough for a machine on which everything else runs, too. */
export async function eventually<T>(what: () => Promise<T | undefined | null | false>, ms = 60_000): Promise<T> {
  for (const end = Date.now() + ms; ;) {
    const value = await what()
    if (value) return value
    if (Date.now() > end) throw new Error(`Did not come true within ${ms} ms: ${what}`)
    await new Promise(r => setTimeout(r, 100))
  }
}

export interface Mail {
  to: string
  subject: string
  text: string
  html: string
  /** The address to leave with, as mail programs find it. */
  leave?: string
  from?: string
  replyTo?: string
  attachments?: { name: string; type: string; text: string }[]
}
export const mails = async (house = demo()): Promise<Mail[]> =>
  (await (await fetch(`${house.standins.mailbox}/api/messages`)).json()) as Mail[]

/** Looks into the database of the tests' house. */
export async function readDatabase<T>(look: (sql: Sql) => Promise<T>): Promise<T> {
  const sql = connect(ofWorker('CAVLIN_TEST_CLUSTER')!, { max: 1 })
  try {
    return await look(sql)
  } finally {
    await sql.end({ timeout: 2 })
  }
}
