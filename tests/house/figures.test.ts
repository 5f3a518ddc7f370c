import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { LeadCause } from '#core/leads/causes'
import { dayBegins } from '#core/calendar-days'
import { hourOf } from '#core/figures/deltas'
import { entriesOf, entriesWant, funnelOf, funnelWants, labelsOf, loadsOf, reportsOf, reportsWant } from '#core/figures/readings'
import type { Sql } from '#db/client'
import { addList } from '#db/lists'
import { pointByKey, pointNames } from '#db/points'
import { dropUnsubmitted } from '#db/unfinished'
import { receive } from '#server/capture/receive'
import { countFigures, readFigures } from '#server/consumers/figures'
import { newId } from '#server/ids'
import { changeLeads, openBatch } from '#server/ingest/change'
import { accept } from '#server/ingest/entries'
import { readRuleset, type Ruleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'
import { eventually } from '../support/house'

const [HOUR, DAY] = [3_600_000, 86_400_000]
let db: TestDatabase
let sql: Sql
let ruleset: Ruleset
const lists = [randomUUID(), randomUUID()]
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
  for (const [i, id] of lists.entries()) await addList(sql, id, `List ${i}`)
  ruleset = await readRuleset(sql)
})
afterAll(() => db.drop())

const FORMS = ['form_guide', 'form_journal', 'form_visit']
let random = 4711
const below = (n: number) => (random = (random * 48271) % 2147483647) % n
const one = <T>(of: readonly T[]): T => of[below(of.length)]!

async function enter(email: string, at: number): Promise<void> {
  const key = one(FORMS)
  const body = {
    answers: {
      email,
      first_name: 'A',
      ...(key === 'form_visit' && { last_name: 'B', size: 'large' }),
      ...(key !== 'form_journal' && { sector: one(['school', 'private', 'restaurant']) }),
    },
    utm: one([{}, { source: 'fair' }]),
    referrer: one([null, 'https://www.search.example/x']),
  }
  const { intake, flaws } = receive((await pointByKey(sql, key))!, body, null, at)
  expect(flaws).toEqual([])
  await sql.begin(async tx => accept(tx, ruleset, [intake!], { mails: false }))
}
const change = (lead: string, cause: object, at: number) =>
  sql.begin(tx => changeLeads(tx, ruleset, [{ at, by: one([...ruleset.members.keys()]), lead, ...cause } as LeadCause]))
async function type(at: number): Promise<void> {
  const address = `typed${below(1e9)}@figures.example`
  await sql.begin(async tx => {
    const batch = await openBatch(tx, ruleset, { emails: [address], at } as never)
    await batch.apply([{ kind: 'typed', at, by: null, lead: null, address: { address, key: address }, values: {}, visitor: newId() }])
  })
}
/** Something that happens to somebody, at some time within the last six weeks. */
async function something(now: number): Promise<void> {
  const at = now - below(below(42 * 24) + 1) * HOUR - below(3000)
  const leads = await sql<{ id: string; email: string }[]>`select id, email from lead order by id`
  const who = leads.length ? one(leads) : null
  const what = below(10)
  if (!who || what < 3) return void (await enter(`f${below(1e9)}@figures.example`, at))
  if (what === 3) return void (await enter(who.email, at))
  if (what === 4) return await type(at)
  if (what === 5) return void (await change(who.id, { kind: 'lists', lists: lists.filter(() => below(2)) }, at))
  if (what === 6) return void (await change(who.id, { kind: 'note', text: 'x' }, at))
  if (what === 7) return void (await change(who.id, { kind: 'owner', owner: one([...ruleset.members.keys()]) }, at))
  if (what === 8 && below(3) === 0) return void (await sql.begin(tx => dropUnsubmitted(tx, [who.id])))
  await change(who.id, { kind: 'status', status: one(ruleset.statuses).key }, at)
}

const sorted = <T>(rows: T[]): T[] => [...rows].sort((a, b) => (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1))
/** All figures, as they are read, and as one counts them in the tables of what happened. */
async function figures(now: number, member: string) {
  const { zone } = ruleset.house
  const days = 30
  const wanted = [...funnelWants(now), ...reportsWant(now, days, zone), { figure: 'list' as const }, ...entriesWant('entries', now)]
  const { sums, behind, more: names } = await readFigures(sql, zone, wanted, pointNames)
  const reports = reportsOf(sums.slice(4, 7), ruleset.statuses, names, now, days, zone)
  return {
    behind,
    funnel: funnelOf(sums, ruleset, member),
    labels: sorted(labelsOf(sums, ruleset.statuses)),
    points: sorted(reports.points),
    sources: sorted(reports.sources),
    byDay: reports.byDay.filter(d => d.leads),
    lists: lists.map(id => sums[7]!.find(s => s.key[0] === id)?.n ?? 0),
    entries: FORMS.map(key => [key, entriesOf(sums.slice(8), key)]),
    loads: Object.fromEntries(loadsOf(sums, ruleset.statuses)),
  }
}
async function counted(now: number, member: string) {
  const [week, month, cohort] = [
    new Date(hourOf(now - 7 * DAY)),
    new Date(hourOf(now - 30 * DAY)),
    new Date(dayBegins(now - 30 * DAY, ruleset.house.zone)),
  ]
  const { zone } = ruleset.house
  const [f] = await sql<
    Record<'today' | 'entries' | 'qualified' | 'unowned' | 'waiting' | 'won' | 'toQualify' | 'toRoute' | 'toFollowUp' | 'toLearn', number>[]
  >`
    with gone as (select lead_id from lead_event where cause = 'erased'), week as (select * from lead_event where at >= ${week} and lead_id not in (select lead_id from gone))
    select (select count(*) from lead where owner_id = ${member} and waiting_since is not null) as today,
      (select count(*) from entry where at >= ${week} and state = 'complete') as entries,
      (select count(*) from lead l join label b on b.key = l.label join status s on s.key = l.status where l.submitted_at is not null and b.qualified and s.stage in ('first', 'open')) as qualified,
      (select count(*) from lead l join status s on s.key = l.status where l.submitted_at is not null and owner_id is null and s.stage in ('first', 'open')) as unowned,
      (select count(*) from lead where waiting_since is not null) as waiting,
      (select count(distinct lead_id) from lead_event v join status s on s.key = v.changes->'status'->>'to' where s.stage = 'won' and v.at >= ${month}
        and exists (select from lead l join status c on c.key = l.status and c.stage = 'won' where l.id = v.lead_id)) as won,
      (select count(distinct lead_id) from week where changes ? 'entry') as to_qualify,
      (select count(distinct lead_id) from week where changes ? 'owner') as to_route,
      (select count(distinct lead_id) from week v join status s on s.key = v.changes->'status'->>'from' where s.stage = 'first') as to_follow_up,
      (select count(distinct lead_id) from week v join status s on s.key = v.changes->'status'->>'to' where s.stage in ('won', 'lost')) as to_learn`
  const { toQualify, toRoute, toFollowUp, toLearn, ...funnel } = f!
  const labels =
    await sql`select l.label, count(*) as leads from lead l join status s on s.key = l.status where s.stage in ('first', 'open') group by l.label`
  // Whoever was the first entry by the lead's own order is where they came from.
  const first = sql`select distinct on (v.lead_id) v.lead_id, p.key as point_key, p.name as point_name, coalesce(e.utm->>'source', substring(e.referrer from '^https?://(?:www\\.)?([^/:?#]+)'), 'direct') as source
    from lead_event v join entry e on e.id = (v.changes->'entry'->>'entry')::uuid join point p on p.id = e.point_id where v.changes ? 'entry' order by v.lead_id, v.version`
  const isQualified = sql`exists (select from lead_event v join label q on q.key = v.changes->'label'->>'to' where v.lead_id = l.id and q.qualified)`
  const count = sql`count(*) as leads, count(*) filter (where ${isQualified}) as qualified, count(*) filter (where s.stage = 'won') as won, count(*) filter (where s.stage = 'lost') as lost
    from lead l join f on f.lead_id = l.id join status s on s.key = l.status where l.created_at >= ${cohort}`
  const [points, sources, byDay, onLists, entries, loads] = await Promise.all([
    sql`with f as (${first}) select f.point_key as key, f.point_name as name, ${count} group by 1, 2`,
    sql`with f as (${first}) select f.source as key, f.source as name, ${count} group by 1, 2`,
    sql`select to_char(l.created_at at time zone ${zone}, 'YYYY-MM-DD') as day, count(*) as leads, count(*) filter (where ${isQualified}) as qualified from lead l where l.created_at >= ${cohort} group by 1 order by 1`,
    Promise.all(lists.map(async id => (await sql<{ n: number }[]>`select count(*) as n from list_member where list_id = ${id}`)[0]!.n)),
    Promise.all(
      FORMS.map(async key => [
        key,
        (
          await sql<
            { entries: number; entriesWeek: number }[]
          >`select count(*) as entries, count(*) filter (where at >= ${week}) as entries_week
      from entry e join point p on p.id = e.point_id where p.key = ${key} and state = 'complete'`
        )[0]!,
      ]),
    ),
    sql<
      { owner: string; open: number; waiting: number }[]
    >`select owner_id as owner, count(*) filter (where s.stage in ('first', 'open')) as open, count(waiting_since) as waiting
      from lead l join status s on s.key = l.status where owner_id is not null group by 1`,
  ])
  return {
    behind: false,
    funnel: { ...funnel, passed: { toQualify, toRoute, toFollowUp, toLearn } },
    labels: sorted([...labels]),
    points: sorted([...points]),
    sources: sorted([...sources]),
    byDay: [...byDay],
    lists: onLists,
    entries,
    loads: Object.fromEntries(loads.map(({ owner, ...load }) => [owner, load])),
  }
}

describe('figures', () => {
  it('are those of a full count at any moment, whatever happened, and however far they have been counted', async () => {
    const now = Date.now()
    const member = [...ruleset.members.keys()][0]!
    await countFigures(sql, ruleset.house.zone)
    for (let i = 0; i < 300; i++) {
      await something(now)
      if (below(6) === 0) await countFigures(sql, ruleset.house.zone, 1 + below(20))
      if (i % 10 === 9) expect([i, await figures(now, member)]).toEqual([i, await counted(now, member)])
    }
    const before = await figures(now, member)
    const {
      funnel: { entries, won, qualified, passed },
      points,
    } = before
    for (const n of [
      entries,
      won,
      qualified,
      passed.toLearn,
      passed.toFollowUp,
      before.lists[0],
      points.length,
      points.reduce((n, p) => n + p.qualified, 0),
      before.labels.length,
    ])
      expect(n).toBeGreaterThan(0)
    await eventually(async () => {
      while ((await countFigures(sql, ruleset.house.zone)) > 0);
      return (
        (await sql`select 1 from consumer c where exists (select from lead_event e where (e.xid, e.seq) > (c.xid, c.seq))`).length === 0
      )
    })
    expect(await figures(now, member)).toEqual(before)
    expect(await sql`select * from rollup where n <= 0`).toEqual([])
  })

  it('are counted anew where the house has its days elsewhere, and say until then that they are behind', async () => {
    const elsewhere = { ...ruleset, house: { ...ruleset.house, zone: 'Pacific/Auckland' } }
    const read = () => readFigures(sql, elsewhere.house.zone, [{ figure: 'cohort', apart: true }], async () => {})
    expect((await read()).behind).toBe(true)
    await eventually(async () => {
      while ((await countFigures(sql, elsewhere.house.zone)) > 0);
      const { behind, sums } = await read()
      return !behind && sums[0]!.reduce((n, s) => n + s.n, 0) === (await sql<{ n: number }[]>`select count(*) as n from lead`)[0]!.n
    })
    const days = new Set((await read()).sums[0]!.map(s => new Date(s.at).toLocaleTimeString('en-GB', { timeZone: 'Pacific/Auckland' })))
    expect([...days]).toEqual(['00:00:00'])
  })
})
