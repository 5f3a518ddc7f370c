import type { ForReview, Case, Intake } from '#core/capture/case'
import { work } from '#core/capture/steps'
import { lockTurns, writeCases } from '#db/capture'
import type { Commit } from '#db/pipelined'
import type { Tx } from '#db/client'
import { openBatch, twin, type Earlier } from '#server/capture/batch-context'
import { newId } from '#server/ids'
import type { Ruleset } from '#server/ruleset'

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
  /** Whether the turns are locked already. */
  locked?: boolean
  /** Asked once: entries that came meanwhile and go with these. */
  more?: () => Promise<Intake[]>
  /** Sent along with the last statements, where the transaction ends with them. */
  commit?: Commit
}

/**
 * The path of entries, from guarded to announced, in the transaction at hand:
 * identify → record → score → label → route → announce (`core/capture/steps`).
 * Entries that arrive together share it, and the time: the database looks up what the first of them have to know while
 * the others arrive, and writes what came of the first while the others are worked on.
 * @returns what came of each, in their order, and of those that came meanwhile behind them
 */
export async function accept(tx: Tx, ruleset: Ruleset, first: Intake[], how: How): Promise<Accepted[]> {
  const { batch, ask, learn, before, twins, counted } = openBatch(tx, ruleset)
  const lock = how.locked ? null : heard(lockTurns(tx).execute())
  const asked = [heard(ask(first))]
  const late = await how.more?.() ?? []
  if (late.length) asked.push(heard(ask(late)))
  const parts = late.length ? [first, late] : halves(first)

  const results: Accepted[] = []
  const rules = [...new Set([...ruleset.rules, ...[...first, ...late].flatMap(i => i.known?.rule ?? [])])]
  const at = new Date(Math.max(...first.map(i => i.at), ...late.map(i => i.at)))
  const nowKnown = new Map<string, Earlier>()
  const sent: PromiseLike<unknown>[] = []

  for (const [n, part] of parts.entries()) {
    const isLast = n === parts.length - 1
    await lock
    if (asked[n]) await learn(await asked[n])
    const cases: Case[] = []
    const review: ForReview[] = []
    for (const intake of part) {
      const key = intake.idempotencyKey && `${intake.point.id} ${intake.idempotencyKey}`
      const earlier = key ? before.get(key) ?? nowKnown.get(key) : undefined
      if (earlier) {
        results.push(again(earlier, intake))
        continue
      }
      const same = twins.get(twin(intake))
      if (same) {
        results.push({ kind: 'repeated', ...same })
        continue
      }
      const now = work(batch, intake)
      if ('closed' in now) {
        results.push({ kind: 'closed', text: now.closed })
        continue
      }
      const told = { entry: intake.entryId, thanks: intake.edition.definition.thanks }
      if ('lead' in now) cases.push(now)
      else review.push(now)
      if (key) nowKnown.set(key, { ...told, fingerprint: intake.fingerprint, review: 'lead' in now ? null : now })
      if ('lead' in now) twins.set(twin(intake), told)
      results.push('lead' in now ? { kind: 'accepted', ...told, now } : { kind: 'to review', ...told, review: now })
    }
    // Whose turn it was then is told with the last of them.
    const turnsGiven = isLast ? counted() : []
    if (cases.length || review.length || turnsGiven.length) {
      for (const statement of writeCases(tx, { cases, review, mails: how.mails, rules, turnsGiven, at, newId })) sent.push(heard(statement.execute()))
    }
    // What was sent leaves now; the database works on it while we go on with the rest.
    if (!isLast) await new Promise(done => setImmediate(done))
  }
  await Promise.all([...sent, how.commit?.()])
  return results
}

/** Something that is waited for later: should it fail before that, somebody listens already. */
function heard<P extends PromiseLike<unknown>>(promise: P): P {
  promise.then(undefined, () => {})
  return promise
}

/** So many entries are worked on in two parts. */
const MANY = 8
const halves = (all: Intake[]): Intake[][] => all.length < MANY ? [all] : [all.slice(0, Math.ceil(all.length / 2)), all.slice(Math.ceil(all.length / 2))]

/** The same key again gives the same answer, also where that was a refusal. */
function again({ entry, thanks, fingerprint, review }: Earlier, intake: Intake): Accepted {
  if (fingerprint !== intake.fingerprint) return { kind: 'key reused' }
  return review ? { kind: 'to review', entry, thanks, review: { intake, state: review.state, reason: review.reason } } : { kind: 'repeated', entry, thanks }
}
