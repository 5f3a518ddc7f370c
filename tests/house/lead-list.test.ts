import { randomUUID } from 'node:crypto'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { nameOf } from '#core/leads/lead'
import { countLeads, firstLeadIds, leadIds, MOST_COUNTED, MOST_FOUND, type Filter, type SortKey } from '#db/lead-list'
import { onToday, leadPage } from '#db/leads'
import { freshDatabase, type TestDatabase } from '../support/database'

const NOW = Date.UTC(2026, 10, 20, 12)
const PEOPLE = 60
interface Person {
  id: string
  firstName: string | null
  lastName: string | null
  company: string | null
  email: string | null
  properties: object
  label: string | null
  status: string
  owner: string | null
  fit: number
  interest: number
  waiting: number | null
  at: number
}

let db: TestDatabase
let people: Person[]
const places = { label: new Map<string, number>(), status: new Map<string, number>(), owner: new Map<string, string>() }
beforeAll(async () => {
  db = await freshDatabase()
  const { sql } = db
  const members = await sql<{ id: string; name: string }[]>`select id, lower(name) as name from member order by name`
  for (const m of members) places.owner.set(m.id, m.name)
  for (const { key, rank } of await sql<{ key: string; rank: number }[]>`select key, rank from label`) places.label.set(key, rank)
  for (const { key, rank } of await sql<{ key: string; rank: number }[]>`select key, rank from status`) places.status.set(key, rank)
  const pick = <T>(all: T[], n: number): T => all[n % all.length]!
  people = Array.from({ length: PEOPLE }, (_, i) => ({
    id: randomUUID(),
    firstName: pick(['ida', 'Bo', null], i),
    lastName: pick(['Ashford', 'élan', null, 'zebra'], i),
    company: pick(['Fern', null, 'alder', 'Fern'], i),
    email: i % 10 ? `p${i}@list.example` : null,
    properties: i % 5 ? {} : { phone: `+3361234${i}` },
    label: pick([...places.label.keys(), null as unknown as string], i * 3),
    status: pick([...places.status.keys()], i * 5),
    owner: pick([...members.map(m => m.id), null as unknown as string], i * 7),
    fit: (i % 9) - 3,
    interest: i % 6 ? (i % 11) - 4 : 0,
    waiting: i % 4 ? null : NOW - (i % 8) * 1000,
    at: NOW - (i % 13) * 5000,
  }))
  for (const p of people) {
    await sql`insert into lead (id, first_name, last_name, company, email, email_key, properties, label, status, status_at, owner_id, fit, interest_key, waiting_since, created_at, updated_at)
      values (${p.id}, ${p.firstName}, ${p.lastName}, ${p.company}, ${p.email}, ${p.email}, ${p.properties as never}, ${p.label}, ${p.status}, ${new Date(p.at)}, ${p.owner}, ${p.fit}, ${p.interest},
        ${p.waiting === null ? null : new Date(p.waiting)}, ${new Date(p.at)}, ${new Date(p.at)})`
  }
})
afterAll(() => db.drop())

/** What a list is sorted by, as it is meant: null comes last, whichever way. */
const BY: Record<SortKey, (p: Person) => number | string | null> = {
  name: p => nameOf(p as never).toLowerCase(),
  company: p => p.company?.toLowerCase() ?? null,
  label: p => places.label.get(p.label ?? '') ?? null,
  status: p => places.status.get(p.status)!,
  owner: p => places.owner.get(p.owner ?? '') ?? null,
  interest: p => p.interest,
  fit: p => p.fit,
  created: p => p.at,
  updated: p => p.at,
  waiting: p => p.waiting,
}
const values = (ids: string[], sort: SortKey) => ids.map(id => BY[sort](people.find(p => p.id === id)!))
const filters: fc.Arbitrary<Filter> = fc.record({
  label: fc.option(fc.constantFrom(['early'], ['none', 'warming'], ['sales_ready']), { nil: undefined }),
  status: fc.option(fc.constantFrom(['untouched', 'won'], ['parked']), { nil: undefined }),
  waiting: fc.option(fc.boolean(), { nil: undefined }),
  condition: fc.option(fc.constant({ attribute: 'property.phone', is: 'filled' } as const), { nil: undefined }),
  search: fc.option(fc.constantFrom('ida', 'fe', 'ASH', 'a', 'list.example', '%', '336'), { nil: undefined }),
})
const fits = (f: Filter) =>
  people.filter(p => {
    const words = [p.firstName, p.lastName, p.company, p.email, (p.properties as { phone?: string }).phone]
      .map(w => w ?? '')
      .join(' ')
      .toLowerCase()
    const search = f.search?.toLowerCase()
    const begins = (text: string, with_: string) => new RegExp(`(^|[^\\p{L}\\p{N}_])${with_}`, 'u').test(text)
    return (
      (!f.label || f.label.includes(p.label ?? 'none')) &&
      (!f.status || f.status.includes(p.status)) &&
      (!f.waiting || p.waiting !== null) &&
      (!f.condition || 'phone' in p.properties) &&
      (!search || (/^[a-z0-9]{1,2}$/.test(search) ? begins(words, search) : words.includes(search)))
    )
  })

describe('a list of leads', () => {
  it('has the same people in the same order as one that is sorted by hand, page by page, whatever it is filtered and sorted by', async () => {
    await fc.assert(
      fc.asyncProperty(
        filters,
        fc.constantFrom(...(Object.keys(BY) as SortKey[])),
        fc.boolean(),
        fc.integer({ min: 1, max: 25 }),
        async (filter, sort, down, size) => {
          const wanted = fits(filter)
          const ids: string[] = []
          for (let from = 0; from <= wanted.length; from += size) {
            const page = await leadIds(db.sql, filter, sort, down, { from, size })
            expect([page.total, page.more]).toEqual([wanted.length, false])
            // The same without waiting for the count, which says how many there are at least.
            const first = await firstLeadIds(db.sql, filter, sort, down, { from, size })
            expect(first).toEqual({
              ids: page.ids,
              total: page.ids.length && from + page.ids.length,
              more: from + page.ids.length < wanted.length,
            })
            ids.push(...page.ids)
          }
          expect(await countLeads(db.sql, filter)).toEqual({ total: wanted.length, more: false })
          expect([...ids].sort()).toEqual(wanted.map(p => p.id).sort())
          const seen = values(ids, sort)
          const known = seen.filter(v => v !== null)
          expect(seen.slice(0, known.length)).toEqual(known)
          // Letters stand as the database's language has them; only that there is one order, and its opposite, is ours to say.
          if (typeof known[0] === 'number') expect(known).toEqual([...known].sort((a, b) => (down ? -1 : 1) * (Number(a) - Number(b))))
        },
      ),
      { numRuns: 250 },
    )
  })
  it('goes the other way when it is turned, but for whom it knows nothing of', async () => {
    for (const sort of Object.keys(BY) as SortKey[]) {
      const [up, down] = await Promise.all([false, true].map(way => leadIds(db.sql, {}, sort, way, { from: 0, size: PEOPLE })))
      const known = (ids: string[]) => ids.filter(id => BY[sort](people.find(p => p.id === id)!) !== null)
      expect([sort, known(down!.ids)]).toEqual([sort, known(up!.ids).reverse()])
    }
  })
  it('counts no further than anybody reads, and says that there are more', async () => {
    await db.sql`insert into lead (id, email, email_key, company, status, status_at, created_at, updated_at)
      select gen_random_uuid(), 'm' || n, 'm' || n, 'Many', 'untouched', now(), now(), now() from generate_series(1, ${MOST_COUNTED + 1}) n`
    const first = { from: 0, size: 1 }
    expect(await leadPage(db.sql, {}, 'name', true, first)).toMatchObject({ total: MOST_COUNTED, more: true })
    expect(await leadPage(db.sql, { search: 'Many' }, 'name', true, first)).toMatchObject({ total: MOST_FOUND, more: true })
    await db.sql`delete from lead where company = 'Many'`
  })
  it('of Today is who waits for me, longest first, then whose next step is due', async () => {
    const [owner] = places.owner.keys()
    const mine = people.filter(p => p.owner === owner)
    await db.sql`update lead set next_step = 'Call', next_step_at = ${new Date(NOW)} where id = ${mine[0]!.id}`
    const rows = await onToday(db.sql, owner!, new Date(NOW), 300)
    expect(rows.map(r => r.id).sort()).toEqual([...new Set([...mine.filter(p => p.waiting !== null).map(p => p.id), mine[0]!.id])].sort())
    const waits = rows.map(r => r.waitingSince?.getTime() ?? Infinity)
    expect(waits).toEqual([...waits].sort((a, b) => a - b))
  })
})
