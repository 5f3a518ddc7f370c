import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ACTIVITY_KINDS, type Condition } from '#core/conditions/condition'
import { judgeLead } from '#core/leads/about'
import { ATTRIBUTES as REGISTRY } from '#core/leads/attributes/registry'
import { needsOf } from '#core/leads/needs'
import { interestKey } from '#core/scoring/interest-key'
import { expanded } from '#core/segments/segment'
import { leadState } from '#db/book'
import { besideLeads } from '#db/beside'
import { overLeads } from '#db/conditions'
import { countFor } from '#db/segments'
import { freshDatabase, type TestDatabase } from '../support/database'

const NOW = Date.UTC(2026, 10, 20, 12)
const DAY = 86_400_000
/** A moment at which something changes is given up to two milliseconds late (`crossing`). */
const UNSURE_MS = 2
const iso = (ms: number) => new Date(ms).toISOString()
const people = 40

/** Attributes that people differ in, and values near the ones they have: so that tests hold for some of them. */
const OWN = ['sector', 'size', 'opens', 'crops', 'company', 'email', 'nothing']
const ATTRIBUTES = [
  ...REGISTRY.flatMap(a => (a.isFamily ? OWN.map(own => a.name + own) : a.name)).filter(name => name !== 'segment'),
  'unheard.of',
]
const TEXTS = [
  'School',
  'school',
  'ÉCOLE',
  'école',
  'I\u0307stanbul',
  'İSTANBUL',
  'straße',
  '120',
  '-3',
  '7.5',
  '2026-11-18',
  '2026-02-31',
  '2025-01-01',
  'a%b_c\\',
  '🌱 tomatoes',
  'basil',
  '\u0000odd',
  'visit',
  'early',
  'untouched',
  'search.example',
  'mail',
  'yes',
  'no',
  '',
  '/prices',
  '/',
  'form_journal',
]

describe('a segment', () => {
  let db: TestDatabase
  let lists: string[] = []
  beforeAll(async () => {
    db = await freshDatabase()
    await populate()
  })
  afterAll(() => db.drop())

  async function populate(): Promise<void> {
    const { sql } = db
    lists = [randomUUID(), randomUUID()]
    for (const [i, id] of lists.entries()) await sql`insert into list (id, name) values (${id}, ${`List ${i}`})`
    const points = await sql<
      { id: string; key: string; liveEdition: string }[]
    >`select id, key, live_edition from point where live_edition is not null order by key`
    const pick = <T>(all: T[], n: number): T => all[n % all.length]!
    for (let i = 0; i < people; i++) {
      const [lead, visitor] = [randomUUID(), randomUUID()]
      const properties = Object.fromEntries(
        [
          ['sector', pick(TEXTS, i)],
          ['size', pick(['120', '-3', '7.5', 'many', ''], i)],
          ['opens', pick(['2026-11-18', '2026-02-31', '2025-01-01'], i)],
          ['crops', [pick(TEXTS, i + 3), pick(TEXTS, i * 7)]],
        ].filter((_, n) => (i >> n) % 3 !== 2),
      )
      await sql`insert into lead (id, email, email_key, company, properties, tags, label, fit, interest_key, half_life_days, reasons, status, status_at, waiting_since, created_at, updated_at)
        values (${lead}, ${`p${i}@x.example`}, ${`p${i}@x.example`}, ${i % 3 ? pick(TEXTS, i) : null}, ${properties as never}, ${i % 2 ? [pick(TEXTS, i), 'visit'] : []}, ${i % 4 ? 'early' : null}, ${i % 30}, ${interestKey((i % 23) - 7, NOW - i * DAY, 14)}, 14, ${
          [
            { axis: 'fit', rule: 'r', name: 'R', points: i % 30, at: NOW },
            { axis: 'interest', rule: 'e', name: 'E', points: (i % 23) - 7, at: NOW - i * DAY },
          ] as never
        }, 'untouched', ${new Date(NOW - (i % 9) * DAY)}, ${i % 5 ? null : new Date(NOW)}, ${new Date(NOW - i * DAY * 3)}, ${new Date(NOW)})`
      if (i % 3 === 0) await sql`insert into list_member (list_id, lead_id, added_at) values (${pick(lists, i)}, ${lead}, ${new Date(NOW)})`
      // A browser that was somebody's before, was theirs for a while, and is still in use.
      await sql`insert into visitor_lead (id, visitor_id, lead_id, since, until) values (${randomUUID()}, ${visitor}, ${lead}, ${i % 2 ? '-infinity' : iso(NOW - 8 * DAY)}::text::timestamptz, ${i % 4 === 3 ? iso(NOW - 2 * DAY) : 'infinity'}::text::timestamptz)`
      for (let v = 0; v < i % 4; v++) {
        const [visit, at] = [randomUUID(), NOW - ((i * 5 + v * 3) % 14) * DAY - v * 1000]
        await sql`select make_trail_part(${new Date(at).toISOString().slice(0, 10)}::date)`
        await sql`insert into visit (id, visitor_id, site, began_at, last_at, pages, source, device, utm, robot) values (${visit}, ${visitor}, 'https://x.example', ${new Date(at)}, ${new Date(at + 60_000)}, ${v}, ${pick(['search.example', 'mail', 'direct'], i + v)}, 'phone', ${(v % 2 ? { campaign: 'School' } : {}) as never}, ${i % 7 === 6})`
        for (let e = 0; e < 3; e++)
          await sql`insert into trail_event (at, visitor_id, visit_id, kind, path, title, data) values (${new Date(at + e * 1000)}, ${visitor}, ${visit}, ${pick(['page', 'page', 'started', 'event', 'mark', 'file'], i + e + v)}, ${pick(['/prices', '/', '/PRICES'], e + v)}, ${pick(TEXTS, e)},
          ${{ point: 'form_journal', name: pick(TEXTS, i), mark: 'visit', file: '120', properties: { size: '120' } } as never})`
      }
      for (let e = 0; e < i % 3; e++) {
        const p = pick(points, i + e)
        await sql`insert into entry (id, point_id, edition_id, lead_id, at, state, answers, fingerprint, via) values (${randomUUID()}, ${p.id}, ${p.liveEdition}, ${lead}, ${new Date(NOW - ((i + e) % 12) * DAY)}, 'complete', ${{ message: pick(TEXTS, i), crops: [pick(TEXTS, e), 'x'] } as never}, '\\x00', 'program')`
      }
      if (i % 6 === 1)
        await sql`insert into unfinished (id, visitor_id, point_id, edition, lead_id, began_at, last_at, answers, page, turn) values (${randomUUID()}, ${visitor}, ${points[0]!.id}, 1, ${lead}, ${new Date(NOW - DAY)}, ${new Date(NOW - DAY)}, ${{ message: 'school' } as never}, 'https://x.example/', 1)`
    }
  }

  const value = fc.oneof(fc.constantFrom(...TEXTS), fc.constantFrom(120, -3, 7.5, 3, 10), fc.constant(true))
  const test = (attributes: string[]) =>
    fc.oneof(
      fc.record({
        attribute: fc.constantFrom(...attributes),
        is: fc.constantFrom('equal', 'not_equal', 'contains', 'starts_with', 'at_least', 'at_most'),
        value,
      }),
      fc.record({
        attribute: fc.constantFrom(...attributes),
        is: fc.constantFrom('within_days', 'older_days'),
        value: fc.constantFrom(1, 3, 30, '7'),
      }),
      fc.record({
        attribute: fc.constantFrom(...attributes),
        is: fc.constant('one_of'),
        value: fc.array(fc.constantFrom(...TEXTS), { maxLength: 4 }),
      }),
      fc.record({ attribute: fc.constantFrom(...attributes), is: fc.constantFrom('filled', 'empty') }),
    ) as unknown as fc.Arbitrary<Condition>
  const activityAttributes = [
    'page.path',
    'page.title',
    'point',
    'event',
    'event.size',
    'mark',
    'file',
    'visit.source',
    'visit.pages',
    'utm.campaign',
    'answer.message',
    'answer.crops',
    'form',
  ]
  const did = fc.record({
    did: fc.constantFrom(...ACTIVITY_KINDS),
    where: fc.option(fc.oneof(test(activityAttributes), fc.record({ any: fc.array(test(activityAttributes), { maxLength: 3 }) }))),
    times: fc.integer({ min: 1, max: 3 }),
    days: fc.option(fc.constantFrom(1, 3, 7, 30)),
  }) as fc.Arbitrary<Condition>
  const tree = fc.letrec<{ node: Condition }>(tie => ({
    node: fc.oneof(
      { maxDepth: 3 },
      test(ATTRIBUTES),
      did,
      fc.record({ all: fc.array(tie('node'), { maxLength: 3 }) }),
      fc.record({ any: fc.array(tie('node'), { maxLength: 3 }) }),
      fc.record({ none: fc.array(tie('node'), { maxLength: 3 }) }),
    ),
  })).node

  it('asked of the database has the same people as asked of each one, and until when that is sure it stays so', async () => {
    const { sql } = db
    const ids = (await sql<{ id: string }[]>`select id from lead order by id`).map(r => r.id)
    const leads = await Promise.all(ids.map(async id => (await leadState(sql, id))!))
    let [some, untilSomeday] = [0, 0]
    const there = async (condition: Condition, now: number) =>
      (await sql<{ id: string }[]>`select id from lead l where ${overLeads(sql, condition, now)} order by id`).map(r => r.id)
    await fc.assert(
      fc.asyncProperty(tree, fc.double({ min: 0, max: 1, noNaN: true }), async (condition, share) => {
        const beside = await besideLeads(sql, sql`select id from lead`, needsOf([condition]), NOW)
        const judged = (now: number) =>
          leads.map(lead => ({ id: lead.id, ...judgeLead(condition, { lead, beside: beside.get(lead.id)!, now, halfLifeDays: 14 }) }))
        const here = judged(NOW)
        const who = here.filter(j => j.holds).map(j => j.id)
        if (who.length && who.length < ids.length) some++
        expect(await there(condition, NOW)).toEqual(who)
        // As long as nobody does anything, nothing changes before the earliest of these moments.
        const until = Math.min(...here.map(j => j.until))
        if (until < Infinity) untilSomeday++
        const later = Math.max(NOW, Math.floor(NOW + share * (Math.min(until, NOW + 90 * DAY) - NOW)) - UNSURE_MS)
        expect(
          judged(later)
            .filter(j => j.holds)
            .map(j => j.id),
        ).toEqual(who)
        expect(await there(condition, later)).toEqual(who)
      }),
      { numRuns: 900 },
    )
    // The property says something only where conditions tell people apart, and change with time.
    expect(some).toBeGreaterThan(40)
    expect(untilSomeday).toBeGreaterThan(60)
  }, 180_000)

  it('is judged only on what was loaded: what was not is an error, never an answer', async () => {
    const lead = (await leadState(db.sql, (await db.sql<{ id: string }[]>`select id from lead limit 1`)[0]!.id))!
    const about = { lead, beside: { moments: new Map() }, now: NOW, halfLifeDays: 14 }
    const asksBeside = REGISTRY.filter(a => a.needs.length)
    expect(asksBeside.length).toBeGreaterThan(5)
    for (const { name } of asksBeside) expect(() => judgeLead({ attribute: name, is: 'filled' }, about)).toThrow('not loaded')
    expect(() => judgeLead({ did: 'page', where: null, times: 1, days: null }, about)).toThrow('not loaded')
  })

  it('may name another, and has nobody in it where they name each other', async () => {
    const one: Condition = { attribute: 'tag', is: 'equal', value: 'visit' }
    const tagged = await countFor(db.sql, one, NOW)
    expect(tagged).toBeGreaterThan(0)
    const named: Condition = { all: [{ attribute: 'segment', is: 'equal', value: 'a' }] }
    expect(await countFor(db.sql, expanded(named, new Map([['a', one]])), NOW)).toBe(tagged)
    expect(await countFor(db.sql, expanded({ attribute: 'segment', is: 'not_equal', value: 'a' }, new Map([['a', one]])), NOW)).toBe(
      people - tagged,
    )
    expect(await countFor(db.sql, expanded(named, new Map([['a', { attribute: 'segment', is: 'equal', value: 'a' }]])), NOW)).toBe(0)
  })
})
