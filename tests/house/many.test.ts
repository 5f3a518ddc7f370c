import ICAL from 'ical.js'
import { beforeAll, describe, expect, it } from 'vitest'
import type { BoardView, CalendarView, LeadView, TeamTodayView } from '#core/team'
import type { Status } from '#core/vocabulary'
import { demo, eventually, readDatabase, send, signedIn, somebody } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [jonah, ansel, tamsin] = [] as unknown as [Ask, Ask, Ask]
const ids = new Map<string, string>()
beforeAll(async () => {
  ;[jonah, ansel, tamsin] = (await Promise.all(['jonah', 'ansel', 'tamsin'].map(signedIn))) as [Ask, Ask, Ask]
  for (const m of (await json<{ members: { id: string; name: string }[] }>(jonah, '/api/team/house')).members)
    ids.set(m.name.split(' ')[0]!.toLowerCase(), m.id)
})
async function json<T>(who: Ask, path: string, method = 'GET', body?: object): Promise<T> {
  return (await (await who(path, method, body)).json()) as T
}
interface Bulk {
  id: string
  state: string
  total: number
  done: number
  skipped: number
  undone: number
  detail?: string
  errors?: { field: string }[]
}
const bulk = (act: object, leads: string[], who = jonah) => json<Bulk>(who, '/api/team/bulk', 'POST', { act, leads })
const ended = (id: string, who = jonah) =>
  eventually(async () => {
    const now = await json<Bulk>(who, `/api/team/bulk/${id}`)
    return ['done', 'stopped', 'undone'].includes(now.state) && now
  })

/** Some who came just now and wait for Jonah. */
async function some(n: number, called = 'many'): Promise<string[]> {
  const word = `${called}${Date.now().toString(36)}`
  for (let i = 0; i < n; i++) expect((await send('form_journal', { email: somebody(word), first_name: 'Mo' })).status).toBe(201)
  return eventually(async () => {
    const { leads } = await json<{ leads: LeadView[] }>(jonah, `/api/team/leads?search=${word}&size=100`)
    return leads.length === n && leads.map(l => l.id)
  })
}
const of = async (id: string) => (await json<{ lead: LeadView }>(jonah, `/api/team/leads/${id}`)).lead

describe('many at once', () => {
  it('get an owner, who is told of each, and all of it is taken back but for what somebody did since', async () => {
    const leads = await some(12)
    const before = await Promise.all(leads.map(of))
    const { id, total } = await bulk({ do: 'owner', owner: ids.get('ansel'), words: 'From the fair' }, leads)
    expect([total, await ended(id)]).toMatchObject([12, { state: 'done', done: 12, skipped: 0 }])
    expect(new Set((await Promise.all(leads.map(of))).map(l => l.owner?.name))).toEqual(new Set(['Ansel Thwaite']))
    const told = await readDatabase(
      sql =>
        sql`select from delivery where lead_id = any(${leads}::uuid[]) and member_id = ${ids.get('ansel')!} and body like '%From the fair%'`,
    )
    expect(told).toHaveLength(12)
    await ansel(`/api/team/leads/${leads[0]}/owner`, 'PUT', { owner: ids.get('desmond') })
    await jonah(`/api/team/bulk/${id}/undo`, 'POST')
    expect((await ended(id)).state).toBe('undone')
    const after = await Promise.all(leads.map(of))
    expect(after.map(l => l.owner?.id)).toEqual([ids.get('desmond'), ...before.slice(1).map(l => l.owner?.id)])
    expect((await jonah(`/api/team/bulk/${id}/undo`, 'POST')).status).toBe(409)
  })
  it('get tags and a status; what was so already is left and counted', async () => {
    const leads = await some(3)
    await jonah(`/api/team/leads/${leads[0]}/status`, 'PUT', { status: 'in_talks' })
    const { id } = await bulk({ do: 'status', status: 'in_talks' }, leads)
    expect(await ended(id)).toMatchObject({ done: 3, skipped: 1 })
    await ended((await bulk({ do: 'tags', add: ['spring', 'fair'], remove: [] }, leads)).id)
    await ended((await bulk({ do: 'tags', add: [], remove: ['fair'] }, leads)).id)
    expect((await of(leads[2]!)).tags).toEqual(expect.arrayContaining(['spring']))
    expect((await of(leads[2]!)).tags).not.toContain('fair')
  })
  it('by filters: all that fit, and nobody else', async () => {
    const leads = await some(4, 'fits')
    const tag = `t${Date.now().toString(36)}`
    await ended((await bulk({ do: 'tags', add: [tag], remove: [] }, leads)).id)
    const began = await json<Bulk>(jonah, `/api/team/bulk?tag=${tag}`, 'POST', {
      act: { do: 'next_step', text: 'Ring them', due: '2031-05-01T09:00:00Z', kind: 'call' },
    })
    expect(await ended(began.id)).toMatchObject({ total: 4, done: 4 })
    expect((await of(leads[1]!)).nextStep).toMatchObject({ text: 'Ring them', kind: 'call' })
  })
  it.each([
    [{ do: 'status', status: 'lost' }, 'reason'],
    [{ do: 'status', status: 'nowhere' }, 'status'],
    [{ do: 'owner', owner: '01930000-0000-7000-8000-000000000999' }, 'owner'],
    [{ do: 'dance' }, 'act.do'],
  ])('%j is refused before anything is done', async (act, field) => {
    const answer = await bulk(act, ['01930000-0000-7000-8000-000000000999'])
    expect(answer.errors?.map(e => e.field)).toContain(field)
  })
  it('who is not there is passed over, with the reason; nobody is nobody', async () => {
    const { id } = await bulk({ do: 'tags', add: ['x'], remove: [] }, ['01930000-0000-7000-8000-000000000999'])
    expect(await ended(id)).toMatchObject({ total: 1, done: 1, skipped: 1 })
    expect((await jonah('/api/team/bulk?tag=nobody-has-this', 'POST', { act: { do: 'tags', add: ['x'], remove: [] } })).status).toBe(422)
    expect((await ansel(`/api/team/bulk/${id}/undo`, 'POST')).status).toBe(403)
    expect((await tamsin('/api/team/bulk', 'POST', { act: { do: 'tags', add: ['x'], remove: [] } })).status).toBe(403)
  })
})

describe('statuses', () => {
  const statuses = async () => (await json<{ statuses: Status[] }>(ansel, '/api/team/house')).statuses.map(({ rank: _, ...s }) => s)
  const put = (all: object[], moves: object = {}) => ansel('/api/team/statuses', 'PUT', { statuses: all, moves })
  it('one that is new is used, renamed and given up: its leads go where that was said, and what happened keeps its name', async () => {
    const before = await statuses()
    const [first, ...rest] = before
    expect((await put([first!, { name: 'Measuring', stage: 'open', asks: [], reasons: [] }, ...rest])).status).toBe(200)
    const key = (await statuses()).find(s => s.name === 'Measuring')!.key
    const leads = await some(2)
    for (const id of leads) await jonah(`/api/team/leads/${id}/status`, 'PUT', { status: key })
    expect((await json<Record<string, number>>(jonah, '/api/team/statuses'))[key]).toBe(2)
    const refused = await put(before)
    expect([refused.status, ((await refused.json()) as { detail: string }).detail]).toEqual([
      422,
      '2 leads are “Measuring”. Say where they go.',
    ])
    expect((await put(before, { [key]: 'in_talks' })).status).toBe(200)
    await eventually(async () => (await Promise.all(leads.map(of))).every(l => l.status === 'in_talks'))
    const { timeline } = await json<{ timeline: { kind: string; sentence: unknown }[] }>(jonah, `/api/team/leads/${leads[0]}`)
    expect(JSON.stringify(timeline.filter(l => l.kind === 'status'))).toContain('Measuring')
    expect(await statuses()).toEqual(before)
  })
  it('that make no sense are refused, and nothing is changed', async () => {
    const before = await statuses()
    const without = (stage: string) => before.filter(s => s.stage !== stage)
    for (const all of [
      without('first'),
      without('won'),
      [],
      [...before, before[0]!],
      before.map(s => ({ ...s, name: 'Same' })),
      before.map(s => ({ ...s, asks: ['value'] })),
      [...before, { name: ' ', stage: 'open', asks: [], reasons: [] }],
    ])
      expect((await put(all, Object.fromEntries(before.map(s => [s.key, 'in_talks'])))).status).toBe(422)
    expect((await jonah('/api/team/statuses', 'PUT', { statuses: before })).status).toBe(403)
    expect(await statuses()).toEqual(before)
  })
})

it('the board has each open lead at its status, and the range of days of those that were won', async () => {
  const board = await json<BoardView>(jonah, '/api/team/board')
  const counts = await json<Record<string, number>>(jonah, '/api/team/statuses')
  for (const column of board.columns) {
    expect(column.total).toBeLessThanOrEqual(counts[column.status]!)
    expect(column.leads.map(l => l.days)).toEqual(column.leads.map(l => l.days).toSorted((a, b) => b - a))
    if (column.range) expect(column.range.low).toBeLessThanOrEqual(column.range.high)
  }
  expect(board.columns.some(c => c.range !== null)).toBe(true)
  expect((await jonah('/api/team/board?owner=nobody')).status).toBe(422)
})

it('the team’s day: each figure is its people, and only who manages sees it', async () => {
  const team = await json<TeamTodayView>(ansel, '/api/team/today/team')
  const waiting = await readDatabase(
    sql =>
      sql<
        { id: string; owner: string | null }[]
      >`select l.id, l.owner_id as owner from lead l join status s on s.key = l.status where l.waiting_since is not null and s.stage not in ('lost', 'parked')`,
  )
  for (const p of team.people)
    expect(p.waiting.toSorted()).toEqual(
      waiting
        .filter(w => w.owner === p.member)
        .map(w => w.id)
        .toSorted(),
    )
  expect(team.lanes.reduce((n, l) => n + l.waiting.length, 0)).toBe(waiting.length)
  for (const p of team.people) expect([p.overdue.every(id => p.waiting.includes(id)), p.kept <= p.promises]).toEqual([true, true])
  expect((await jonah('/api/team/today/team')).status).toBe(403)
})

describe('the calendar', () => {
  it('has next steps when they are due, and a secret address that a foreign reader understands; a new one ends the old', async () => {
    const [id] = await some(1)
    const due = new Date(Date.now() + 3 * 86_400_000).toISOString()
    await jonah(`/api/team/leads/${id}/owner`, 'PUT', { owner: ids.get('jonah') })
    await jonah(`/api/team/leads/${id}/next-step`, 'PUT', {
      text: 'Look at the roof; bring, a ladder',
      due,
      kind: 'visit',
      remind: [60, 0],
    })
    const range = `from=${new Date().toISOString()}&until=${new Date(Date.now() + 7 * 86_400_000).toISOString()}`
    const own = await json<CalendarView>(jonah, `/api/team/calendar?${range}&owner=${ids.get('jonah')}`)
    expect(own.items.find(i => i.lead === id)).toMatchObject({ text: 'Look at the roof; bring, a ladder', kind: 'visit', at: due })
    const one = await json<{ address: string }>(jonah, '/api/team/calendar/feed', 'POST')
    const read = async (address: string) => fetch(address.replace(/^https?:\/\/[^/]+/, demo().url))
    const feed = await read(one.address)
    expect(feed.headers.get('content-type')).toContain('text/calendar')
    const events = new ICAL.Component(ICAL.parse(await feed.text()) as never).getAllSubcomponents('vevent').map(e => new ICAL.Event(e))
    const step = events.find(e => e.uid === `step-${id}@cavlin`)!
    expect([step.summary, step.startDate.toJSDate().getTime()]).toEqual([
      'Visit: Look at the roof; bring, a ladder (Mo)',
      Math.floor(Date.parse(due) / 1000) * 1000,
    ])
    expect(step.component.getAllSubcomponents('valarm')).toHaveLength(2)
    const two = await json<{ address: string }>(jonah, '/api/team/calendar/feed', 'POST')
    expect([(await read(one.address)).status, (await read(two.address)).status]).toEqual([404, 200])
    await jonah('/api/team/calendar/feed', 'DELETE')
    expect((await read(two.address)).status).toBe(404)
  })
  it.each([
    'from=x&until=y',
    'from=2026-05-01T00:00:00Z&until=2026-04-01T00:00:00Z',
    'from=2026-05-01T00:00:00Z&until=2027-04-01T00:00:00Z',
    'from=2026-05-01T00:00:00Z&until=2026-05-04T00:00:00Z&owner=me',
  ])('%s is refused in words', async query => {
    expect((await jonah(`/api/team/calendar?${query}`)).status).toBe(422)
  })
})
