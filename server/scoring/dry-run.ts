import type { Condition } from '#core/conditions/condition'
import { judge } from '#core/conditions/judge'
import { subjectOf } from '#core/leads/about'
import type { Beside } from '#core/leads/beside'
import type { LeadState } from '#core/leads/lead'
import { needsNothing, needsOf, nothingBeside, type Needs } from '#core/leads/needs'
import { newTally, weighed, type Weighed, type Weigher } from '#core/scoring/dry-run'
import { totalsAt } from '#core/scoring/lines'
import { asksOtherwise } from '#core/scoring/score'
import { readScorecard, type Scorecard } from '#core/scoring/scorecard'
import { expanded } from '#core/segments/segment'
import { besideLeads } from '#db/beside'
import {
  countAmong,
  emptyDryRun,
  endDryRun,
  failDryRun,
  keepOutcomes,
  leadsToWeigh,
  setTotal,
  takeDryRun,
  type DryRunRow,
  type LeadToWeigh,
  type Outcome,
} from '#db/dry-run'
import type { Sql } from '#db/client'
import { whyItFailed } from '#server/log'
import { asApplied, readRuleset, type Ruleset } from '#server/ruleset'
import { anewFor } from '#server/scoring/deeds'

/** So many leads are read at once, while the ones before are weighed. */
const AT_ONCE = 1000

/** All that weighing by a scorecard takes: the card as it is applied, what it asks for, and which of its rules earn anew. */
export interface Weighing extends Weigher {
  needs: Needs
  anew: ReadonlySet<string>
  now: number
}

/** A card that is weighed by, in the place of the one that is live. */
export function weighingBy(ruleset: Ruleset, definition: Scorecard, now: number): Weighing {
  const card = asApplied(definition, ruleset.segments)
  return {
    card,
    labels: ruleset.labelOrder,
    needs: needsOf(card.fit.map(rule => rule.when)),
    anew: asksOtherwise(ruleset.scorecard, card),
    now,
  }
}

/** What a card would make of some leads, in their order; a fixed number of statements. */
export async function weigh(db: Sql, by: Weighing, leads: LeadState[]): Promise<Weighed[]> {
  const ids = leads.map(l => l.id)
  const [beside, anew] = await Promise.all([
    needsNothing(by.needs) ? new Map<string, Beside>() : besideLeads(db, db`select unnest(${ids}::uuid[]) as id`, by.needs, by.now),
    anewFor(db, ids, by.card, by.anew),
  ])
  const nothing = nothingBeside(by.needs)
  return leads.map(lead => {
    const about = { lead, beside: beside.get(lead.id) ?? nothing, now: by.now, halfLifeDays: by.card.halfLifeDays }
    const subject = subjectOf(about)
    return weighed(by, lead, condition => judge(condition, subject), anew(lead.id), by.now)
  })
}

/** The condition of those that a run is about, segments written out; null: it has none. A segment that was removed says so. */
function conditionOf(run: DryRunRow, ruleset: Ruleset): Condition | null {
  if (!run.who.segment) return null
  const condition = ruleset.segments.get(run.who.segment)
  if (!condition) throw new RangeError('The segment was removed meanwhile. Choose another and run it again.')
  return expanded(condition, ruleset.segments)
}

/**
 * Works on the dry run that waits, if one does; whoever fell silent is taken over from, from the beginning.
 * @param tell called whenever there is something new to see
 * @returns whether there was one
 */
export async function workDryRun(sql: Sql, tell: () => void, mayGoOn: () => boolean = () => true): Promise<boolean> {
  const run = await takeDryRun(sql)
  if (!run) return false
  tell()
  try {
    await runThrough(sql, run, tell, mayGoOn)
  } catch (error) {
    await failDryRun(sql, run.id, whyItFailed(error))
  }
  tell()
  return true
}

async function runThrough(sql: Sql, run: DryRunRow, tell: () => void, mayGoOn: () => boolean): Promise<void> {
  await emptyDryRun(sql)
  const ruleset = await readRuleset(sql)
  const definition = readScorecard(run.definition).scorecard
  if (!definition) throw new RangeError('The scorecard cannot be read. Take an earlier edition as the working copy.')
  const now = run.at.getTime()
  const condition = conditionOf(run, ruleset)
  await setTotal(sql, run.id, await countAmong(sql, run.who, condition, run.at))
  const by = weighingBy(ruleset, definition, now)
  const live: Weigher = { card: ruleset.scorecard, labels: ruleset.labelOrder }
  const tally = newTally(live, by, new Set(ruleset.labels.flatMap(l => (l.qualified ? l.key : []))), now)
  const place = new Map<string | null, number>([[null, 0], ...ruleset.labelOrder.map((key, i) => [key, i + 1] as const)])
  const placeOf = (label: string | null) => place.get(label) ?? 0
  const page = (after: string | null) => leadsToWeigh(sql, run.who, condition, run.at, after, AT_ONCE)

  let next = page(null)
  /** What came of the page before is written while this one is weighed. */
  let keeping = Promise.resolve(true)
  for (;;) {
    const leads = await next
    if (!leads.length || !mayGoOn()) break
    next = page(leads.at(-1)!.id)
    next.catch(() => {})
    const outcomes = await weigh(sql, by, leads)
    leads.forEach((lead, i) => tally.add(lead, outcomes[i]!))
    if (!(await keeping)) return void (await next)
    keeping = sql.begin(tx =>
      keepOutcomes(
        tx,
        run.id,
        leads.map((lead, i) => outcomeOf(lead, outcomes[i]!, placeOf, live, now)),
      ),
    )
    keeping.catch(() => {})
    tell()
  }
  if ((await keeping) && mayGoOn()) await endDryRun(sql, run.id, tally.result())
}

function outcomeOf(lead: LeadToWeigh, would: Weighed, placeOf: (label: string | null) => number, live: Weigher, now: number): Outcome {
  const was = totalsAt(lead.reasons, now, live.card.halfLifeDays)
  return {
    lead: lead.id,
    was: placeOf(lead.label),
    would: placeOf(would.label),
    fitWas: was.fit,
    interestWas: was.interest,
    fit: would.fit,
    interest: would.interest,
  }
}
