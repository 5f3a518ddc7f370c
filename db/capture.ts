import type { ForReview, Case } from '#core/capture/case'
import { personKey, sameByOf, type PersonKey } from '#core/identity/same-person'
import { propertyOf, type Claim, type LeadState } from '#core/leads/lead'
import { withEntry, type Brought, type TimelineItem, type TimelineLine } from '#core/timeline'
import type { ReasonLine } from '#core/scoring/score'
import { written, type Db, type Statement, type Tx } from '#db/client'
import { insertClaims } from '#db/claims'
import { keepFiles } from '#db/files'
import { putOnLists } from '#db/lists'
import { keepKeys } from '#db/identity'
import { insertLetters } from '#db/letters'
import { nameVisitors } from '#db/trail'
import { atOnce, fragment, statement, type Fragment } from '#db/fragment'
import { finish } from '#db/unfinished'
import { answeredWordings } from '#db/wordings'

/**
 * What the capture path reads and writes: set-based, so that entries that arrive together cost little more than one, and
 * one statement to read and one to write. The answer to each statement is a message of its own, for which both sides wake up.
 */

export interface KnownEntry {
  id: string; pointId: string; idempotencyKey: string; fingerprint: string; thanks: string; state: 'complete' | ForReview['state']
  reason: ForReview['reason'] | null
}
export interface EntryLately { id: string; pointId: string; fingerprint: string; thanks: string }
export interface Turn { lane: string; memberId: string; given: number }

/** What a batch of entries has to know. */
export interface Ask { keys: { point: string; key: string }[]; emails: string[]; persons: PersonKey[]; limited: string[]; from: Date; until: Date }
export interface Known {
  /** Entries that came in before under these idempotency keys. */
  entries: KnownEntry[]
  /** The leads with these addresses, and those that are known by other keys, with the key; locked. */
  leads: LeadState[]
  others: { who: PersonKey; lead: LeadState }[]
  /** What these people entered within the time: the same once more is no second entry. */
  lately: EntryLately[]
  turns: Turn[]
  /** How many complete entries each point has that takes only so many. */
  taken: { pointId: string; entries: number }[]
}

/**
 * Fetches what a batch has to know, and locks the leads, in one order so that two batches never wait for each other.
 * Send it behind `lockTurns`: it then sees what the batch before has written, and nobody else gives turns or counts meanwhile.
 */
export async function whatIsKnown(tx: Db, ask: Ask): Promise<Known> {
  const rows = (wanted: unknown[], query: () => Fragment) => wanted.length ? fragment`(select jsonb_agg(x) from (${query()}) x)` : NONE
  const [row] = await statement<KnownRow[]>(tx, fragment`select
    ${rows(ask.keys, () => entriesByKey(ask.keys))} as entries,
    ${rows(ask.emails, () => withAddresses(ask.emails))} as leads,
    ${rows(ask.persons, () => byKeys(ask.persons))} as others,
    ${rows(ask.emails, () => fragment`select ${LATELY} from lead l ${latelyBy(L_ID, ask)} where l.email_key = any(${ask.emails})`)} as lately,
    ${rows(ask.persons, () => fragment`select ${LATELY} from ${personRows(ask.persons)} ${latelyBy(K_LEAD_ID, ask)}`)} as lately_too,
    (select jsonb_agg(x) from (select lane, member_id as "memberId", given from turn) x) as turns,
    ${rows(ask.limited, () => takenOf(ask.limited))} as taken`)
  const { entries, leads, others, lately, latelyToo, turns, taken } = row!
  return {
    entries: entries ?? [], leads: (leads ?? []).map(stateOf), others: (others ?? []).map(({ rule, key, ...lead }) => ({ who: { rule, key }, lead: stateOf(lead) })),
    lately: [...lately ?? [], ...latelyToo ?? []], turns: turns ?? [], taken: taken ?? [],
  }
}
interface KnownRow {
  entries: KnownEntry[] | null; leads: LeadRow<string>[] | null; others: (LeadRow<string> & PersonKey)[] | null; lately: EntryLately[] | null
  latelyToo: EntryLately[] | null; turns: Turn[] | null; taken: Known['taken'] | null
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

const personRows = (keys: PersonKey[]) => fragment`jsonb_to_recordset(${keys}::jsonb) as w(rule text, key text) join lead_key k on k.rule = w.rule and k.key = w.key`
const LATELY = fragment`e.id, e.point_id as "pointId", encode(e.fingerprint, 'hex') as fingerprint, d.definition->>'thanks' as thanks`

/**
 * Joins what somebody entered within some time: from the person to their entries and never the other way, which
 * the planner would choose while tables are small, and keep. (`offset 0` is what it may not look through.)
 */
const latelyBy = (lead: Fragment, { from, until }: Ask) => fragment`cross join lateral (
  select id, point_id, fingerprint, edition_id from entry where lead_id = ${lead} and at >= ${from} and at <= ${until} and state = 'complete' offset 0) e join edition d on d.id = e.edition_id`
const [L_ID, K_LEAD_ID] = [fragment`l.id`, fragment`k.lead_id`]

type Moments = 'createdAt' | 'statusAt' | 'waitingSince' | 'nextStepAt' | 'confirmedAt' | 'leftAt' | 'givenAt' | 'guardedAt'
/** Moments are dates in a row of columns, and texts in one of JSON. */
type LeadRow<M = Date> = Omit<LeadState, Moments | 'claims'> & { claims: Claim[] | null } & { createdAt: M; statusAt: M } & Record<Exclude<Moments, 'createdAt' | 'statusAt'>, M | null>
const ms = (moment: Date | string) => typeof moment === 'string' ? Date.parse(moment) : moment.getTime()
const msOrNull = (moment: Date | string | null) => moment === null ? null : ms(moment)
const stateOf = (row: LeadRow<Date | string>): LeadState => ({
  ...row, createdAt: ms(row.createdAt), statusAt: ms(row.statusAt), waitingSince: msOrNull(row.waitingSince), nextStepAt: msOrNull(row.nextStepAt),
  confirmedAt: msOrNull(row.confirmedAt), leftAt: msOrNull(row.leftAt), givenAt: msOrNull(row.givenAt), guardedAt: msOrNull(row.guardedAt),
  claims: row.claims ?? [],
})

const STATE = fragment`lead.id, lead.email, email_key as "emailKey", first_name as "firstName", last_name as "lastName", company, properties, tags, label, label_floor as "labelFloor", reasons,
  owner_id as "ownerId", status, status_at as "statusAt", next_step as "nextStep", next_step_at as "nextStepAt", waiting_since as "waitingSince", confirmed_at as "confirmedAt", left_at as "leftAt", created_at as "createdAt", given_at as "givenAt", guarded_at as "guardedAt",
  (select jsonb_agg(jsonb_build_object('id', c.id, 'key', c.email_key, 'asked', c.asked_at is not null, 'theirs', c.theirs)) from claimed_address c
    where c.lead_id = lead.id) as claims`

/** The leads with these addresses, locked in one order so that two batches never wait for each other. */
export async function leadsForUpdate(tx: Tx, emailKeys: string[]): Promise<LeadState[]> {
  return (await statement<LeadRow[]>(tx, withAddresses(emailKeys))).map(stateOf)
}
const withAddresses = (emailKeys: string[]) => fragment`select ${STATE} from lead where email_key = any(${emailKeys}) order by email_key for update`

/** The leads that are known by these keys, with the key; locked. */
export async function leadsByKeys(tx: Tx, keys: PersonKey[]): Promise<{ who: PersonKey; lead: LeadState }[]> {
  if (!keys.length) return []
  const rows = await statement<(LeadRow & PersonKey)[]>(tx, byKeys(keys))
  return rows.map(({ rule, key, ...lead }) => ({ who: { rule, key }, lead: stateOf(lead) }))
}
const byKeys = (keys: PersonKey[]) => fragment`select k.rule, k.key, ${STATE} from ${personRows(keys)} join lead on lead.id = k.lead_id
  order by lead.id for update of lead`

/** Some leads whose interest was worked out longest ago, locked; those that others hold, and those with none left, are passed over. */
export async function stalestLeads(tx: Tx, before: Date, most: number): Promise<LeadState[]> {
  return (await statement<LeadRow[]>(tx, fragment`select ${STATE} from lead where scored_at < ${before} and interest <> 0 order by scored_at limit ${most} for update skip locked`)).map(stateOf)
}

/** A lead as it stands, to be read only. */
export async function leadState(db: Db, id: string): Promise<LeadState | undefined> {
  const [row] = await statement<LeadRow[]>(db, fragment`select ${STATE} from lead where id = ${id}`)
  return row && stateOf(row)
}

export async function leadForUpdate(tx: Tx, id: string): Promise<LeadState | undefined> {
  const [row] = await statement<LeadRow[]>(tx, fragment`select ${STATE} from lead where id = ${id} for update`)
  return row && stateOf(row)
}

/** The key of the lock under which turns are given. */
const TURNS = 4310

/**
 * Locks the turns of all lanes until the transaction ends, also where no turn was given yet: whose go it is, is decided
 * by one batch at a time. A statement of its own, since one sees what was there when it began.
 */
export const LOCK_TURNS = `select pg_advisory_xact_lock(${TURNS})`
export const lockTurns = (tx: Db) => tx`select pg_advisory_xact_lock(${TURNS})`

/** The score of a lead as the database keeps it, to sort and filter by. */
export interface Stored { fit: number; interest: number }

export interface Writing {
  cases: Case[]
  review: ForReview[]
  newId: (at: number) => string
  /** The rules by which people are known beside their address. */
  rules: string[]
  /** Whether members are mailed what they are told. */
  mails: boolean
  turnsGiven: { lane: string; member: string; given: number }[]
  at: Date
}

/** All that members are told of an entry. The owner's notice has the id of the entry; the others name it, since their mails say what it says. */
export const noticesOf = (c: Case) => [...(c.announcement ? [{ id: c.intake.entryId, ...c.announcement }] : []), ...c.notified]

/** The statements that write what came of a batch of entries, to be sent in this order. */
export function writeCases(tx: Tx, w: Writing): Statement[] {
  const states = new Map<string, { lead: LeadState; fresh: boolean; owned: number | null; at: number; score: Stored }>()
  for (const c of w.cases) {
    const seen = states.get(c.lead.id)
    const owned = c.timeline.some(t => t.kind === 'owner') ? c.intake.at : seen?.owned ?? null
    states.set(c.lead.id, { lead: c.lead, fresh: seen?.fresh ?? !c.known, owned, at: c.intake.at, score: c.score })
  }
  const leadRows = (isFresh: boolean) => [...states.values()].filter(s => s.fresh === isFresh).map(({ lead, score, at, owned }) => leadRow(lead, score, at, owned))
  const notices = w.cases.flatMap(c => noticesOf(c).map(n => ({ id: n.id, member_id: n.to, lead_id: c.lead.id, at: iso(c.intake.at), subject: n.subject, body: { text: n.text, ...(n.id !== c.intake.entryId && { entry: c.intake.entryId }) } })))
  const known = w.cases.flatMap(c => c.intake.visitor ? [{ id: w.newId(c.intake.at), visitor: c.intake.visitor, lead: c.lead.id, since: iso(c.intake.at) }] : [])
  const visitors = [...new Map(known.map(v => [v.visitor, v])).values()]
  const trials = w.cases.flatMap(({ intake: i }) => i.tried && i.visitor ? [{ point: i.point.id, ...i.tried, visitor: i.visitor, at: iso(i.at) }] : [])
  const [fresh, others] = [leadRows(true), leadRows(false)]
  const kept = w.cases.map(c => withEntry(c.timeline))
  const lines = kept.flatMap(k => k.others)
  const finished = w.cases.flatMap(c => c.intake.visitor ? [{ id: c.intake.unfinished, visitor: c.intake.visitor, point: c.intake.point.id, at: iso(c.intake.at) }] : [])
  return [
    ...atOnce(tx, [
      fresh.length && newLeads(fresh),
      others.length && changedLeads(others),
      entryRows(w.cases, kept.map(k => k.brought), w.review),
      lines.length && timelineRows(lines, line => w.newId(line.at)),
      notices.length && fragment`insert into notice (id, member_id, lead_id, at, mail_at, subject, body)
        select id, member_id, lead_id, at, case when ${w.mails} then at end, subject, body from jsonb_to_recordset(${written(notices)}::jsonb)
          as r(id uuid, member_id uuid, lead_id uuid, at timestamptz, subject text, body jsonb)`,
      w.turnsGiven.length && fragment`insert into turn (lane, member_id, given, last_at)
        select lane, member, given, ${w.at} from jsonb_to_recordset(${w.turnsGiven}::jsonb) as r(lane text, member uuid, given bigint)
        on conflict (lane, member_id) do update set given = excluded.given, last_at = excluded.last_at`,
    ]),
    ...keepKeys(tx, w.rules, [...states.values()].map(({ lead, fresh }) => keysOf(lead, fresh, w))),
    ...[...w.cases, ...w.review].flatMap(({ intake: i }) => keepFiles(tx, i.entryId, new Date(i.at), i.files)),
    ...putOnLists(tx, w.cases),
    ...insertConsents(tx, w),
    ...insertClaims(tx, w.cases),
    ...insertLetters(tx, w.cases),
    ...nameVisitors(tx, visitors),
    ...(trials.length ? [answeredWordings(tx, trials)] : []),
    ...finish(tx, finished),
  ]
}

/** By which keys a lead is known now; `own` is the one that made it a new lead. */
function keysOf(lead: LeadState, fresh: boolean, { cases, rules }: Writing) {
  const own = fresh ? cases.find(c => c.lead === lead)?.intake.known ?? null : null
  const keys = rules.flatMap(rule => personKey(sameByOf(rule), property => propertyOf(lead, property)) ?? [])
  return { id: lead.id, own, keys: keys.filter(k => k.rule !== own?.rule) }
}

let moment = { ms: NaN, text: '' }
/** A moment as PostgreSQL reads it. All rows of an entry have the same one. */
const iso = (ms: number): string => (moment.ms === ms ? moment : moment = { ms, text: new Date(ms).toISOString() }).text

const isoOrNot = (ms: number | null) => ms === null ? undefined : iso(ms)

/**
 * A lead as it is sent, in JSON. What is null is left out (`undefined`): PostgreSQL takes a name that is missing for null.
 * @param at when it was scored and changed
 * @param owned when its owner got it, where that is new
 */
function leadRow(lead: LeadState, { fit, interest }: Stored, at: number, owned: number | null = null) {
  return {
    id: lead.id, email: lead.email ?? undefined, email_key: lead.emailKey ?? undefined, first_name: lead.firstName ?? undefined, last_name: lead.lastName ?? undefined,
    company: lead.company ?? undefined, properties: lead.properties, tags: lead.tags, label: lead.label ?? undefined, label_floor: lead.labelFloor ?? undefined, reasons: lead.reasons as ReasonLine[],
    fit, interest, owner_id: lead.ownerId ?? undefined, owned_at: isoOrNot(owned), status: lead.status, waiting_since: isoOrNot(lead.waitingSince),
    next_step: lead.nextStep ?? undefined, next_step_at: isoOrNot(lead.nextStepAt), given_at: isoOrNot(lead.givenAt), created_at: iso(lead.createdAt), at: iso(at),
  }
}
type LeadRowSent = ReturnType<typeof leadRow>

const recordset = (rows: LeadRowSent[]) => fragment`jsonb_to_recordset(${written(rows)}::jsonb) as r(
  id uuid, email text, email_key text, first_name text, last_name text, company text, properties jsonb, tags text[], label text, label_floor text,
  reasons jsonb, fit int, interest int, at timestamptz, owner_id uuid, owned_at timestamptz, status text, waiting_since timestamptz, next_step text, next_step_at timestamptz,
  created_at timestamptz, given_at timestamptz)`

const newLeads = (rows: LeadRowSent[]) => fragment`insert into lead (id, email, email_key, first_name, last_name, company, properties, tags, label, label_floor, reasons, fit, interest,
      scored_at, owner_id, owned_at, status, status_at, waiting_since, next_step, next_step_at, created_at, updated_at, given_at)
    select id, email, email_key, first_name, last_name, company, properties, tags, label, label_floor, reasons, fit, interest,
      at, owner_id, owned_at, status, created_at, waiting_since, next_step, next_step_at, created_at, at, given_at
    from ${recordset(rows)}`

/** Leads whose score, label, owner or properties changed. */
const changedLeads = (rows: LeadRowSent[]) => fragment`update lead l set email = r.email, email_key = r.email_key, first_name = r.first_name, last_name = r.last_name, company = r.company, properties = r.properties, tags = r.tags,
      label = r.label, label_floor = r.label_floor, reasons = r.reasons, fit = r.fit, interest = r.interest, scored_at = r.at,
      owner_id = r.owner_id, owned_at = coalesce(r.owned_at, l.owned_at), waiting_since = r.waiting_since, next_step = r.next_step, next_step_at = r.next_step_at, given_at = r.given_at, updated_at = greatest(l.updated_at, r.at)
    from ${recordset(rows)} where l.id = r.id`

/** Writes leads that did not come by an entry, new ones and known ones. */
export async function writeLeads(tx: Db, leads: ({ lead: LeadState; fresh: boolean; at: number } & Stored)[]): Promise<void> {
  const rows = (isFresh: boolean) => leads.filter(l => l.fresh === isFresh).map(({ lead, at, fit, interest }) => leadRow(lead, { fit, interest }, at))
  const [fresh, others] = [rows(true), rows(false)]
  await Promise.all(atOnce(tx, [fresh.length && newLeads(fresh), others.length && changedLeads(others)]))
}

/** Writes what is known of a lead, and its tags. */
export const writeAttributes = (db: Db, lead: LeadState, at: Date) => db`
  update lead set first_name = ${lead.firstName}, last_name = ${lead.lastName}, company = ${lead.company}, properties = ${lead.properties as never}, tags = ${lead.tags}, updated_at = ${at} where id = ${lead.id}`

/** Writes a newly worked-out score and label; who changed nothing keeps the time of the last change. */
export async function rewriteScores(tx: Db, leads: { lead: LeadState; stored: Stored; changed: boolean }[], at: Date): Promise<void> {
  const rows = leads.map(l => ({ id: l.lead.id, label: l.lead.label, reasons: l.lead.reasons, changed: l.changed, ...l.stored }))
  await tx`update lead l set label = r.label, reasons = r.reasons, fit = r.fit, interest = r.interest, scored_at = ${at},
      updated_at = case when r.changed then ${at} else l.updated_at end
    from jsonb_to_recordset(${rows as never}::jsonb) as r(id uuid, label text, reasons jsonb, changed boolean, fit int, interest int) where l.id = r.id`
}

/** @param brought what is kept with each of the cases */
function entryRows(cases: Case[], brought: Brought[], review: ForReview[]): Fragment {
  const taken = cases.map((c, n) => ({ i: c.intake, lead: c.lead.id as string | null, state: 'complete', reason: null as string | null, brought: brought[n] }))
  const rows = [...taken, ...review.map(a => ({ i: a.intake, lead: null, state: a.state, reason: a.reason, brought: undefined }))].map(({ i, lead, state, reason, brought }) => ({
    brought, state, reason: reason ?? undefined, via: i.via, took_ms: i.tookMs ?? undefined, id: i.entryId, point_id: i.point.id, edition_id: i.edition.id, lead_id: lead ?? undefined, at: iso(i.at), answers: i.answers, page: i.page ?? undefined,
    referrer: i.referrer ?? undefined, utm: i.utm, visitor_id: i.visitor ?? undefined, idempotency_key: i.idempotencyKey ?? undefined, fingerprint: i.fingerprint, landing_id: i.landing ?? undefined,
  }))
  return fragment`insert into entry (id, point_id, edition_id, lead_id, at, state, answers, page, referrer, utm, visitor_id, idempotency_key, fingerprint, reason, via, took_ms, landing_id, brought)
    select id, point_id, edition_id, lead_id, at, state, answers, page, referrer, utm, visitor_id, idempotency_key, decode(fingerprint, 'hex'), reason, via, took_ms, landing_id, brought
    from jsonb_to_recordset(${written(rows)}::jsonb) as r(id uuid, point_id uuid, edition_id uuid, lead_id uuid, at timestamptz, answers jsonb,
      page text, referrer text, utm jsonb, visitor_id uuid, idempotency_key text, fingerprint text, state text, reason text, via text, took_ms int, landing_id uuid, brought jsonb)`
}

/** Keeps the exact words that were agreed to. */
function insertConsents(tx: Db, { cases, newId }: Writing): Statement[] {
  const rows = cases.flatMap(({ intake: i, lead, consents }) => consents.map(c => ({
    id: newId(i.at), lead_id: lead.id, entry_id: i.entryId, question: c.question, edition_id: i.edition.id, words: c.words, allows: c.allows, at: iso(i.at), page: i.page,
  })))
  return rows.length ? [tx`insert into consent (id, lead_id, entry_id, question, edition_id, words, allows, at, page)
    select id, lead_id, entry_id, question, edition_id, words, allows, at, page from jsonb_to_recordset(${rows as never}::jsonb)
      as r(id uuid, lead_id uuid, entry_id uuid, question text, edition_id uuid, words text, allows text[], at timestamptz, page text)`] : []
}

/** Adds to timelines. */
export async function insertTimeline(tx: Db, items: TimelineItem[]): Promise<void> {
  if (items.length) await statement(tx, timelineRows(items, item => item.id))
}

function timelineRows<L extends TimelineLine>(items: L[], idOf: (line: L) => string): Fragment {
  const rows = items.map(t => ({ id: idOf(t), lead_id: t.lead, at: iso(t.at), kind: t.kind, actor_id: t.actor ?? undefined, payload: t.payload }))
  return fragment`insert into timeline (id, lead_id, at, kind, actor_id, payload)
    select id, lead_id, at, kind, actor_id, payload from jsonb_to_recordset(${written(rows)}::jsonb)
      as r(id uuid, lead_id uuid, at timestamptz, kind text, actor_id uuid, payload jsonb)`
}
