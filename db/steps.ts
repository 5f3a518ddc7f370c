import type { Case, ForReview } from '#core/capture/case'
import { personKey, sameByOf } from '#core/identity/same-person'
import type { Notice, Step } from '#core/leads/book'
import { eventOf } from '#core/leads/event-of'
import type { Counting } from '#core/figures/facets'
import type { Joined } from '#core/leads/join-browser'
import { propertyOf, type LeadState } from '#core/leads/lead'
import { interestKey } from '#core/scoring/interest-key'
import type { TellAt, Told } from '#core/telling/telling'
import type { ReasonLine } from '#core/scoring/lines'
import { written, type Db, type Statement, type Tx } from '#db/client'
import { insertClaims } from '#db/claims'
import { keepFiles } from '#db/files'
import { keepKeys } from '#db/identity'
import { insertMails } from '#db/mails'
import { writeJoined } from '#db/trail'
import { atOnce, fragment, type Fragment } from '#db/fragment'
import { eventRows, eventsUndone } from '#db/events'
import { becameEntries } from '#db/nameless'
import { finish } from '#db/unfinished'
import { answeredVariants } from '#db/variants'

export interface Writing {
  steps: Step[]
  /** Entries that wait for a review. */
  review: ForReview[]
  newId: (at: number) => string
  /** The rules by which people are known beside their address. */
  rules: string[]
  /** Whether members are mailed what they are told. */
  mails: boolean
  /** When and how a member is told something beside the bell; null: the bell alone does. */
  tellAt: (member: string, topic: Told, at: number) => TellAt | null
  /** What they read. */
  worded: (step: Step, notice: Notice) => { subject: string; text: string }
  turnsTaken: { lane: string; member: string; given: number; credit: number; got: boolean }[]
  /** The scorecard that leads were judged by: the number of its edition, and its half-life. */
  card: { number: number; halfLifeDays: number }
  /** What passages and labels mean for figures. */
  counting: Counting
  /** What became of browsers. */
  joined: Joined[]
  at: number
}

/** Causes that may change by which keys a lead is known. */
const REKEYS = new Set<Step['cause']>([
  'entry',
  'row',
  'typed',
  'correction',
  'claim_confirmed',
  'judged',
  'merged',
  'split',
  'restored',
  'made',
  'edited',
])

const isCase = (step: Step): step is Case => 'intake' in step

/** All that members are told of a step. The owner's notice of an entry has the id of the entry; the others name it, since their mails say what it says. */
export function noticesOf(step: Step): Notice[] {
  if (!isCase(step)) return step.notices
  const { entryId } = step.intake
  return [
    ...(step.announcement ? [{ id: entryId, mail: true, entry: entryId, ...step.announcement }] : []),
    ...step.notified.map(n => ({ ...n, mail: true, entry: entryId })),
  ]
}

/** The statements that write what came of a batch of causes, to be sent in this order. Nothing else writes a lead. */
export function writeSteps(tx: Tx, w: Writing): Statement[] {
  const cases = w.steps.filter(isCase)
  const events = w.steps.flatMap(step => eventOf(step, w.card.number, w.counting) ?? [])
  const undone = events.flatMap(({ lead, undone: version, at }) => (version === undefined ? [] : [{ lead, version, at: iso(at) }]))
  const states = new Map<string, Written>()
  for (const step of w.steps) {
    const seen = states.get(step.lead.id)
    const changed = step.changed ? step.at : (seen?.changed ?? null)
    states.set(step.lead.id, {
      lead: step.lead,
      fresh: seen?.fresh ?? step.fresh,
      owned: step.owned ? step.at : (seen?.owned ?? null),
      changed,
      at: step.at,
      step,
    })
  }
  const leadRows = (isFresh: boolean) => [...states.values()].filter(s => s.fresh === isFresh).map(state => leadRow(state, w.card))
  const [fresh, others] = [leadRows(true), leadRows(false)]
  const notices = [
    ...w.steps.flatMap(step => noticesOf(step).map(n => noticeRow(step, n, w))),
    ...w.review.flatMap(held => waitingNotices(held, w)),
  ]
  const trials = cases.flatMap(({ intake: i }) =>
    i.tried && i.visitor ? [{ point: i.point.id, ...i.tried, visitor: i.visitor, at: iso(i.at) }] : [],
  )
  const finished = cases.flatMap(c =>
    c.intake.visitor ? [{ id: c.intake.unfinished, visitor: c.intake.visitor, point: c.intake.point.id, at: iso(c.intake.at) }] : [],
  )
  const named = [...cases, ...w.review].flatMap(({ intake: i }) =>
    i.finished ? [{ id: i.finished, point: i.point.id, entry: i.entryId }] : [],
  )
  const rekeyed = new Set(w.steps.filter(s => REKEYS.has(s.cause)).map(s => s.lead.id))
  const known = [...states.values()].filter(s => rekeyed.has(s.lead.id))
  return [
    ...atOnce(tx, [
      fresh.length && newLeads(fresh),
      others.length && changedLeads(others),
      (cases.length || w.review.length) && entryRows(cases, w.review),
      events.length && eventRows(events),
      undone.length && eventsUndone(undone),
      notices.length && newNotices(notices),
      w.turnsTaken.length &&
        fragment`insert into turn (lane, member_id, given, credit, last_at)
        select lane, member, given, credit, case when got then ${new Date(w.at)}::timestamptz end from jsonb_to_recordset(${w.turnsTaken}::jsonb) as r(lane text, member uuid, given bigint, credit float8, got boolean)
        on conflict (lane, member_id) do update set given = excluded.given, credit = excluded.credit, last_at = coalesce(excluded.last_at, turn.last_at)`,
    ]),
    ...keepKeys(
      tx,
      w.rules,
      known.map(({ lead, fresh: isFresh }) => keysOf(lead, isFresh, cases, w.rules)),
    ),
    ...[...cases, ...w.review].flatMap(({ intake: i }) => keepFiles(tx, i.entryId, new Date(i.at), i.files)),
    ...writeLists(tx, w.steps),
    ...insertConsents(tx, cases, w.newId),
    ...insertClaims(tx, cases),
    ...insertMails(tx, cases),
    ...writeJoined(tx, w.joined),
    ...(trials.length ? [answeredVariants(tx, trials)] : []),
    ...finish(tx, finished),
    ...(named.length ? [becameEntries(tx, named)] : []),
  ]
}

function noticeRow(step: Step, n: Notice, { mails, tellAt, worded }: Pick<Writing, 'mails' | 'tellAt' | 'worded'>) {
  // A calendar file comes at once, or it may come too late.
  const due =
    !mails || !n.mail
      ? null
      : n.meeting
        ? { at: step.at, together: false, channel: 'mail' as const }
        : tellAt(n.to, n.topic ?? 'given', step.at)
  const { subject, text } = worded(step, n)
  return {
    id: n.id,
    member: n.to,
    lead: step.lead.id as string | undefined,
    entry: n.meeting ?? n.entry,
    at: iso(step.at),
    channel: due?.channel ?? ('bell' as TellAt['channel'] | 'bell'),
    subject,
    body: text,
    meeting: n.meeting !== undefined,
    due: due && !due.together ? iso(due.at) : undefined,
    together: due?.together ? iso(due.at) : undefined,
  }
}

/** Those who approve the entries of a point are told that one waits. It is about nobody yet. */
const waitingNotices = (
  { intake: { entryId, at, point, edition }, state }: ForReview,
  { newId, mails }: Writing,
): ReturnType<typeof noticeRow>[] =>
  state === 'held'
    ? edition.definition.guards.approvers.map(member => ({
        id: newId(at),
        member,
        lead: undefined,
        entry: entryId,
        at: iso(at),
        channel: mails ? 'mail' : 'bell',
        subject: `An entry waits for approval: ${point.name}`,
        body: `Somebody sent “${point.name}”. Nothing happens with it until one of you approves it.`,
        meeting: false,
        due: mails ? iso(at) : undefined,
        together: undefined as string | undefined,
      }))
    : []

/** What members are told is a delivery: it goes to the address they have now. */
const newNotices = (rows: ReturnType<typeof noticeRow>[]) => fragment`
  insert into delivery (id, kind, channel, at, due_at, together_at, member_id, lead_id, entry_id, recipient, recipient_name, subject, body, meeting)
    select r.id, 'notice', r.channel, r.at, r.due, r.together, r.member, r.lead, r.entry, case when r.channel = 'chat' then 'chat' else m.email end, m.name, r.subject, r.body, r.meeting
    from jsonb_to_recordset(${written(rows)}::jsonb)
      as r(id uuid, channel text, at timestamptz, member uuid, lead uuid, entry uuid, subject text, body text, meeting boolean, due timestamptz, together timestamptz) join member m on m.id = r.member`

/** By which keys a lead is known now; `own` is the one that made it a new lead. */
function keysOf(lead: LeadState, fresh: boolean, cases: Case[], rules: string[]) {
  const own = fresh ? (cases.find(c => c.lead === lead)?.intake.known ?? null) : null
  const keys = rules.flatMap(rule => personKey(sameByOf(rule), property => propertyOf(lead, property)) ?? [])
  return { id: lead.id, own, keys: keys.filter(k => k.rule !== own?.rule) }
}

let moment = { ms: NaN, text: '' }
/** A moment as PostgreSQL reads it. All rows of an entry have the same one. */
const iso = (ms: number): string => (moment.ms === ms ? moment : (moment = { ms, text: new Date(ms).toISOString() })).text

const isoOrNot = (ms: number | null) => (ms === null ? undefined : iso(ms))

/** @param at when it was scored; changed: when it was changed, if it was; owned: when its owner got it, where that is new */
interface Written {
  lead: LeadState
  fresh: boolean
  at: number
  changed: number | null
  owned: number | null
  step: Step
}

/** A lead as it is sent, in JSON. What is null is left out (`undefined`): PostgreSQL takes a name that is missing for null. */
function leadRow({ lead, at, changed, owned, step: { score, judgeAt } }: Written, card: Writing['card']) {
  const due = Math.min(judgeAt, lead.routeAt ?? Infinity)
  return {
    id: lead.id,
    email: lead.email ?? undefined,
    email_key: lead.emailKey ?? undefined,
    first_name: lead.firstName ?? undefined,
    last_name: lead.lastName ?? undefined,
    company: lead.company ?? undefined,
    properties: lead.properties,
    tags: lead.tags,
    label: lead.label ?? undefined,
    label_floor: lead.labelFloor ?? undefined,
    label_held: lead.labelHeld ?? undefined,
    reasons: lead.reasons as ReasonLine[],
    fit: score.fit,
    interest_key: interestKey(score.sum, at, card.halfLifeDays),
    half_life_days: card.halfLifeDays,
    card: card.number,
    judge_at: due < Infinity ? new Date(due).toISOString() : undefined,
    owner_id: lead.ownerId ?? undefined,
    lane: lead.lane ?? undefined,
    route_at: isoOrNot(lead.routeAt),
    owned_at: isoOrNot(owned),
    status: lead.status,
    status_at: iso(lead.statusAt),
    waiting_since: isoOrNot(lead.waitingSince),
    next_step: lead.nextStep ?? undefined,
    follow_up: lead.followUp,
    next_step_at: isoOrNot(lead.nextStepAt),
    submitted_at: isoOrNot(lead.submittedAt),
    confirmed_at: isoOrNot(lead.confirmedAt),
    unsubscribed_at: isoOrNot(lead.unsubscribedAt),
    guarded_at: isoOrNot(lead.guardedAt),
    created_at: iso(lead.createdAt),
    version: lead.version,
    counted: lead.counted,
    at: iso(at),
    changed_at: isoOrNot(changed),
  }
}
type LeadRowSent = ReturnType<typeof leadRow>

const recordset = (rows: LeadRowSent[]) => fragment`jsonb_to_recordset(${written(rows)}::jsonb) as r(
  id uuid, email text, email_key text, first_name text, last_name text, company text, properties jsonb, tags text[], label text, label_floor text, label_held jsonb,
  reasons jsonb, fit int, interest_key float8, half_life_days float8, card int, judge_at timestamptz, owner_id uuid, lane text, route_at timestamptz, owned_at timestamptz, status text, status_at timestamptz, waiting_since timestamptz,
  next_step text, next_step_at timestamptz, follow_up jsonb, submitted_at timestamptz, confirmed_at timestamptz, unsubscribed_at timestamptz, guarded_at timestamptz,
  created_at timestamptz, version int, counted jsonb, at timestamptz, changed_at timestamptz)`

const newLeads = (rows: LeadRowSent[]) => fragment`
  insert into lead (id, email, email_key, first_name, last_name, company, properties, tags, label, label_floor, label_held, reasons, fit, interest_key, half_life_days, card, judge_at,
      owner_id, lane, route_at, owned_at, status, status_at, waiting_since, next_step, next_step_at, follow_up, submitted_at, confirmed_at, unsubscribed_at, guarded_at, created_at, version, counted, updated_at)
    select id, email, email_key, first_name, last_name, company, properties, tags, label, label_floor, label_held, reasons, fit, interest_key, half_life_days, card, judge_at,
      owner_id, lane, route_at, owned_at, status, status_at, waiting_since, next_step, next_step_at, follow_up, submitted_at, confirmed_at, unsubscribed_at, guarded_at, created_at, version, counted, at
    from ${recordset(rows)}`

const changedLeads = (rows: LeadRowSent[]) => fragment`
  update lead l set email = r.email, email_key = r.email_key, first_name = r.first_name, last_name = r.last_name, company = r.company,
      properties = r.properties, tags = r.tags, label = r.label, label_floor = r.label_floor, label_held = r.label_held, reasons = r.reasons, fit = r.fit, interest_key = r.interest_key,
      half_life_days = r.half_life_days, card = r.card, judge_at = r.judge_at, owner_id = r.owner_id, lane = r.lane, route_at = r.route_at, owned_at = coalesce(r.owned_at, l.owned_at), status = r.status, status_at = r.status_at,
      waiting_since = r.waiting_since, next_step = r.next_step, next_step_at = r.next_step_at, follow_up = r.follow_up, submitted_at = r.submitted_at, confirmed_at = r.confirmed_at,
      unsubscribed_at = r.unsubscribed_at, guarded_at = r.guarded_at, version = r.version, counted = r.counted, updated_at = greatest(l.updated_at, r.changed_at)
    from ${recordset(rows)} where l.id = r.id`

/** Puts leads on lists and takes them off. Lists that there are not any more are passed over. */
function writeLists(tx: Db, steps: Step[]): Statement[] {
  const rows = (lists: (step: Step) => string[]) => steps.flatMap(s => lists(s).map(list => ({ list, lead: s.lead.id, at: iso(s.at) })))
  const [on, off] = [rows(s => s.lists.on), rows(s => s.lists.off)]
  return [
    ...(off.length
      ? [
          tx`delete from list_member m using jsonb_to_recordset(${off as never}::jsonb) as r(list uuid, lead uuid) where m.list_id = r.list and m.lead_id = r.lead`,
        ]
      : []),
    ...(on.length
      ? [
          tx`insert into list_member (list_id, lead_id, added_at)
      select distinct on (r.list, r.lead) r.list, r.lead, r.at from jsonb_to_recordset(${on as never}::jsonb) as r(list uuid, lead uuid, at timestamptz)
        join list l on l.id = r.list and l.removed_at is null on conflict do nothing`,
        ]
      : []),
  ]
}

function entryRows(cases: Case[], review: ForReview[]): Fragment {
  const taken = cases.map(c => ({ i: c.intake, lead: c.lead.id as string | null, state: 'complete', reason: null as string | null }))
  const rows = [...taken, ...review.map(a => ({ i: a.intake, lead: null, state: a.state, reason: a.reason }))].map(
    ({ i, lead, state, reason }) => ({
      state,
      reason: reason ?? undefined,
      via: i.via,
      took_ms: i.tookMs ?? undefined,
      id: i.entryId,
      point_id: i.point.id,
      edition_id: i.edition.id,
      lead_id: lead ?? undefined,
      at: iso(i.at),
      answers: i.answers,
      page: i.page ?? undefined,
      referrer: i.referrer ?? undefined,
      utm: i.utm,
      visitor_id: i.visitor ?? undefined,
      idempotency_key: i.idempotencyKey ?? undefined,
      fingerprint: i.fingerprint,
      landing_id: i.landing ?? undefined,
      language: i.language === i.edition.definition.language ? undefined : i.language,
      result: i.judged ?? undefined,
    }),
  )
  return fragment`insert into entry (id, point_id, edition_id, lead_id, at, state, answers, page, referrer, utm, visitor_id, idempotency_key, fingerprint, reason, via, took_ms, landing_id, language, result)
    select id, point_id, edition_id, lead_id, at, state, answers, page, referrer, utm, visitor_id, idempotency_key, decode(fingerprint, 'hex'), reason, via, took_ms, landing_id, language, result
    from jsonb_to_recordset(${written(rows)}::jsonb) as r(id uuid, point_id uuid, edition_id uuid, lead_id uuid, at timestamptz, answers jsonb,
      page text, referrer text, utm jsonb, visitor_id uuid, idempotency_key text, fingerprint text, state text, reason text, via text, took_ms int, landing_id uuid, language text, result jsonb)`
}

/** Keeps the exact words that were agreed to. */
function insertConsents(tx: Db, cases: Case[], newId: Writing['newId']): Statement[] {
  const rows = cases.flatMap(({ intake: i, lead, consents }) =>
    consents.map(c => ({
      id: newId(i.at),
      lead_id: lead.id,
      entry_id: i.entryId,
      question: c.question,
      edition_id: i.edition.id,
      words: c.words,
      allows: c.allows,
      at: iso(i.at),
      page: i.page,
    })),
  )
  return rows.length
    ? [
        tx`insert into consent (id, lead_id, entry_id, question, edition_id, words, allows, at, page)
    select id, lead_id, entry_id, question, edition_id, words, allows, at, page from jsonb_to_recordset(${rows as never}::jsonb)
      as r(id uuid, lead_id uuid, entry_id uuid, question text, edition_id uuid, words text, allows text[], at timestamptz, page text)`,
      ]
    : []
}
