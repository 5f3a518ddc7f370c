import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Lane } from '#core/routing/plan'
import type { Sql } from '#db/client'
import { activeMembers, addAbsence, setAvailability } from '#db/members'
import { addPlan } from '#db/routing'
import { sameHours } from '#core/working-time'
import { findAlike } from '#server/consumers/likeness'
import { carryOut } from '#server/follow-up/acts'
import { judgeDue } from '#server/jobs/due'
import { newId } from '#server/ids'
import { readRuleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'
import { ask, readDatabase, send, signedIn, somebody } from '../support/house'
import { lane, planOf, seated } from '../support/plans'
import { ways } from '../support/ways'

/** Monday, 1 June 2026, at noon in Paris. */
const START = Date.UTC(2026, 5, 1, 10)
const HOUR = 60
let db: TestDatabase
let sql: Sql
let member: (name: string) => string
const { live, at, entered } = ways(() => sql, START)
const hours = (name: string, more: { mostOpen?: number | null; from?: number; until?: number } = {}) =>
  setAvailability(sql, member(name), {
    week: sameHours([1, 2, 3, 4, 5], more.from ?? 8, more.until ?? 18),
    zone: null,
    mostOpen: more.mostOpen ?? null,
    languages: [],
  })
let minute = 0
const plan = (...lanes: Lane[]) => addPlan(sql, planOf(...lanes), new Date(START + minute * 60_000))
const owner = async (lead: string) =>
  (
    await sql<
      { name: string | null }[]
    >`select split_part(m.name, ' ', 1) as name from lead l left join member m on m.id = l.owner_id where l.id = ${lead}`
  )[0]?.name ?? null
const comes = async (name: string, minutes: number, more: Record<string, string> = {}) =>
  (await entered('form_one', { mail: somebody(name), ...more }, minutes)).lead

beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
  process.env.CAVLIN_DATABASE = db.url
  process.env.CAVLIN_URL = 'https://cavlin.example'
  const members = await activeMembers(sql)
  member = name => members.find(m => m.name.startsWith(name))!.id
  await live('form_one', d => {
    d.questions[1]!.property = 'company'
  })
  vi.useFakeTimers({ toFake: ['Date'], now: START })
})
afterAll(async () => {
  vi.useRealTimers()
  await db.drop()
})

describe('a lead that comes', () => {
  it('in the evening waits for the morning, is given then, and its owner is told once', async () => {
    await hours('Mireille')
    await hours('Jonah', { from: 7 })
    await plan(lane('night', { outside: 'waits', pool: seated(member('Mireille'), member('Jonah')) }))
    const leads = []
    for (let n = 0; n < 4; n++) leads.push(await comes(`night${n}`, 10 * HOUR + n))
    expect(await Promise.all(leads.map(owner))).toEqual([null, null, null, null])
    const [waits] = await sql<{ lane: string; routeAt: Date }[]>`select lane, route_at from lead where id = ${leads[0]!}`
    expect(waits).toEqual({ lane: 'night', routeAt: new Date('2026-06-02T05:00:00Z') })
    at(18 * HOUR + 59)
    await judgeDue(sql, Date.now)
    expect(await owner(leads[0]!)).toBeNull()
    at(19 * HOUR)
    await judgeDue(sql, Date.now)
    const owners = await Promise.all(leads.map(owner))
    expect(owners.toSorted()).toEqual(['Jonah', 'Jonah', 'Mireille', 'Mireille'])
    const told = await sql<
      { name: string; subject: string }[]
    >`select split_part(m.name, ' ', 1) as name, d.subject from delivery d join member m on m.id = d.member_id where d.lead_id = any(${leads}) order by 1`
    expect(told.map(t => t.name)).toEqual(owners.toSorted())
    await judgeDue(sql, Date.now)
    expect(await sql`select from delivery where lead_id = any(${leads})`).toHaveLength(4)
    const [event] = await sql<
      { changes: { unowned: { lane: string; until: string } } }[]
    >`select changes from lead_event where lead_id = ${leads[0]!} and changes ? 'unowned'`
    expect(event!.changes.unowned).toEqual({ lane: 'night', until: '2026-06-02T05:00:00.000Z' })
  })

  it('is taken over by hand meanwhile, and nobody takes it away in the morning', async () => {
    const lead = await comes('byhand', 34 * HOUR)
    await sql.begin(async tx =>
      carryOut(tx, await readRuleset(tx), lead, member('Orla'), { do: 'owner', owner: member('Orla') }, new Date(at(35 * HOUR))),
    )
    at(46 * HOUR)
    await judgeDue(sql, Date.now)
    expect(await owner(lead)).toBe('Orla')
  })

  it('goes to who is not away, or to who stands in where all are', async () => {
    minute = 48 * HOUR
    await plan(lane('two', { pool: seated(member('Mireille'), member('Jonah')) }))
    await addAbsence(sql, {
      id: newId(),
      memberId: member('Jonah'),
      fromAt: new Date(at(minute)),
      untilAt: new Date(at(minute + 100 * HOUR)),
      standIn: null,
    })
    expect(await owner(await comes('away1', minute + 1))).toBe('Mireille')
    expect(await owner(await comes('away2', minute + 2))).toBe('Mireille')
    await addAbsence(sql, {
      id: newId(),
      memberId: member('Mireille'),
      fromAt: new Date(at(minute)),
      untilAt: new Date(at(minute + 100 * HOUR)),
      standIn: member('Orla'),
    })
    const lead = await comes('away3', minute + 3)
    expect(await owner(lead)).toBe('Orla')
    const [event] = await sql<
      { changes: { owner: object } }[]
    >`select changes from lead_event where lead_id = ${lead} and changes ? 'owner'`
    expect(event!.changes.owner).toMatchObject({ by: 'plan', lane: 'two', standsInFor: member('Mireille') })
    await sql`delete from absence`
  })

  it('with everybody away has nobody, says so once, and is tried again', async () => {
    minute = 50 * HOUR
    for (const name of ['Mireille', 'Jonah'])
      await addAbsence(sql, {
        id: newId(),
        memberId: member(name),
        fromAt: new Date(at(minute)),
        untilAt: new Date(at(minute + 60)),
        standIn: null,
      })
    const lead = await comes('alone', minute + 1)
    expect(await owner(lead)).toBeNull()
    for (const after of [16, 31, 46]) {
      at(minute + after)
      await judgeDue(sql, Date.now)
    }
    expect(await sql`select from lead_event where lead_id = ${lead} and changes ? 'unowned'`).toHaveLength(1)
    at(minute + 76)
    await judgeDue(sql, Date.now)
    expect(['Mireille', 'Jonah']).toContain(await owner(lead))
    await sql`delete from absence`
  })

  it('goes to who owns others of the firm, by its name or domain, and else on', async () => {
    minute = 60 * HOUR
    await plan(lane('known', { when: { all: [] }, way: 'firm_owner' }), lane('rest', { pool: seated(member('Desmond')) }))
    const first = await comes('first', minute, { first: 'Kale & Co Ltd' })
    expect(await owner(first)).toBe('Desmond')
    await sql.begin(async tx =>
      carryOut(tx, await readRuleset(tx), first, member('Orla'), { do: 'owner', owner: member('Jonah') }, new Date(at(minute + 1))),
    )
    while ((await findAlike(sql, ['phone'])).took > 0);
    expect(await owner(await comes('second', minute + 2, { first: 'KALE' }))).toBe('Jonah')
    expect(await owner((await entered('form_one', { mail: 'c@leek.example', first: 'Leek' }, minute + 3)).lead)).toBe('Desmond')
    const own = await entered('form_one', { mail: 'a@elder.example' }, minute + 4)
    await sql.begin(async tx =>
      carryOut(tx, await readRuleset(tx), own.lead, member('Orla'), { do: 'owner', owner: member('Mireille') }, new Date(at(minute + 5))),
    )
    while ((await findAlike(sql, ['phone'])).took > 0);
    expect(await owner((await entered('form_one', { mail: 'b@elder.example' }, minute + 6)).lead)).toBe('Mireille')
  })
})

describe('many who come at once', () => {
  it('are given exactly by shares, and nobody gets more than their limit, in two lanes and many transactions', async () => {
    minute = 70 * HOUR
    await hours('Jonah', { mostOpen: null })
    const shares = [
      { member: member('Mireille'), share: 3 },
      { member: member('Desmond'), share: 2 },
      { member: member('Jonah'), share: 1 },
    ]
    await plan(lane('shares', { pool: shares }))
    await Promise.all(Array.from({ length: 60 }, (_, n) => comes(`many${n}`, minute)))
    const got = await sql<
      { name: string; n: number }[]
    >`select split_part(m.name, ' ', 1) as name, count(*)::int as n from lead l join member m on m.id = l.owner_id where l.lane = 'shares' group by 1 order by 2 desc`
    expect(got.map(g => [g.name, g.n])).toEqual([
      ['Mireille', 30],
      ['Desmond', 20],
      ['Jonah', 10],
    ])

    const has = (await sql<{ n: number }[]>`select count(*)::int as n from lead where owner_id = ${member('Jonah')}`)[0]!.n
    await hours('Jonah', { mostOpen: has + 5 })
    await plan(
      lane('odd', {
        when: { attribute: 'property.company', is: 'equal', value: 'odd' },
        pool: seated(member('Jonah'), member('Mireille')),
      }),
      lane('even', { pool: seated(member('Jonah'), member('Desmond')) }),
    )
    await Promise.all(Array.from({ length: 40 }, (_, n) => comes(`limit${n}`, minute + 1, n % 2 ? { first: 'odd' } : {})))
    const after = await sql<
      { jonah: number; none: number }[]
    >`select count(*) filter (where owner_id = ${member('Jonah')})::int as jonah, count(*) filter (where owner_id is null)::int as none from lead`
    expect(after[0]).toEqual({ jonah: has + 5, none: 0 })
  })
})

it('a plan goes live with people who are nobody, and gives to those who are somebody', async () => {
  minute = 80 * HOUR
  await hours('Mireille')
  await plan(lane('odd', { pool: seated('not-an-id', newId(), member('Mireille')) }))
  expect(await owner(await comes('nobodies', minute))).toBe('Mireille')
})

describe('a lead that is handed over', () => {
  it('tells whoever gets it, in the giver’s words; who takes one over is not told; nobody is possible, whoever sells nothing is not', async () => {
    const [jonah, mireille] = (await Promise.all(['jonah', 'mireille'].map(signedIn))) as [
      Awaited<ReturnType<typeof signedIn>>,
      Awaited<ReturnType<typeof signedIn>>,
    ]
    const { members } = (await (await jonah('/api/team/house')).json()) as { members: { id: string; name: string }[] }
    const id = (name: string) => members.find(m => m.name.startsWith(name))!.id
    const email = somebody('handed')
    expect((await send('form_visit', { email, first_name: 'Hedda', last_name: 'Marsh', sector: 'school', size: 'large' })).status).toBe(201)
    const {
      leads: [lead],
    } = await ask<{ leads: { id: string }[] }>(`/api/v1/leads?email=${encodeURIComponent(email)}`)
    const give = async (as: typeof jonah, body: object) => {
      const answer = await as(`/api/team/leads/${lead!.id}/owner`, 'PUT', body)
      return { status: answer.status, body: (await answer.json()) as { owner: { id: string } | null; errors?: { message: string }[] } }
    }
    expect((await give(jonah, { owner: id('Jonah') })).body.owner!.id).toBe(id('Jonah'))
    expect((await give(jonah, { owner: id('Mireille'), words: 'She speaks French only.' })).status).toBe(200)
    const told = () =>
      readDatabase(
        sql =>
          sql<
            { memberId: string; body: string }[]
          >`select member_id, body from delivery where lead_id = ${lead!.id} and subject = 'Hedda Marsh is yours now' order by at`,
      )
    expect(await told()).toEqual([
      {
        memberId: id('Mireille'),
        body: expect.stringMatching(
          /^Jonah Birkett gave them to you\. “She speaks French only\.” They are promised an answer by \w+ \d/,
        ) as string,
      },
    ])
    expect((await give(mireille, { owner: id('Tamsin') })).body.errors![0]!.message).toBe(
      'Tamsin Rook does not work with leads. Choose somebody who does, or nobody.',
    )
    expect((await give(mireille, {})).status).toBe(422)
    expect((await give(mireille, { owner: null })).body.owner).toBeNull()
    expect(await told()).toHaveLength(1)
  })
})

describe('the plan over HTTP', () => {
  it('is kept as a copy, refused with what is wrong, made live once, and may be gone back to', async () => {
    const [manager, sales] = (await Promise.all(['ansel', 'jonah'].map(signedIn))) as [
      Awaited<ReturnType<typeof signedIn>>,
      Awaited<ReturnType<typeof signedIn>>,
    ]
    type View = {
      revision: number
      workingCopy: { lanes: Lane[] }
      live: { number: number }
      checks: { level: string; place: string; message: string }[]
    }
    const get = async () => (await (await manager('/api/team/plan')).json()) as View
    const before = await get()
    const put = (lanes: Lane[], revision: number) => manager('/api/team/plan', 'PUT', { revision, definition: { version: 2, lanes } })
    expect((await sales('/api/team/plan', 'PUT', { revision: 0, definition: before.workingCopy })).status).toBe(403)
    const lanes = before.workingCopy.lanes
    const tamsin = ((await (await manager('/api/team/house')).json()) as { members: { id: string; role: string }[] }).members.find(
      m => m.role === 'marketer',
    )!.id
    const empty = [lane('new', { name: 'New', when: lanes[0]!.when }), ...lanes]
    const kept = (await (await put(empty, before.revision)).json()) as { revision: number }
    expect((await put(lanes, before.revision)).status).toBe(409)
    const wrong = await get()
    expect(wrong.checks.filter(c => c.level === 'stop').map(c => c.message)).toEqual(['Nobody is in “New”. Put somebody in.'])
    const refused = await manager('/api/team/plan/publish', 'POST', { revision: kept.revision })
    expect([refused.status, ((await refused.json()) as { errors: { field: string }[] }).errors[0]!.field]).toEqual([422, 'lanes.0'])
    const barred = (await (
      await put([lane('new', { name: 'New', when: lanes[0]!.when, pool: seated(tamsin) }), ...lanes], kept.revision)
    ).json()) as { revision: number }
    expect((await get()).checks[0]!.message).toContain('may not work with leads')
    const again = (await (
      await put(
        lanes.map((l, i) => (i ? l : { ...l, name: `${l.name}, again` })),
        barred.revision,
      )
    ).json()) as { revision: number }
    const both = await Promise.all([1, 2].map(() => manager('/api/team/plan/publish', 'POST', { revision: again.revision })))
    expect(both.map(b => b.status).sort()).toEqual([200, 409])
    const now = await get()
    expect(now.live.number).toBe(before.live.number + 1)
    const old = (await (await manager(`/api/team/plan/editions/${before.live.number}`)).json()) as { definition: { lanes: Lane[] } }
    expect(old.definition.lanes.map(l => l.name)).toEqual(lanes.map(l => l.name))
    const back = (await (await put(lanes, now.revision)).json()) as { revision: number }
    expect((await manager('/api/team/plan/publish', 'POST', { revision: back.revision })).status).toBe(200)
    for (const bad of ['0', '-1', 'x', '99999999999'])
      expect([bad, (await manager(`/api/team/plan/editions/${bad}`)).status]).toEqual([bad, 404])
  })

  it('takes absences of oneself, of others from managers only, and none that cannot be', async () => {
    const [manager, sales] = (await Promise.all(['ansel', 'jonah'].map(signedIn))) as [
      Awaited<ReturnType<typeof signedIn>>,
      Awaited<ReturnType<typeof signedIn>>,
    ]
    const { members } = (await (await manager('/api/team/house')).json()) as { members: { id: string; name: string }[] }
    const id = (name: string) => members.find(m => m.name.startsWith(name))!.id
    const days = { from: '2031-03-03', until: '2031-03-07' }
    const away = async (as: typeof sales, body: object) => {
      const answer = await as('/api/team/absences', 'POST', body)
      return { status: answer.status, body: (await answer.json()) as { id: string; errors?: { field: string; message: string }[] } }
    }
    const own = await away(sales, { member: id('Jonah'), ...days, standIn: id('Mireille') })
    expect(own.status).toBe(201)
    const { people } = (await (await sales('/api/team/route')).json()) as { people: { id: string; absences: object[] }[] }
    expect(people.find(p => p.id === id('Jonah'))!.absences).toMatchObject([
      { ...{ firstDay: days.from, lastDay: days.until }, from: '2031-03-02T23:00:00.000Z', until: '2031-03-07T23:00:00.000Z' },
    ])
    expect((await away(sales, { member: id('Jonah'), ...days })).status).toBe(409)
    expect((await away(sales, { member: id('Desmond'), ...days })).status).toBe(403)
    for (const [body, field] of [
      [{ ...days, until: '2031-03-02' }, 'until'],
      [{ from: '2020-01-01', until: '2020-01-02' }, 'until'],
      [{ ...days, until: '2035-01-01' }, 'until'],
      [{ ...days, from: '2031-02-30' }, 'from'],
      [{ ...days, standIn: id('Desmond') }, 'standIn'],
      [{ ...days, standIn: id('Tamsin') }, 'standIn'],
      [{ ...days, from: 'tomorrow' }, 'from'],
    ] as const) {
      const refused = await away(manager, { member: id('Desmond'), ...body })
      expect([body, refused.status, refused.body.errors?.[0]?.field]).toEqual([body, 422, field])
    }
    expect((await manager(`/api/team/absences/${own.body.id}`, 'DELETE')).status).toBe(204)
    expect((await manager(`/api/team/absences/${own.body.id}`, 'DELETE')).status).toBe(404)
    for (const week of [
      [],
      [[{ from: 600, until: 500 }], [], [], [], [], [], []],
      [
        [
          { from: 0, until: 600 },
          { from: 500, until: 700 },
        ],
        [],
        [],
        [],
        [],
        [],
        [],
      ],
    ])
      expect(
        (await manager(`/api/team/members/${id('Jonah')}/hours`, 'PUT', { week, zone: null, mostOpen: null, languages: [] })).status,
      ).toBe(422)
    expect((await manager('/api/team/holidays', 'POST', { from: '2031-02-30', until: '2031-03-01', name: 'x' })).status).toBe(422)
  })
})
