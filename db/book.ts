import type { ForReview } from '#core/capture/case'
import type { PersonKey } from '#core/identity/same-person'
import type { Claim, LeadState } from '#core/leads/lead'
import type { Db } from '#db/client'
import { FIRMS_OF_A_DOMAIN } from '#db/firms'
import { fragment, statement, type Fragment } from '#db/fragment'

/**
 * What a batch of causes has to know: its leads, locked in one order, and of entries what came before. Set-based, so that causes
 * that come together cost little more than one.
 */

export interface KnownEntry {
  id: string
  pointId: string
  idempotencyKey: string
  fingerprint: string
  thanks: string
  state: 'complete' | ForReview['state']
  reason: ForReview['reason'] | null
}
export interface EntryLately {
  id: string
  pointId: string
  fingerprint: string
  thanks: string
}

/** What a batch of entries has to know. */
export interface Ask {
  keys: { point: string; key: string }[]
  emails: string[]
  persons: PersonKey[]
  limited: string[]
  from: Date
  until: Date
}
export interface Known {
  /** Entries that came in before under these idempotency keys. */
  entries: KnownEntry[]
  /** What these people entered within the time: the same once more is no second entry. */
  lately: EntryLately[]
  /** How many complete entries each point has that takes only so many. */
  taken: { pointId: string; entries: number }[]
}

/** Whom a batch is about: leads by their ids, by their addresses, and by other keys. */
export interface Who {
  ids?: string[]
  emails?: string[]
  persons?: PersonKey[]
}

/** Who was two leads is found by either address: the one that is not in use is a key of theirs. */
const withMerged = ({ emails = [], persons = [], ...who }: Who) => ({
  ...who,
  emails,
  persons: [...persons, ...emails.map(key => ({ rule: 'email', key }))],
})

/** That a lead is one of those. By ids alone it is planned in a tenth of the time. */
const isOneOf = (who: Who): Fragment => {
  const { ids = [], emails = [], persons } = withMerged(who)
  if (!emails.length && !persons.length) return fragment`id = any(${ids}::uuid[])`
  const parts = [
    ...(ids.length ? [fragment`select unnest(${ids}::uuid[])`] : []),
    ...(emails.length ? [fragment`select id from lead where email_key = any(${emails})`] : []),
    ...(persons.length ? [fragment`select lead_id from ${personRows(persons)}`] : []),
  ]
  return fragment`id in (${parts.reduce((all, part) => fragment`${all} union ${part}`)})`
}

/**
 * Locks the leads that a batch may touch, in one order, so that two batches never wait for each other crosswise. A statement of its
 * own, since one sees what was there when it began; it is on its way when this returns: send what reads them behind it.
 */
export function lockLeads(tx: Db, who: Who) {
  const locked = statement<{ id: string }[]>(tx, fragment`select id from lead where ${isOneOf(who)} order by id for no key update`)
  locked.execute()
  return locked
}

/** Locks points that take only so many entries; before any lead. */
export const lockPoints = (tx: Db, points: string[]) =>
  statement(tx, fragment`select id from point where id = any(${points}::uuid[]) order by id for no key update`).execute()

export interface Turn {
  lane: string
  memberId: string
  given: number
  credit: number
}
const TURN = fragment`lane, member_id as "memberId", given, credit`
/** The turns of some lanes, locked in one order; behind all leads. */
export const lockTurns = (tx: Db, lanes: string[]) =>
  statement<Turn[]>(tx, fragment`select ${TURN} from turn where lane = any(${lanes}) order by lane, member_id for update`)
/** The same to look at only, for what is taken back. */
export const turnsOf = (tx: Db, lanes: string[]) => statement<Turn[]>(tx, fragment`select ${TURN} from turn where lane = any(${lanes})`)
/** Members whose leads are counted are locked, behind the lanes: two lanes do not give them more than they may have. */
export const lockMembers = (tx: Db, members: string[]) =>
  statement(tx, fragment`select id from member where id = any(${members}::uuid[]) order by id for no key update`)
/** How many open leads some members have. */
export const openOf = (tx: Db, members: string[]) =>
  statement<{ memberId: string; open: number }[]>(
    tx,
    fragment`
  select l.owner_id as "memberId", count(*)::int as open from lead l join status s on s.key = l.status and s.stage in ('first', 'open')
  where l.owner_id = any(${members}::uuid[]) group by 1`,
  )

export interface FirmKey {
  lead: string
  domain: string | null
  firm: string | null
}
/** Who owns others of the same firms, by domain or name, those first whose leads were changed last. */
export const firmOwners = (tx: Db, firms: FirmKey[]) =>
  statement<{ lead: string; ownerId: string }[]>(
    tx,
    fragment`
  select lead, "ownerId" from (
    select r.lead, l.owner_id as "ownerId", max(l.updated_at) as at from jsonb_to_recordset(${firms}::jsonb) as r(lead uuid, domain text, firm text)
    cross join lateral (
      select k.lead_id from lead_likeness k where k.firm = r.firm
      union select k.lead_id from lead_likeness k where k.domain = r.domain
        and (select count(distinct o.firm) from lead_likeness o where o.domain = r.domain) <= ${FIRMS_OF_A_DOMAIN}
      limit 500) k
    join lead l on l.id = k.lead_id and l.id <> r.lead and l.owner_id is not null
    group by r.lead, l.owner_id) x order by lead, at desc`,
  )
/** Who owned some leads before, the latest first. */
export const earlierOwners = (tx: Db, leads: string[]) =>
  statement<{ lead: string; ownerId: string }[]>(
    tx,
    fragment`
  select v.lead_id as lead, v.changes->'owner'->>'to' as "ownerId" from lead_event v
  where v.lead_id = any(${leads}::uuid[]) and v.changes ? 'owner' and v.changes->'owner'->>'to' is not null order by v.lead_id, v.version desc`,
  )

export interface Found {
  leads: LeadState[]
  /** By which other keys they were found. */
  keys: (PersonKey & { lead: string })[]
}
interface FoundRow {
  leads: LeadRow<string>[] | null
  keys: Found['keys'] | null
}
const foundIn = (row: FoundRow): Found => ({ leads: (row.leads ?? []).map(stateOf), keys: row.keys ?? [] })
const foundBy = (who: Who): Fragment => {
  const { persons } = withMerged(who)
  const keys = persons.length
    ? fragment`(select jsonb_agg(x) from (select k.rule, k.key, k.lead_id as lead from ${personRows(persons)}) x)`
    : NONE
  return fragment`(select jsonb_agg(x) from (select ${STATE} from lead where ${isOneOf(who)}) x) as leads, ${keys} as keys`
}

/** The leads of a batch, by what they were found by. */
export const leadsOf = async (tx: Db, who: Who): Promise<Found> =>
  foundIn((await statement<FoundRow[]>(tx, fragment`select ${foundBy(who)}`))[0]!)

/** A query of the ids of a batch's leads. */
export const whoseIds = (tx: Db, who: Who) => idsOf(tx, withMerged(who))
const idsOf = (tx: Db, { ids = [], emails, persons }: ReturnType<typeof withMerged>) => tx`
  select unnest(${ids}::uuid[]) as id union select id from lead where email_key = any(${emails})
  union select k.lead_id from jsonb_to_recordset(${persons as never}::jsonb) as w(rule text, key text) join lead_key k on k.rule = w.rule and k.key = w.key`

/** The leads of a batch of entries, and what came before from the same people and to the same points. */
export async function entriesKnown(tx: Db, ask: Ask): Promise<Known & Found> {
  const { persons } = withMerged(ask)
  const rows = (wanted: unknown[], query: () => Fragment) => (wanted.length ? fragment`(select jsonb_agg(x) from (${query()}) x)` : NONE)
  const [row] = await statement<(KnownRow & FoundRow)[]>(
    tx,
    fragment`select ${foundBy(ask)},
    ${rows(ask.keys, () => entriesByKey(ask.keys))} as entries,
    ${rows(ask.emails, () => fragment`select ${LATELY} from lead l ${latelyBy(L_ID, ask)} where l.email_key = any(${ask.emails})`)} as lately,
    ${rows(persons, () => fragment`select ${LATELY} from ${personRows(persons)} ${latelyBy(K_LEAD_ID, ask)}`)} as lately_too,
    ${rows(ask.limited, () => takenOf(ask.limited))} as taken`,
  )
  const { entries, lately, latelyToo, taken } = row!
  return { ...foundIn(row!), entries: entries ?? [], lately: [...(lately ?? []), ...(latelyToo ?? [])], taken: taken ?? [] }
}
interface KnownRow {
  entries: KnownEntry[] | null
  lately: EntryLately[] | null
  latelyToo: EntryLately[] | null
  taken: Known['taken'] | null
}
const NONE = fragment`null::jsonb`

/** How many complete entries each of these points has. */
export const entriesTaken = (db: Db, points: string[]) => statement<Known['taken']>(db, takenOf(points))
const takenOf = (points: string[]) => fragment`
  select point_id as "pointId", count(*) as entries from entry where point_id = any(${points}::uuid[]) and state = 'complete' group by point_id`

const entriesByKey = (keys: Ask['keys']) => fragment`
  select e.id, e.point_id as "pointId", e.idempotency_key as "idempotencyKey", encode(e.fingerprint, 'hex') as fingerprint, e.state, e.reason, d.definition->>'thanks' as thanks
  from jsonb_to_recordset(${keys}::jsonb) as k(point uuid, key text)
  join entry e on e.point_id = k.point and e.idempotency_key = k.key
  join edition d on d.id = e.edition_id`

const personRows = (keys: PersonKey[]) =>
  fragment`jsonb_to_recordset(${keys}::jsonb) as w(rule text, key text) join lead_key k on k.rule = w.rule and k.key = w.key`
const LATELY = fragment`e.id, e.point_id as "pointId", encode(e.fingerprint, 'hex') as fingerprint, d.definition->>'thanks' as thanks`

/**
 * Joins what somebody entered within some time: from the person to their entries and never the other way, which
 * the planner would choose while tables are small, and keep. (`offset 0` is what it may not look through.)
 */
const latelyBy = (lead: Fragment, { from, until }: Ask) => fragment`cross join lateral (
  select id, point_id, fingerprint, edition_id from entry where lead_id = ${lead} and at >= ${from} and at <= ${until} and state = 'complete' offset 0) e join edition d on d.id = e.edition_id`
const [L_ID, K_LEAD_ID] = [fragment`l.id`, fragment`k.lead_id`]

type Moments =
  'routeAt' | 'createdAt' | 'statusAt' | 'waitingSince' | 'nextStepAt' | 'confirmedAt' | 'unsubscribedAt' | 'submittedAt' | 'guardedAt'
/** Moments are dates in a row of columns, and texts in one of JSON. */
type LeadRow<M = Date> = Omit<LeadState, Moments | 'claims'> & { claims: Claim[] | null } & { createdAt: M; statusAt: M } & Record<
    Exclude<Moments, 'createdAt' | 'statusAt'>,
    M | null
  >
const ms = (moment: Date | string) => (typeof moment === 'string' ? Date.parse(moment) : moment.getTime())
const msOrNull = (moment: Date | string | null) => (moment === null ? null : ms(moment))
const stateOf = (row: LeadRow<Date | string>): LeadState => ({
  ...row,
  createdAt: ms(row.createdAt),
  statusAt: ms(row.statusAt),
  waitingSince: msOrNull(row.waitingSince),
  routeAt: msOrNull(row.routeAt),
  nextStepAt: msOrNull(row.nextStepAt),
  confirmedAt: msOrNull(row.confirmedAt),
  unsubscribedAt: msOrNull(row.unsubscribedAt),
  submittedAt: msOrNull(row.submittedAt),
  guardedAt: msOrNull(row.guardedAt),
  claims: row.claims ?? [],
})

const STATE = fragment`lead.id, lead.email, email_key as "emailKey", first_name as "firstName", last_name as "lastName", company, properties, tags, label, label_floor as "labelFloor", label_held as "labelHeld", reasons, half_life_days as "halfLifeDays",
  owner_id as "ownerId", lane, route_at as "routeAt", status, status_at as "statusAt", next_step as "nextStep", next_step_at as "nextStepAt", follow_up as "followUp", waiting_since as "waitingSince", confirmed_at as "confirmedAt", unsubscribed_at as "unsubscribedAt", created_at as "createdAt", submitted_at as "submittedAt", guarded_at as "guardedAt", version, counted,
  (select jsonb_agg(jsonb_build_object('id', c.id, 'key', c.email_key, 'asked', c.asked_at is not null, 'theirs', c.theirs)) from claimed_address c
    where c.lead_id = lead.id) as claims`

/** Some leads of which something is due by a moment, the longest due first, and when it was. */
export const dueLeads = (db: Db, by: Date, most: number) =>
  statement<{ id: string; due: Date }[]>(
    db,
    fragment`
  select id, judge_at as due from lead where judge_at <= ${by} order by judge_at limit ${most}`,
  )

/** Leads in the order of their ids, behind one. */
export const leadsBehind = async (db: Db, after: string | null, most: number): Promise<string[]> =>
  (
    await statement<{ id: string }[]>(
      db,
      after === null
        ? fragment`select id from lead order by id limit ${most}`
        : fragment`select id from lead where id > ${after}::uuid order by id limit ${most}`,
    )
  ).map(r => r.id)

/** A lead as it stands, to be read only. */
export async function leadState(db: Db, id: string): Promise<LeadState | undefined> {
  const [row] = await statement<LeadRow[]>(db, fragment`select ${STATE} from lead where id = ${id}`)
  return row && stateOf(row)
}
