import { randomUUID } from 'node:crypto'
import type { PublicLine, PublicState } from '#core/chat/lines'
import { ofScript } from '#core/chat/read-script'
import type { PointDefinition } from '#core/points/definition'
import { say } from '#server/live/say'
import { demo, member, readDatabase, signedIn } from './house'

let made = 0
/** A live chat of its own, made as a marketer makes it. @param script its flow; that of the blank chat, if left out */
export async function liveChat(script: string | null, change: (d: PointDefinition) => void = () => {}, house = demo()) {
  const as = await signedIn('tamsin')
  const name = `Chat ${process.pid} ${++made}`
  const { id } = (await (await as('/api/team/points', 'POST', { kind: 'chat', name, starter: 'three' })).json()) as { id: string }
  const { workingCopy } = (await (await as(`/api/team/points/${id}`)).json()) as { workingCopy: PointDefinition }
  if (script !== null) {
    const { flow, flaws } = ofScript(script)
    if (!flow) throw new Error(JSON.stringify(flaws))
    workingCopy.chat!.flow = flow
  }
  change(workingCopy)
  const saved = await as(`/api/team/points/${id}`, 'PUT', { revision: 1, name, definition: workingCopy })
  const { revision, errors } = (await saved.json()) as { revision: number; errors?: { field: string; message: string }[] }
  const published = saved.ok ? await as(`/api/team/points/${id}/publish`, 'POST', { revision }) : saved
  const body = saved.ok
    ? ((await published.json()) as { key: string; slug: string; errors?: { field: string; message: string }[] })
    : { key: '', slug: '', errors }
  return { as, id, name, status: published.status, errors: body.errors ?? [], key: body.key, slug: body.slug, house }
}

export interface Answer {
  id: string
  secret: string
  lines: PublicLine[]
  state: PublicState
  detail?: string
}
export async function chatPost(path: string, body: unknown): Promise<{ status: number; body: Answer }> {
  const answer = await fetch(`${demo().url}/w/chats${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  return { status: answer.status, body: (answer.status === 204 ? null : await answer.json()) as Answer }
}

/** A visitor's side of a conversation. */
export async function visitorIn(key: string, more: object = {}) {
  const begun = await chatPost('', { point: key, page: 'https://site.example/prices', by: 'tab', ...more })
  const { id, secret } = begun.body
  const lines = new Map<number, PublicLine>()
  let state = begun.body.state
  const take = (answer: Answer) => {
    for (const line of answer.lines ?? []) lines.set(line.n, line)
    if (answer.state) ({ state } = answer)
  }
  if (begun.status === 201) take(begun.body)
  const last = () => Math.max(0, ...lines.keys())
  const say = async (body: object, message: string = randomUUID()) => {
    const said = await chatPost('/said', { id, secret, after: last(), message, ...body })
    if (said.status === 200) take(said.body)
    return said
  }
  return {
    id,
    secret,
    begun,
    say,
    text: (text: string) => say({ kind: 'text', text }),
    answer: (...values: string[]) => say({ kind: 'answer', values }),
    choose: (n: number) => say({ kind: 'choice', n }),
    state: () => state,
    lines: () => [...lines.values()].sort((a, b) => a.n - b.n),
    said: () => [...lines.values()].sort((a, b) => a.n - b.n).map(l => `${l.by}: ${l.text}`),
    asked: () => [...lines.values()].findLast(l => l.choices || l.html) ?? null,
  }
}

/** Tests run at any hour: whoever is to be there is at work round the clock, until `hoursAsBefore`. */
const ALWAYS = Array.from({ length: 7 }, () => [{ from: 0, until: 1440 }])
const before = new Map<string, unknown>()
export async function alwaysThere(who: string): Promise<string> {
  const { email } = member(who)
  const [row] = await readDatabase(sql => sql<{ id: string; week: unknown }[]>`select id, week from member where email = ${email}`)
  if (!before.has(row!.id)) before.set(row!.id, row!.week)
  await setHours(row!.id, ALWAYS)
  return row!.id
}
export async function hoursAsBefore(): Promise<void> {
  for (const [id, week] of before) await setHours(id, week)
  before.clear()
}
async function setHours(id: string, week: unknown): Promise<void> {
  await readDatabase(sql => sql`update member set week = ${(week === null ? null : sql.json(week as never)) as never} where id = ${id}`)
  // Whoever keeps the hours in memory hears of it.
  await readDatabase(sql => say(sql, { colleagues: true }))
}
type As = Awaited<ReturnType<typeof signedIn>>
/** What a route answers. */
export const read = async <T>(as: As, path: string, method = 'GET', body?: unknown) => {
  const answer = await as(path, method, body)
  return { status: answer.status, body: (await answer.json()) as T & { detail?: string } }
}
