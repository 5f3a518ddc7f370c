import { inTongue } from '#core/points/translations'
import { shutText } from '#core/points/refusals'
import { sayIn } from '#core/languages/say'
import { askedBy } from '#core/actions/registry'
import type { Intake } from '#core/capture/intake'
import type { Case, ForReview } from '#core/capture/case'
import { guard, settleEntry } from '#core/capture/steps'
import { applyBatch } from '#core/leads/apply'
import { openBook } from '#core/leads/open-book'
import { give } from '#core/leads/stages'
import { needsNothing, needsOf, type Needs } from '#core/leads/needs'
import { besideLeads, besideVisitors } from '#db/beside'
import { entriesKnown, lockLeads, lockPoints, whoseIds } from '#db/book'
import type { Tx } from '#db/client'
import type { Commit } from '#db/pipelined'
import { writeSteps } from '#db/steps'
import { spansOf, unclaimedActivities } from '#db/trail'
import { newId } from '#server/ids'
import { cardOf, countingOf, rulesOf, tellTimes, TOOLS, wordedBy } from '#server/ingest/batch-context'
import { allLocked } from '#server/ingest/locked'
import { desksFor } from '#server/ingest/turns'
import type { Ruleset } from '#server/ruleset'
import { activitiesByVisitor } from '#server/trail/activities'

/** What came of an entry. */
export type Accepted =
  | { kind: 'accepted'; entry: string; thanks: string; now: Case }
  | { kind: 'repeated'; entry: string; thanks: string }
  | { kind: 'to review'; entry: string; thanks: string; review: ForReview }
  | { kind: 'key reused' }
  | { kind: 'closed'; text: string }

export interface How {
  /** Whether members are mailed, which they are not about the past. */
  mails: boolean
  /** Only to see what would come of it: nothing is locked, and nothing is written. */
  rehearsed?: boolean
  /** Asked once: entries that came meanwhile and go with these. */
  more?: () => Promise<Intake[]>
  /** Sent along with the last statements, where the transaction ends with them. */
  commit?: Commit
}

/** What came of an entry under a key that comes again. */
interface Earlier {
  entry: string
  thanks: string
  fingerprint: string
  review: Pick<ForReview, 'state' | 'reason'> | null
}

/** The same answers to the same point, and so by the same person: within a minute they are one entry, pressed twice. */
const twin = (i: Pick<Intake, 'fingerprint'> & { point: { id: string } }) => `${i.point.id} ${i.fingerprint}`
const TWIN_MS = 60_000

/**
 * The path of entries, from guarded to announced, in the transaction at hand. Entries that arrive together share it, and the
 * time: the database looks up what the first of them have to know while the others arrive, and writes what came of the first
 * while the others are worked on. Locks are taken in the order that all keep: limited points, leads, lanes.
 * @returns what came of each, in their order, and of those that came meanwhile behind them
 */
export async function accept(tx: Tx, ruleset: Ruleset, first: Intake[], how: How): Promise<Accepted[]> {
  const rules = rulesOf(ruleset)
  const context = openBook(ruleset.needs, newId)
  const { book } = context
  const asked = [heard(ask(tx, ruleset, first, how))]
  const late = (await how.more?.()) ?? []
  if (late.length) asked.push(heard(ask(tx, ruleset, late, how)))
  const parts = late.length ? [first, late] : halves(first)

  const earlier = new Map<string, Earlier>()
  const twins = new Map<string, { entry: string; thanks: string }>()
  const results: Accepted[] = []
  const worked: { cases: Case[]; review: ForReview[] }[] = []

  for (const [n, part] of parts.entries()) {
    if (asked[n]) lay(await asked[n])
    const done = { cases: [] as Case[], review: [] as ForReview[] }
    for (const intake of part) results.push(one(intake, done))
    worked.push(done)
  }

  /** Puts what was asked for where it is looked for. */
  function lay({ known, loaded }: Awaited<ReturnType<typeof ask>>): void {
    for (const e of known.entries) {
      const review = e.state !== 'complete' && e.reason ? { state: e.state, reason: e.reason } : null
      earlier.set(`${e.pointId} ${e.idempotencyKey}`, { entry: e.id, thanks: e.thanks, fingerprint: e.fingerprint, review })
    }
    for (const e of known.lately) {
      const key = twin({ point: { id: e.pointId }, fingerprint: e.fingerprint })
      if (!twins.has(key)) twins.set(key, { entry: e.id, thanks: e.thanks })
    }
    for (const { pointId, entries } of known.taken) if (!book.taken.has(pointId)) book.taken.set(pointId, entries)
    context.learn(loaded)
  }

  function one(intake: Intake, done: (typeof worked)[number]): Accepted {
    const key = intake.idempotencyKey && `${intake.point.id} ${intake.idempotencyKey}`
    const before = key ? earlier.get(key) : undefined
    if (before) return again(before, intake)
    const same = twins.get(twin(intake))
    if (same) return { kind: 'repeated', ...same }
    const told = { entry: intake.entryId, thanks: inTongue(intake.edition.definition, intake.language).thanks }
    const stopped = guard(rules, book, intake)
    if (stopped && 'closed' in stopped)
      return {
        kind: 'closed',
        text: shutText(inTongue(intake.edition.definition, intake.language).closing, stopped.closed, sayIn(intake.language)),
      }
    if (key) earlier.set(key, { ...told, fingerprint: intake.fingerprint, review: stopped })
    if (stopped) {
      done.review.push(stopped)
      return { kind: 'to review', ...told, review: stopped }
    }
    const [step] = applyBatch(rules, TOOLS, book, [{ kind: 'entry', at: intake.at, by: null, intake }])
    const now = step as Case
    if (intake.visitor) context.join(intake.visitor, now.lead.id, intake.at)
    done.cases.push(now)
    twins.set(twin(intake), told)
    return { kind: 'accepted', ...told, now }
  }

  const desks = await desksFor(
    tx,
    worked.flatMap(w => w.cases),
    rules.members,
    how.rehearsed,
  )
  const keys = [...new Set([...ruleset.rules, ...[...first, ...late].flatMap(i => i.known?.rule ?? [])])]
  const at = Math.max(...first.map(i => i.at), ...late.map(i => i.at))
  const sent: PromiseLike<unknown>[] = []
  for (const [n, { cases, review }] of worked.entries()) {
    for (const now of cases) {
      give(rules, TOOLS, now, desks)
      settleEntry(rules, TOOLS, book, now)
    }
    const isLast = n === worked.length - 1
    // Whose turn it was, and whose browsers are, is told with the last of them.
    const [turnsTaken, joined] = isLast ? [desks.taken(), context.joined] : [[], []]
    if (!how.rehearsed && (cases.length || review.length || turnsTaken.length || joined.length)) {
      const writing = {
        steps: cases,
        review,
        mails: how.mails,
        tellAt: tellTimes(ruleset),
        worded: wordedBy(ruleset),
        rules: keys,
        turnsTaken,
        card: cardOf(ruleset),
        counting: countingOf(ruleset),
        joined,
        at,
        newId,
      }
      for (const statement of writeSteps(tx, writing)) sent.push(heard(statement.execute()))
    }
    // What was sent leaves now; the database works on it while we go on with the rest.
    if (!isLast) await new Promise(done => setImmediate(done))
  }
  await Promise.all([...sent, how.commit?.()])
  return results
}

/** Asks for what some entries have to know, in one pipeline, and locks what they may change. */
async function ask(tx: Tx, ruleset: Ruleset, intakes: Intake[], how: How) {
  const keys = intakes.flatMap(i => (i.idempotencyKey ? [{ point: i.point.id, key: i.idempotencyKey }] : []))
  const visitors = [...new Set(intakes.flatMap(i => i.visitor ?? []))]
  const limited = [...new Set(intakes.filter(i => i.edition.definition.closing.entries !== null).map(i => i.point.id))]
  const who = { emails: [...new Set(intakes.flatMap(i => i.email?.key ?? []))], persons: intakes.flatMap(i => i.known ?? []) }
  const [from, until] = [Math.min(...intakes.map(i => i.at)), Math.max(...intakes.map(i => i.at))]
  const needs = needsFor(ruleset, intakes)
  const asksBeside = !needsNothing(needs)
  const none = new Map<never, never>()
  const [, locked, known, rows, spans, ofLeads, ofVisitors] = await Promise.all([
    limited.length && !how.rehearsed ? lockPoints(tx, limited) : null,
    how.rehearsed ? null : lockLeads(tx, who),
    entriesKnown(tx, { keys, ...who, limited, from: new Date(from - TWIN_MS), until: new Date(until) }),
    visitors.length ? unclaimedActivities(tx, visitors) : [],
    visitors.length ? spansOf(tx, visitors) : none,
    asksBeside ? besideLeads(tx, whoseIds(tx, who), needs, from) : none,
    asksBeside && visitors.length ? besideVisitors(tx, visitors, needs, from) : none,
  ])
  if (locked) allLocked(locked, known.leads)
  return {
    known,
    loaded: { leads: known.leads, keys: known.keys, needs, ofLeads, ofVisitors, activities: activitiesByVisitor(rows), spans },
  }
}

/** What judging takes beside the leads: for scoring and routing, and for what the points of these entries ask. */
function needsFor(ruleset: Ruleset, intakes: Intake[]): Needs {
  const { whole } = rulesOf(ruleset)
  const asked = intakes.flatMap(({ edition: { definition: d } }) =>
    [...askedBy(d.actions), ...(d.guards.hold && d.guards.when ? [d.guards.when] : [])].map(whole),
  )
  return asked.length ? needsOf(asked, { beside: new Set(ruleset.needs.beside), tests: new Map(ruleset.needs.tests) }) : ruleset.needs
}

/** Something that is waited for later: should it fail before that, somebody listens already. */
function heard<P extends PromiseLike<unknown>>(promise: P): P {
  promise.then(undefined, () => {})
  return promise
}

/** So many entries are worked on in two parts. */
const MANY = 8
const halves = (all: Intake[]): Intake[][] =>
  all.length < MANY ? [all] : [all.slice(0, Math.ceil(all.length / 2)), all.slice(Math.ceil(all.length / 2))]

/** The same key again gives the same answer, also where that was a refusal. */
function again({ entry, thanks, fingerprint, review }: Earlier, intake: Intake): Accepted {
  if (fingerprint !== intake.fingerprint) return { kind: 'key reused' }
  return review
    ? { kind: 'to review', entry, thanks, review: { intake, state: review.state, reason: review.reason } }
    : { kind: 'repeated', entry, thanks }
}
