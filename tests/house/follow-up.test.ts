import { beforeAll, describe, expect, it } from 'vitest'
import type { LeadView, TodayView } from '#core/team'
import type { TimelineLine } from '#core/timeline'
import { eventually, readDatabase, send, signedIn, somebody } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [jonah, mireille, ansel] = [] as unknown as [Ask, Ask, Ask]
const ids = new Map<string, string>()

beforeAll(async () => {
  ;[jonah, mireille, ansel] = (await Promise.all(['jonah', 'mireille', 'ansel'].map(signedIn))) as [Ask, Ask, Ask]
  const { members } = (await (await jonah('/api/team/house')).json()) as { members: { id: string; name: string }[] }
  for (const m of members) ids.set(m.name.split(' ')[0]!.toLowerCase(), m.id)
})

type Acted = LeadView & { version: number }
const path = (id: string, rest: string) => `/api/team/leads/${id}/${rest}`
/** Does something and gives what came of it. */
async function act(
  who: Ask,
  id: string,
  rest: string,
  body: object,
  method = 'PUT',
): Promise<{ status: number; body: Acted & { detail?: string; errors?: { field: string }[] } }> {
  const answer = await who(path(id, rest), method, body)
  return { status: answer.status, body: (await answer.json()) as Acted }
}
const seen = async (id: string, who = jonah) =>
  (await (await who(`/api/team/leads/${id}`)).json()) as { lead: LeadView; timeline: TimelineLine[] }

/** Somebody who waits for Jonah. */
async function waiting(): Promise<string> {
  const email = somebody('waits')
  expect(
    (
      await send('form_visit', {
        email,
        first_name: 'Ida',
        last_name: 'Mallow',
        company: 'Fenwick School',
        sector: 'school',
        size: 'large',
      })
    ).status,
  ).toBe(201)
  const id = await eventually(async () => {
    const { leads } = (await (await jonah(`/api/team/leads?search=${email}`)).json()) as { leads: LeadView[] }
    return leads[0]?.id
  })
  await jonah(path(id, 'owner'), 'PUT', { owner: ids.get('jonah') })
  return id
}
const today = async (who = jonah) => (await (await who('/api/team/today')).json()) as { waiting: LeadView[]; due: LeadView[] }
const waits = async (id: string) => (await today()).waiting.some(l => l.id === id)
const undo = (who: Ask, id: string, of: number) => act(who, id, 'undo', { of }, 'POST')

describe('what may be left out', () => {
  it.each([
    ['calls', 'POST', { result: 'reached', text: null }],
    ['next-step', 'PUT', { text: null, outcome: null, kind: null, remind: null, every: null, done: null }],
    ['next-step', 'PUT', { text: 'Call', due: '2031-05-01T09:00:00Z', kind: null, remind: null, every: null }],
    ['owner', 'PUT', { owner: null, words: null, within: null }],
    ['status', 'PUT', { status: 'in_talks', reason: null, value: null, on: null, until: null }],
    ['sent-back', 'PUT', { why: 'other', words: null }],
    ['notes', 'POST', { text: 'x', files: null }],
  ] as const)('may be null, too: %s %s %j', async (path, method, body) => {
    const email = somebody('null')
    expect((await send('form_journal', { email, first_name: 'Wilf' })).status).toBe(201)
    const lead = await eventually(
      async () => ((await (await jonah(`/api/team/leads?search=${email}`)).json()) as { leads: LeadView[] }).leads[0],
    )
    expect((await jonah(`/api/team/leads/${lead.id}/${path}`, method, body)).status).toBe(200)
  })
})

describe('Today', () => {
  it('stands in the order of what is lost by waiting, and says what that is worked out from', async () => {
    const { waiting, due, cost, review } = (await (await jonah('/api/team/today')).json()) as TodayView
    const losses = waiting.map(l => l.loss)
    expect([losses.length > 1, losses]).toEqual([true, losses.toSorted((a, b) => b - a)])
    for (const lead of waiting) expect(lead.loss).toBeGreaterThan(0)
    // What is not late yet loses nothing, and comes by its time.
    const later = due.filter(l => l.loss === 0).map(l => l.nextStep!.due)
    expect(later).toEqual(later.toSorted())
    expect([cost.halfAfter > 0, cost.chances.map(c => c.label), review]).toEqual([
      true,
      ['early', 'warming', 'marketing_qualified', 'sales_ready'],
      expect.any(Number),
    ])
    expect(cost.won).toBeLessThanOrEqual(cost.ends)
  })
})

describe('a lead that waits', () => {
  it('waits on after a note, a status and a next step; a call stops the clock and says who', async () => {
    const id = await waiting()
    await jonah(path(id, 'notes'), 'POST', { text: 'They sound keen' })
    await act(jonah, id, 'status', { status: 'reaching_out' })
    await act(jonah, id, 'next-step', { text: 'Call them', due: '2031-03-01T09:00:00Z', kind: 'call' })
    expect(await waits(id)).toBe(true)
    const { status, body } = await act(jonah, id, 'calls', { result: 'reached', text: 'A roof of 40 m²' }, 'POST')
    expect([status, body.waitingSince, await waits(id)]).toEqual([200, null, false])
    const { timeline } = await seen(id)
    const lines = timeline.filter(l => l.kind === 'call' || l.kind === 'answered')
    expect(lines.map(l => [l.kind, l.actor])).toEqual([
      ['answered', 'Jonah Birkett'],
      ['call', 'Jonah Birkett'],
    ])
  })
  it('is not answered by a call that reached nobody: the next try stands there', async () => {
    const id = await waiting()
    const { body } = await act(jonah, id, 'calls', { result: 'not_reached' }, 'POST')
    expect([await waits(id), body.tries, body.nextStep?.text, body.nextStep?.kind]).toEqual([true, 1, 'Call again, try 2', 'call'])
  })
})

describe('taking back', () => {
  it('gives back the clock, the place on Today and the next step; twice is too often; the line says so', async () => {
    const id = await waiting()
    await act(jonah, id, 'next-step', {
      text: 'Send the leaflet',
      due: '2031-03-01T09:00:00Z',
      kind: 'mail',
      remind: [60, 0],
      every: 'week',
    })
    const before = (await seen(id)).lead
    const won = await act(jonah, id, 'status', { status: 'won', value: 1_250_000, on: '2026-06-01' })
    expect([won.body.nextStep, won.body.waitingSince, won.body.outcome?.value]).toEqual([null, null, 1_250_000])
    const back = await undo(jonah, id, won.body.version)
    const { status, nextStep, waitingSince, outcome } = back.body
    expect({ status, nextStep, waitingSince, outcome }).toEqual({
      status: before.status,
      nextStep: before.nextStep,
      waitingSince: before.waitingSince,
      outcome: null,
    })
    expect(await waits(id)).toBe(true)
    expect((await undo(jonah, id, won.body.version)).status).toBe(409)
    const { timeline } = await seen(id)
    expect(timeline.filter(l => l.undone).map(l => l.kind)).toContain('status')
    expect(timeline.some(l => l.kind === 'undone')).toBe(true)
  })
  it('is for whoever did it, and for what can be taken back', async () => {
    const id = await waiting()
    const { body } = await act(jonah, id, 'status', { status: 'in_talks' })
    expect((await undo(mireille, id, body.version)).status).toBe(403)
    expect((await undo(jonah, id, 1)).status).toBe(404)
    expect((await undo(jonah, id, 99_999)).status).toBe(404)
  })
  it('leaves what a colleague did since', async () => {
    const id = await waiting()
    const { body } = await act(jonah, id, 'status', { status: 'in_talks' })
    await act(mireille, id, 'status', { status: 'proposal' })
    const back = await undo(jonah, id, body.version)
    expect([back.status, (await seen(id)).lead.status]).toEqual([409, 'proposal'])
  })
  it('of a win takes it out of the figures', async () => {
    const won = async () => ((await (await jonah('/api/team/funnel')).json()) as { won: number }).won
    const id = await waiting()
    const before = await won()
    const { body } = await act(jonah, id, 'status', { status: 'won', value: 0, on: '2026-06-01' })
    await eventually(async () => (await won()) === before + 1)
    await undo(jonah, id, body.version)
    await eventually(async () => (await won()) === before)
  })
})

describe('two who do the same thing', () => {
  it.each([
    ['status', { status: 'lost', reason: 'Too dear', was: 'untouched' }, { status: 'in_talks' }, (l: LeadView) => l.status, 'in_talks'],
    [
      'next-step',
      { text: 'Mine', due: '2031-03-01T09:00:00Z', was: null },
      { text: 'Theirs', due: '2031-03-01T09:00:00Z' },
      (l: LeadView) => l.nextStep?.text,
      'Theirs',
    ],
  ] as const)('%s: the second sees what the first wrote, and nothing is overwritten', async (rest, second, first, read, stands) => {
    const id = await waiting()
    await act(mireille, id, rest, first)
    const { status, body } = await act(jonah, id, rest, second)
    expect([status, read((await seen(id)).lead)]).toEqual([409, stands])
    expect(body.detail).toContain('by now')
  })
  it('owner: of two who take the same lead at once one has it, and the other hears who', async () => {
    const id = await waiting()
    const was = ids.get('jonah')
    const [one, two] = await Promise.all([
      act(mireille, id, 'owner', { owner: ids.get('mireille'), was }),
      act(ansel, id, 'owner', { owner: ids.get('ansel'), was }),
    ])
    expect([one.status, two.status].toSorted()).toEqual([200, 409])
  })
})

describe('what a status asks for', () => {
  it.each([
    [{ status: 'lost' }, 'reason'],
    [{ status: 'won', value: 5 }, 'on'],
    [{ status: 'won', on: '2026-02-30', value: 5 }, 'on'],
    [{ status: 'won', on: '2026-02-03', value: -5 }, 'value'],
    [{ status: 'parked' }, 'until'],
    [{ status: 'parked', until: '2020-01-01T09:00:00Z' }, 'until'],
    [{ status: 'nowhere' }, 'status'],
  ])('%j is refused, and nothing is done', async (body, field) => {
    const id = await waiting()
    const answer = await act(jonah, id, 'status', body)
    expect([answer.status, answer.body.errors?.map(e => e.field)]).toEqual([422, [field]])
    expect((await seen(id)).lead.status).toBe('untouched')
  })
  it('wakes who wrote again, with the reason in their history', async () => {
    const email = somebody('again')
    await send('form_visit', { email, first_name: 'Ida', last_name: 'Mallow', company: 'Fenwick School', sector: 'school', size: 'large' })
    const id = await eventually(
      async () => ((await (await jonah(`/api/team/leads?search=${email}`)).json()) as { leads: LeadView[] }).leads[0]?.id,
    )
    await act(jonah, id, 'status', { status: 'lost', reason: 'Too dear' })
    await send('form_visit', { email, first_name: 'Ida', last_name: 'Mallow', company: 'Fenwick School', sector: 'school', size: 'medium' })
    const { lead, timeline } = await eventually(async () => {
      const now = await seen(id)
      return now.lead.status === 'untouched' && now
    })
    expect([lead.outcome?.reason, lead.waitingSince !== null]).toEqual(['Too dear', true])
    expect(timeline.find(l => l.kind === 'woke')?.payload).toMatchObject({ from: 'lost', reason: 'Too dear', by: 'entry' })
  })
})

it('what is handed over to be accepted goes back when it is declined, and is told both ways', async () => {
  const id = await waiting()
  const given = await act(jonah, id, 'owner', { owner: ids.get('mireille'), words: 'You know the school', within: 60 })
  expect(given.body.acceptBy).not.toBeNull()
  expect((await act(mireille, id, 'accept', { accepts: false })).body.owner?.name).toBe('Jonah Birkett')
  expect((await act(mireille, id, 'accept', { accepts: true })).status).toBe(409)
  const told = await readDatabase(
    sql =>
      sql<
        { subject: string }[]
      >`select d.subject from delivery d where d.lead_id = ${id} and d.member_id = any(${[ids.get('mireille')!, ids.get('jonah')!]}::uuid[]) order by d.at desc, d.id desc limit 2`,
  )
  expect(told.map(t => t.subject)).toEqual(['Mireille Vauclair did not take Ida Mallow', 'Will you take Ida Mallow?'])
})

it('a calls’ nonsense is refused in words', async () => {
  const id = await waiting()
  for (const body of [{}, { result: 'sang' }, { result: 'reached', text: 'x'.repeat(20_001) }])
    expect((await act(jonah, id, 'calls', body, 'POST')).status).toBe(422)
})
