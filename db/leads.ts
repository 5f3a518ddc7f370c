import type { FollowUp } from '#core/follow-up/state'
import type { PropertyValue } from '#core/properties/kinds'
import type { LabelHeld } from '#core/scoring/label-held'
import type { ReasonLine } from '#core/scoring/lines'
import { wholeInterestSql } from '#core/scoring/interest-key'
import type { Db, Sql } from '#db/client'
import { leadIds, where, type Filter, type LeadCount, type Page, type SortKey } from '#db/lead-list'

/** A lead as it is read: columns as they stand, the score still to be worked out from its lines. */
export interface LeadRow {
  id: string
  email: string | null
  firstName: string | null
  lastName: string | null
  company: string | null
  properties: Record<string, PropertyValue>
  tags: string[]
  label: string | null
  labelFloor: string | null
  labelHeld: LabelHeld | null
  reasons: ReasonLine[]
  lane: string | null
  ownerId: string | null
  ownerName: string | null
  ownerEmail: string | null
  ownedAt: Date | null
  status: string
  statusAt: Date
  nextStep: string | null
  nextStepAt: Date | null
  followUp: FollowUp
  waitingSince: Date | null
  submittedAt: Date | null
  guardedAt: Date | null
  createdAt: Date
  updatedAt: Date
}

export const columns = (
  db: Db,
) => db`l.id, l.email, l.first_name, l.last_name, l.company, l.properties, l.tags, l.label, l.label_floor, l.label_held, l.reasons,
  l.lane, l.owner_id, o.name as owner_name, o.email as owner_email, l.owned_at, l.status, l.status_at, l.next_step, l.next_step_at, l.follow_up, l.waiting_since, l.submitted_at, l.guarded_at,
  l.created_at, l.updated_at from lead l left join member o on o.id = l.owner_id`

export async function leadById(db: Db, id: string): Promise<LeadRow | undefined> {
  return (await db<LeadRow[]>`select ${columns(db)} where l.id = ${id}`)[0]
}

/** Some leads, those first that were changed last. */
export const leadsById = (db: Db, ids: string[]) =>
  db<LeadRow[]>`select ${columns(db)} where l.id = any(${ids}::uuid[]) order by l.updated_at desc, l.id`

/** Leads in the order they came, newest first, after a position in that order. */
export const leadsAfter = (db: Db, f: Filter, after: { at: string; id: string } | null, most: number) => db<
  (LeadRow & { position: string })[]
>`
  select to_char(l.created_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.US"Z"') as position, ${columns(db)} ${where(db, f)}
  ${after ? db`and (l.created_at, l.id) < (${after.at}::timestamptz, ${after.id}::uuid)` : db``}
  order by l.created_at desc, l.id desc limit ${most}`

/** All leads of a filter, the newest first, in pieces. */
export const allLeads = (db: Sql, f: Filter) =>
  db<LeadRow[]>`select ${columns(db)} ${where(db, f)} order by l.created_at desc, l.id desc`.cursor(500)

/** All who wait for an owner, longest first, and all whose next step is due by a moment; each found by an index of its own. */
export const onToday = (db: Db, owner: string, dueBy: Date, most: number) => db<LeadRow[]>`
  with mine as materialized (
    (select id from lead where owner_id = ${owner} and waiting_since is not null order by waiting_since limit ${most})
    union (select id from lead where owner_id = ${owner} and next_step_at <= ${dueBy} order by next_step_at limit ${most}))
  select ${columns(db)} where l.id in (select id from mine) order by l.waiting_since nulls last, l.next_step_at limit ${most}`

export interface BriefLead {
  id: string
  firstName: string | null
  lastName: string | null
  email: string | null
  company: string | null
  properties: Record<string, PropertyValue>
  fit: number
  interest: number
  label: string | null
  owner: string | null
}
/** Leads in a few words, by their ids. */
export const briefLeads = (db: Db, ids: string[]) => db<BriefLead[]>`
  select l.id, l.first_name, l.last_name, l.company, l.email, l.properties, l.fit, ${db.unsafe(wholeInterestSql('now()'))} as interest, l.label, m.name as owner from lead l left join member m on m.id = l.owner_id where l.id = any(${ids}::uuid[])`

export const leadIdByEmail = async (db: Db, emailKey: string): Promise<string | null> =>
  (
    await db<
      { id: string }[]
    >`select id from lead where email_key = ${emailKey} union select lead_id from lead_key where rule = 'email' and key = ${emailKey}`
  )[0]?.id ?? null

/** Which of these addresses are somebody's, in use or by who went into them. */
export const knownAddresses = (db: Db, emailKeys: string[]) => db<{ emailKey: string }[]>`
  select email_key from lead where email_key = any(${emailKeys}) union select key from lead_key where rule = 'email' and key = any(${emailKeys})`

/** How many of these people are leads. */
export const leadsKnown = async (db: Db, emailKeys: string[]): Promise<number> =>
  (await db<{ n: number }[]>`select count(*)::int as n from (${knownAddresses(db, emailKeys)}) k`)[0]!.n

/** One page of leads, sorted in the database, and how many there are (`leadIds`, or `firstLeadIds`). */
export async function leadPage(
  sql: Sql,
  f: Filter,
  sort: SortKey,
  down: boolean,
  page: Page,
  which: typeof leadIds = leadIds,
): Promise<LeadCount & { rows: LeadRow[] }> {
  const { ids, ...count } = await which(sql, f, sort, down, page)
  const rows = new Map((await sql<LeadRow[]>`select ${columns(sql)} where l.id = any(${ids}::uuid[])`).map(row => [row.id, row]))
  return { rows: ids.flatMap(id => rows.get(id) ?? []), ...count }
}
