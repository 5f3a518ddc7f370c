import type { Condition } from '#core/conditions/condition'
import type { PropertyValue } from '#core/properties/kinds'
import type { ReasonLine } from '#core/scoring/score'
import { wholeInterestSql } from '#core/scoring/interest-key'
import type { Db, Sql } from '#db/client'
import { overLeads } from '#db/conditions'
import { readThrough } from '#db/segments'

/** A lead as it is read: columns as they stand, the score still to be worked out from its lines. */
export interface LeadRow {
  id: string; email: string | null; firstName: string | null; lastName: string | null; company: string | null
  properties: Record<string, PropertyValue>; tags: string[]; label: string | null; labelFloor: string | null; reasons: ReasonLine[]
  ownerId: string | null; ownerName: string | null; ownerEmail: string | null; ownedAt: Date | null
  status: string; statusAt: Date; nextStep: string | null; nextStepAt: Date | null; waitingSince: Date | null; givenAt: Date | null; guardedAt: Date | null
  createdAt: Date; updatedAt: Date
}

const columns = (db: Db) => db`l.id, l.email, l.first_name, l.last_name, l.company, l.properties, l.tags, l.label, l.label_floor, l.reasons,
  l.owner_id, o.name as owner_name, o.email as owner_email, l.owned_at, l.status, l.status_at, l.next_step, l.next_step_at, l.waiting_since, l.given_at, l.guarded_at,
  l.created_at, l.updated_at from lead l left join member o on o.id = l.owner_id`

export async function leadById(db: Db, id: string): Promise<LeadRow | undefined> {
  return (await db<LeadRow[]>`select ${columns(db)} where l.id = ${id}`)[0]
}

export interface Filter {
  label?: string[]; owner?: string[]; status?: string[]; tag?: string
  /** Words that must all appear in name, company or address. */
  search?: string
  emailKey?: string
  /** On one of these lists. */
  list?: string[]
  /** Only people who wait for an answer. */
  waiting?: boolean
  /** For whom this holds; segments written out. */
  condition?: Condition
  /** `no`: only who typed something and never sent it. `yes`: only the others. */
  given?: 'yes' | 'no'
}

export type SortKey = 'name' | 'company' | 'label' | 'interest' | 'fit' | 'owner' | 'status' | 'created' | 'updated' | 'waiting'

const searched = (db: Db) => db`(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '') || ' ' || coalesce(l.company, '') || ' ' || coalesce(l.email, '') || ' ' || coalesce(l.properties->>'phone', ''))`

function where(db: Db, f: Filter) {
  const words = (f.search ?? '').trim().split(/\s+/).filter(Boolean).slice(0, 6)
  const none = (values: string[]) => values.includes('none')
  return db`where true
    ${f.label ? db`and (l.label = any(${f.label}) ${none(f.label) ? db`or l.label is null` : db``})` : db``}
    ${f.owner ? db`and (l.owner_id::text = any(${f.owner}) ${none(f.owner) ? db`or l.owner_id is null` : db``})` : db``}
    ${f.status ? db`and l.status = any(${f.status})` : db``}
    ${f.tag ? db`and ${f.tag} = any(l.tags)` : db``}
    ${f.emailKey ? db`and l.email_key = ${f.emailKey}` : db``}
    ${f.list ? db`and exists (select from list_member g where g.lead_id = l.id and g.list_id = any(${f.list}::uuid[]))` : db``}
    ${f.waiting ? db`and l.waiting_since is not null` : db``}
    ${f.given ? db`and (l.given_at is null) = ${f.given === 'no'}` : db``}
    ${f.condition ? db`and ${overLeads(db, f.condition, Date.now())}` : db``}
    ${words.length ? words.map(word => db`and ${searched(db)} ilike ${`%${word.replace(/[\\%_]/g, '\\$&')}%`}`) : db``}`
}

/** One page of leads, sorted in the database, and how many there are in all. */
export const leadPage = (sql: Sql, f: Filter, sort: SortKey, down: boolean, page: { from: number; size: number }): Promise<{ rows: LeadRow[]; total: number }> =>
  f.condition ? readThrough(sql, tx => pageOf(tx, f, sort, down, page)) : pageOf(sql, f, sort, down, page)

async function pageOf(db: Db, f: Filter, sort: SortKey, down: boolean, page: { from: number; size: number }): Promise<{ rows: LeadRow[]; total: number }> {
  const by = {
    name: db`lower(coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone'))`,
    company: db`lower(l.company)`, label: db`(select rank from label where key = l.label)`, interest: db`l.interest_key`, fit: db`l.fit`, owner: db`lower(o.name)`,
    status: db`(select rank from status where key = l.status)`, created: db`l.created_at`, updated: db`l.updated_at`, waiting: db`l.waiting_since`,
  }[sort]
  const order = down ? db`desc nulls last` : db`asc nulls last`
  const [rows, [count]] = await Promise.all([
    db<LeadRow[]>`select ${columns(db)} ${where(db, f)} order by ${by} ${order}, l.id ${down ? db`desc` : db`asc`} limit ${page.size} offset ${page.from}`,
    db<{ total: number }[]>`select count(*) as total from lead l ${where(db, f)}`,
  ])
  return { rows, total: count!.total }
}

/** Leads in the order they came, newest first, after a position in that order. */
export const leadsAfter = (db: Db, f: Filter, after: { at: string; id: string } | null, most: number) => db<(LeadRow & { position: string })[]>`
  select to_char(l.created_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as position, ${columns(db)} ${where(db, f)}
  ${after ? db`and (l.created_at, l.id) < (${after.at}::timestamptz, ${after.id}::uuid)` : db``}
  order by l.created_at desc, l.id desc limit ${most}`

/** All who wait for an owner, and all whose next step is due by a moment. */
export const onToday = (db: Db, owner: string, dueBy: Date, most: number) => db<LeadRow[]>`
  select ${columns(db)} where l.owner_id = ${owner} and (l.waiting_since is not null or l.next_step_at <= ${dueBy})
  order by l.waiting_since nulls last, l.next_step_at limit ${most}`

export interface BriefLead {
  id: string; firstName: string | null; lastName: string | null; email: string | null; company: string | null
  properties: Record<string, PropertyValue>; fit: number; interest: number; label: string | null; owner: string | null
}
/** Leads in a few words, by their ids. */
export const briefLeads = (db: Db, ids: string[]) => db<BriefLead[]>`
  select l.id, l.first_name, l.last_name, l.company, l.email, l.properties, l.fit, ${db.unsafe(wholeInterestSql('now()'))} as interest, l.label, m.name as owner from lead l left join member m on m.id = l.owner_id where l.id = any(${ids}::uuid[])`

export const leadIdByEmail = async (db: Db, emailKey: string): Promise<string | null> =>
  (await db<{ id: string }[]>`select id from lead where email_key = ${emailKey}`)[0]?.id ?? null

/** How many of these people are leads. */
export const leadsKnown = async (db: Db, emailKeys: string[]): Promise<number> =>
  (await db<{ n: number }[]>`select count(*)::int as n from lead where email_key = any(${emailKeys})`)[0]!.n
