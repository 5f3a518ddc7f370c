import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Intake } from '#core/capture/intake'
import type { Lane } from '#db/pipelined'
import type { Sql } from '#db/client'
import { keepAnswers } from '#db/entries'
import { leadPage } from '#db/leads'
import { leaseSome } from '#db/deliveries'
import { pointByKey } from '#db/points'
import { accept, type Accepted } from '#server/ingest/entries'
import { microBatcher, gotInTheWay } from '#server/ingest/micro-batcher'
import { receive } from '#server/capture/receive'
import { takeTrail } from '#server/trail/take'
import { carryOut } from '#server/follow-up/acts'
import { timelineFor } from '#server/follow-up/timeline'
import { newId } from '#server/ids'
import { judgeDue } from '#server/jobs/due'
import { noticeBodies } from '#server/deliveries/member-mail'
import { readRuleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'

let db: TestDatabase
let sql: Sql
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
})
afterAll(() => db.drop())

const DAY = 86_400_000
let people = 0
const somebody = () => `p${++people}@people.example`

async function intake(
  key: string,
  answers: Record<string, string>,
  more: { idempotencyKey?: string; at?: number; visitor?: string } = {},
): Promise<Intake> {
  const point = (await pointByKey(sql, key))!
  const { intake, flaws } = receive(
    point,
    { answers, ...(more.visitor && { visitor: more.visitor }) },
    more.idempotencyKey ?? null,
    more.at ?? Date.now(),
  )
  if (!intake) throw new Error(JSON.stringify(flaws))
  return intake
}
/** One application process: its own lane, its own gathering. */
async function oneProcess(own: Lane) {
  const ruleset = await readRuleset(sql)
  return microBatcher<Intake, Accepted>(
    (intakes, more) => own.run((tx, commit) => accept(tx, ruleset, intakes, { mails: true, more, commit })),
    { mayRepeat: gotInTheWay },
  )
}
const one = async (from: Sql, item: Intake) =>
  (await from.begin(async tx => accept(tx, await readRuleset(tx), [item], { mails: true })))[0]!
const leadOf = async (email: string) => (await leadPage(sql, { emailKey: email }, 'created', true, { from: 0, size: 5 })).rows

describe('entries that come at the same time', () => {
  it('of one person, in any writing and through two processes, make one lead', async () => {
    const processes = await Promise.all([oneProcess(db.lane()), oneProcess(db.lane())])
    const writings = ['Zoe@Gärtnerei.example', ' zoe@gärtnerei.example', 'ZOE@xn--grtnerei-0za.example', 'zoe @gärtnerei.example']
    const items = await Promise.all(
      Array.from({ length: 24 }, (_, i) => intake('form_guide', { email: writings[i % 4]!, first_name: `Zoe ${i}`, sector: 'school' })),
    )
    const results = await Promise.all(items.map((item, i) => processes[i % 2]!(item)))
    expect(results.every(r => r.kind === 'accepted')).toBe(true)
    const [lead, ...others] = await leadOf('zoe@xn--grtnerei-0za.example')
    expect(others).toEqual([])
    const [{ entries, came, owners }] = await sql<[{ entries: number; came: number; owners: number }]>`
      select (select count(*) from entry where lead_id = ${lead!.id}) as entries, (select count(*) from lead_event where lead_id = ${lead!.id} and changes ? 'created') as came,
        (select count(*) from lead_event where lead_id = ${lead!.id} and changes ? 'owner') as owners`
    expect({ entries, came, owners }).toEqual({ entries: 24, came: 1, owners: 1 })
    expect(lead!.reasons.filter(r => r.rule === 'asked_guide')).toHaveLength(24)
  })

  it('share the turns of a lane fairly, through two processes', async () => {
    const before = await sql<{ memberId: string; given: number }[]>`select member_id, given from turn where lane = 'kitchens'`
    const processes = await Promise.all([oneProcess(db.lane()), oneProcess(db.lane())])
    const items = await Promise.all(
      Array.from({ length: 61 }, () => intake('form_guide', { email: somebody(), first_name: 'A', sector: 'restaurant' })),
    )
    await Promise.all(items.map((item, i) => processes[i % 2]!(item)))
    const after = await sql<
      { memberId: string; given: number }[]
    >`select member_id, given from turn where lane = 'kitchens' order by member_id`
    expect(after.reduce((n, t) => n + t.given, 0) - before.reduce((n, t) => n + t.given, 0)).toBe(61)
    expect(Math.abs(after[0]!.given - after[1]!.given)).toBeLessThanOrEqual(1)
    const owned = await sql<
      { n: number }[]
    >`select count(*) as n from lead where email_key like 'p%@people.example' and properties->>'sector' = 'restaurant' group by owner_id`
    expect(Math.abs(owned[0]!.n - owned[1]!.n)).toBeLessThanOrEqual(1)
  })

  it.each([
    ['at once', 22],
    ['in two parts', 11],
    ['as a few and many', 3],
  ])(
    'in a batch that arrives %s make one of each person, and count whose turn it was, also when it ends with what came before',
    async (_how, first) => {
      const given = async () => (await sql<[{ n: number }]>`select coalesce(sum(given), 0)::int as n from turn`)[0].n
      const before = await given()
      const many = await Promise.all(
        Array.from({ length: 16 }, (_, i) =>
          intake(
            'form_guide',
            { email: `part${i % 13}@${first}.example`, first_name: `P${i}`, sector: 'restaurant' },
            { idempotencyKey: `part-${first}-${i}` },
          ),
        ),
      )
      const ruleset = await readRuleset(sql)
      const all = [...many, ...many.slice(0, 6)]
      // The others arrive while the first are looked up.
      const more = async () => {
        await new Promise(r => setImmediate(r))
        return all.slice(first)
      }
      const results = await sql.begin(tx => accept(tx, ruleset, all.slice(0, first), { mails: true, more }))
      expect(results.map(r => r.kind)).toEqual([...many.map(() => 'accepted'), ...Array.from({ length: 6 }, () => 'repeated')])
      const leads = await sql<
        { firstName: string; entries: number }[]
      >`select first_name, (select count(*) from entry e where e.lead_id = l.id)::int as entries from lead l where email like ${`part%@${first}.example`} order by length(email), email`
      expect(leads.map(l => l.entries)).toEqual([2, 2, 2, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1])
      expect(leads[0]!.firstName).toBe('P13')
      expect((await given()) - before).toBe(13)
    },
  )
  it('take the last places of a form once, though some arrive later', async () => {
    const items = await Promise.all(Array.from({ length: 6 }, () => intake('form_journal', { email: somebody() })))
    const before = (await sql`select from entry where point_id = ${items[0]!.point.id} and state = 'complete'`).count
    // The first two answer an edition that took any number.
    for (const item of items.slice(2))
      item.edition = {
        ...item.edition,
        definition: {
          ...item.edition.definition,
          closing: { from: null, until: null, entries: before + 4, text: '', early: '', full: '' },
        },
      }
    const ruleset = await readRuleset(sql)
    const results = await sql.begin(tx =>
      accept(tx, ruleset, items.slice(0, 2), { mails: false, more: () => Promise.resolve(items.slice(2)) }),
    )
    expect(results.map(r => r.kind)).toEqual(['accepted', 'accepted', 'accepted', 'accepted', 'closed', 'closed'])
  })
  it('under one idempotency key count once and get one answer', async () => {
    const processes = await Promise.all([oneProcess(db.lane()), oneProcess(db.lane())])
    const email = somebody()
    const items = await Promise.all(Array.from({ length: 10 }, () => intake('form_journal', { email }, { idempotencyKey: 'same-key' })))
    const results = await Promise.all(items.map((item, i) => processes[i % 2]!(item)))
    expect(new Set(results.map(r => ('entry' in r ? r.entry : ''))).size).toBe(1)
    expect(results.filter(r => r.kind === 'accepted')).toHaveLength(1)
    const other = await intake('form_journal', { email: somebody() }, { idempotencyKey: 'same-key' })
    expect((await one(sql, other)).kind).toBe('key reused')
    const elsewhere = await intake('form_guide', { email, first_name: 'A', sector: 'school' }, { idempotencyKey: 'same-key' })
    expect((await one(sql, elsewhere)).kind).toBe('accepted')
  })

  it('do not suffer from one of them that cannot be kept', async () => {
    const enter = await oneProcess(db.lane())
    const good = await Promise.all(Array.from({ length: 4 }, () => intake('form_journal', { email: somebody() })))
    const bad = { ...(await intake('form_journal', { email: somebody() })), visitor: 'not-a-uuid' }
    const settled = await Promise.allSettled([good[0]!, bad, ...good.slice(1)].map(enter))
    expect(settled.map(s => s.status)).toEqual(['fulfilled', 'rejected', 'fulfilled', 'fulfilled', 'fulfilled'])
    for (const item of good) expect(await leadOf(item.email!.key)).toHaveLength(1)
    expect(await leadOf(bad.email!.key)).toHaveLength(0)
  })
})

describe('an entry', () => {
  it('leaves nothing behind when its transaction fails, not even a mail', async () => {
    const item = await intake('form_journal', { email: somebody() })
    const ruleset = await readRuleset(sql)
    const fails = async () => {
      throw new Error('the power fails')
    }
    await expect(sql.begin(tx => accept(tx, ruleset, [item], { mails: true }).then(fails))).rejects.toThrow('the power fails')
    await expect(db.lane().run(tx => accept(tx, ruleset, [item], { mails: true }).then(fails))).rejects.toThrow('the power fails')
    // The last of the statements fails, with the commit already on its way behind it.
    const broken = { ...item, utm: { source: 'x'.repeat(10), page: undefined }, fingerprint: 'not hexadecimal' } as unknown as Intake
    await expect(db.lane().run((tx, commit) => accept(tx, ruleset, [broken], { mails: true, commit }))).rejects.toThrow()
    expect(await leadOf(item.email!.key)).toEqual([])
    expect((await sql`select from entry where id = ${item.entryId}`).count).toBe(0)
    const toMail = () => sql`select from delivery where id = ${item.entryId} and due_at <= now()`
    expect((await toMail()).count).toBe(0)
    await one(sql, item)
    expect((await toMail()).count).toBe(1)
  })

  it('keeps answers exactly as typed, in the entry, the lead, the timeline and the notice', async () => {
    const unit = fc.constantFrom('\0', '\ud800', '\ue000', '<b>', '"', "'", '\\', '\u202e', '\u05d0', '🌱', '\r\n', '\t', '%', '$1', 'a')
    await fc.assert(
      fc.asyncProperty(
        fc.string({ unit, minLength: 1 }).filter(t => t.trim() !== ''),
        async typed => {
          const email = somebody()
          await one(sql, await intake('form_care', { email, first_name: typed, last_name: 'x', company: typed, message: typed }))
          const [lead] = await leadOf(email)
          expect([lead!.firstName, lead!.company, lead!.properties.message]).toEqual([typed, typed, typed])
          const [entry] = await sql<{ answers: Record<string, string> }[]>`select answers from entry where lead_id = ${lead!.id}`
          expect(entry!.answers.message).toBe(typed)
          const line = (await timelineFor(sql, await readRuleset(sql), lead!.id, null, 9)).find(l => l.kind === 'entry')!
          expect(line.payload.answers.at(-1)!.text).toBe(typed)
          await sql`update delivery set due_at = null where lead_id <> ${lead!.id}`
          const mail = (await sql.begin(tx => leaseSome(tx, 'fresh', 1, 60, newId())))[0]!
          expect([mail.kind, mail.leadId]).toEqual(['notice', lead!.id])
          expect(noticeBodies(mail, '').text).toContain(typed)
        },
      ),
      { numRuns: 25 },
    )
  })

  it('of somebody known updates what is known, keeps the owner, and says what was before', async () => {
    const email = somebody()
    const first = await one(
      sql,
      await intake('form_visit', { email, first_name: 'Ines', last_name: 'Old', sector: 'school', size: 'small' }),
    )
    const second = await one(sql, await intake('form_care', { email, first_name: 'Ines', last_name: 'New', message: 'Vents stick' }))
    if (first.kind !== 'accepted' || second.kind !== 'accepted') throw new Error('not accepted')
    expect(second.now.known).toBe(true)
    expect(second.now.lead.ownerId).toBe(first.now.lead.ownerId)
    expect(second.now.changes.entry).toMatchObject({ changed: [{ property: 'last_name', from: 'Old', to: 'New' }] })
    const [lead] = await leadOf(email)
    expect(lead).toMatchObject({
      lastName: 'New',
      properties: { sector: 'school', message: 'Vents stick' },
      tags: ['visit', 'care'],
      labelFloor: 'warming',
    })
  })

  it('is told in sentences, the last first, and keeps what was said at first', async () => {
    const [email, now] = [somebody(), Date.now()]
    await one(
      sql,
      await intake('form_visit', { email, first_name: 'Ines', last_name: 'Old', sector: 'school', size: 'small' }, { at: now - DAY }),
    )
    await one(sql, await intake('form_care', { email, first_name: 'Ines', last_name: 'New', message: 'Vents stick' }, { at: now }))
    const lead = (await leadOf(email))[0]!.id
    const lines = async () => await timelineFor(sql, await readRuleset(sql), lead, null, 20)
    const told = await lines()
    expect(told.map(l => [l.kind, l.at])).toEqual([
      ['entry', new Date(now).toISOString()],
      ...['owner', 'label', 'entry', 'created'].map(kind => [kind, new Date(now - DAY).toISOString()]),
    ])
    expect(told.map(l => l.sentence.map(p => (typeof p === 'string' ? p : Object.values(p)[0]!)).join(''))).toEqual([
      'Filled in Care for a house edition 1',
      expect.stringMatching(/^Routed to .+ lane “.+”, whose turn it was$/),
      'Label Marketing qualified fit 35, interest 30',
      'Filled in Ask for a site visit edition 1',
      'Came to us for the first time, through Ask for a site visit',
    ])
    const entries = await sql<{ id: string }[]>`select id from entry where lead_id = ${lead} order by at`
    for (const text of ['First words', 'Later words'])
      for (const { id } of entries) await keepAnswers(sql, id, [{ question: 'What?', text }])
    expect((await lines()).flatMap(l => (l.kind === 'entry' ? l.payload.answers.map(a => a.text) : []))).toEqual([
      'First words',
      'First words',
    ])
  })

  it('takes what the visitor read before along, once', async () => {
    const ruleset = await readRuleset(sql)
    const visitor = newId()
    const visit = {
      id: newId(),
      visitor,
      site: 'https://site.example',
      referrer: null,
      utm: {},
      source: 'direct',
      language: null,
      device: 'computer' as const,
      place: null,
      robot: false,
    }
    const view = (path: string, at: number) =>
      sql.begin(tx =>
        takeTrail(
          tx,
          ruleset,
          [{ id: newId(), visit, events: [{ kind: 'page', at, path, title: null, data: null }] }],
          new Map(),
          new Date(at),
        ),
      )
    const now = Date.now()
    for (const path of ['/prices', '/prices', '/growing-houses']) expect(await view(path, now - 1000)).toEqual([])
    const email = somebody()
    await one(sql, await intake('form_journal', { email }, { visitor }))
    expect((await leadOf(email))[0]!.reasons.map(r => r.rule).sort()).toEqual(['houses', 'other_entry', 'prices'])
    expect(await view('/journal/a', now + 1000)).toHaveLength(1)
    expect((await leadOf(email))[0]!.reasons.map(r => r.rule)).toContain('journal')
    const other = somebody()
    await one(sql, await intake('form_journal', { email: other }, { visitor }))
    expect((await leadOf(other))[0]!.reasons.map(r => r.rule)).toEqual(['other_entry'])
  })
})

it('lets labels fall as interest fades, but not below the floor, and tells the timeline', async () => {
  const now = Date.now()
  const [ready, floored] = [somebody(), somebody()]
  await one(sql, await intake('form_guide', { email: ready, first_name: 'A', sector: 'school' }, { at: now - 60 * DAY }))
  // The same answers within a minute would be the same entry.
  await one(sql, await intake('form_guide', { email: ready, first_name: 'A', sector: 'school' }, { at: now - 60 * DAY + 120_000 }))
  await one(
    sql,
    await intake(
      'form_visit',
      { email: floored, first_name: 'A', last_name: 'B', sector: 'school', size: 'large' },
      { at: now - 60 * DAY },
    ),
  )
  expect((await leadOf(ready))[0]!.label).toBe('marketing_qualified')
  const changed: string[] = []
  await judgeDue(
    sql,
    () => now,
    async leads => {
      changed.push(...leads)
    },
  )
  const [a, b] = [(await leadOf(ready))[0]!, (await leadOf(floored))[0]!]
  expect([a.label, b.label]).toEqual(['early', 'warming'])
  expect(changed).toEqual(expect.arrayContaining([a.id, b.id]))
  const events = await sql<
    { to: string }[]
  >`select changes -> 'label' ->> 'to' as to from lead_event where lead_id = ${a.id} and changes ? 'label' order by version desc limit 1`
  expect(events[0]!.to).toBe('early')
})

it('counts a call that reached them, and an end, as an answer to who waits, and nothing else that is done', async () => {
  const ruleset = await readRuleset(sql)
  const [jonah] = await sql<{ id: string }[]>`select id from member where email like 'jonah%'`
  const waiting = async (act: Parameters<typeof carryOut>[4]) => {
    const email = somebody()
    await one(sql, await intake('form_journal', { email }))
    const lead = (await leadOf(email))[0]!
    expect(lead.waitingSince).not.toBeNull()
    await sql.begin(tx => carryOut(tx, ruleset, lead.id, jonah!.id, act, new Date()))
    return (await leadOf(email))[0]!.waitingSince !== null
  }
  expect(await waiting({ do: 'call', result: 'reached' })).toBe(false)
  expect(await waiting({ do: 'status', status: 'lost', outcome: { reason: 'Too dear' } })).toBe(false)
  expect(await waiting({ do: 'status', status: 'reaching_out' })).toBe(true)
  expect(await waiting({ do: 'note', text: 'Rang' })).toBe(true)
  expect(await waiting({ do: 'next_step', step: { text: 'Call', due: new Date() } })).toBe(true)
  expect(await waiting({ do: 'owner', owner: jonah!.id })).toBe(true)
  await expect(waiting({ do: 'status', status: 'nonsense' })).rejects.toThrow('no such status')
})
