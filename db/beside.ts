import { fragment, type Fragment } from '#core/conditions/sql'
import { LAST_ENTRY } from '#core/leads/attributes/last-entry'
import { raw, VISITS } from '#core/leads/attributes/columns'
import type { Beside, Visited } from '#core/leads/beside'
import type { Needs } from '#core/leads/needs'
import { asSql, momentsFragment } from '#db/conditions'
import type { Db, Statement } from '#db/client'

type Row = {
  id: string
  lists?: string[]
  lastEntry?: number | null
  first?: Visited | null
  latest?: Visited | null
  lastAt?: number | null
} & Record<string, unknown>

const ms = (moment: string) => `floor(extract(epoch from ${moment}) * 1000)::bigint`
const visited = (order: string, from: string) =>
  raw(
    `(select jsonb_build_object('at', ${ms('t.began_at')}, 'source', t.source) ${from} order by t.began_at ${order}, t.id ${order} limit 1)`,
  )
const LEADS_SPANS = raw('(select v.visitor_id, v.since, v.until from visitor_lead v where v.lead_id = l.id and v.undone_at is null)')
const LISTS = raw(
  'array(select g.list_id::text from list_member g join list i on i.id = g.list_id and i.removed_at is null where g.lead_id = l.id)',
)
/** What a browser did since it was last somebody's; nothing while it is somebody's. */
const OWN_SPAN =
  raw(`(select l.id as visitor_id, coalesce((select max(coalesce(o.undone_at, o.until)) from visitor_lead o where o.visitor_id = l.id), '-infinity') as since,
  'infinity'::timestamptz as until)`)
const OWN_VISITS = `from visit t where t.visitor_id = l.id and not t.robot
  and t.began_at >= coalesce((select max(coalesce(o.undone_at, o.until)) from visitor_lead o where o.visitor_id = l.id), '-infinity')`

/** All columns that something takes, one after the other; moments in the order of the tests. */
function columns(needs: Needs, now: number, of: { spans: Fragment; visits: string; lead: Fragment | null }): Fragment {
  const parts: Fragment[] = []
  if (needs.beside.has('lists') && of.lead) parts.push(fragment`${LISTS} as lists`)
  if (needs.beside.has('entries') && of.lead) parts.push(raw(`${ms(LAST_ENTRY)} as last_entry`))
  if (needs.beside.has('visits')) {
    parts.push(fragment`${visited('', of.visits)} as first, ${visited('desc', of.visits)} as latest`)
    parts.push(raw(`(select ${ms('max(t.last_at)')} ${of.visits}) as last_at`))
  }
  let n = 0
  for (const test of needs.tests.values()) parts.push(fragment`${momentsFragment(test, of.spans, of.lead, now)} as ${raw(`m${n++}`)}`)
  return parts.reduce((all, part) => fragment`${all}, ${part}`, raw('l.id'))
}

const besideOf = (needs: Needs, row: Row, isLead: boolean): Beside => ({
  ...(needs.beside.has('lists') && { lists: row.lists ?? [] }),
  ...(needs.beside.has('entries') && { lastEntryAt: row.lastEntry ?? null }),
  ...(needs.beside.has('visits') && { visits: { first: row.first ?? null, latest: row.latest ?? null, lastAt: row.lastAt ?? null } }),
  ...(!isLead && { lastEntryAt: null }),
  moments: new Map([...needs.tests.keys()].map((key, n) => [key, row[`m${n}`] as number[]])),
})

/**
 * What judging takes beside some leads, in one statement.
 * @param who a query of ids of leads
 * @param now milliseconds since 1970; what was done so many days before it does not count for tests of those days
 */
export async function besideLeads(db: Db, who: Statement, needs: Needs, now: number): Promise<Map<string, Beside>> {
  const wanted = columns(needs, now, { spans: LEADS_SPANS, visits: VISITS, lead: raw('l.id') })
  const rows = await db<Row[]>`select ${asSql(db, wanted)} from (${who}) l`
  return new Map(rows.map(row => [row.id, besideOf(needs, row, true)]))
}

/** What some browsers did that is nobody's yet, as far as judging takes it; in one statement. */
export async function besideVisitors(db: Db, visitors: string[], needs: Needs, now: number): Promise<Map<string, Beside>> {
  const wanted = columns(needs, now, { spans: OWN_SPAN, visits: OWN_VISITS, lead: null })
  const rows = await db<Row[]>`select ${asSql(db, wanted)} from unnest(${visitors}::uuid[]) as l(id)`
  return new Map(rows.map(row => [row.id, besideOf(needs, row, false)]))
}
