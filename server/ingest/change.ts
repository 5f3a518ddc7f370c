import { applyBatch } from '#core/leads/apply'
import { openBook, type OpenBook } from '#core/leads/open-book'
import { give } from '#core/leads/stages'
import type { Step } from '#core/leads/book'
import type { Cause, LeadCause } from '#core/leads/causes'
import { needsNothing, needsOf } from '#core/leads/needs'
import { besideLeads, besideVisitors } from '#db/beside'
import { leadsOf, lockLeads, whoseIds, type Who } from '#db/book'
import type { Tx } from '#db/client'
import { standFor } from '#db/merges'
import { writeSteps } from '#db/steps'
import { spansOf, unclaimedActivities } from '#db/trail'
import { newId } from '#server/ids'
import { ASKS_LISTS, cardOf, countingOf, rulesOf, tellTimes, TOOLS, wordedBy } from '#server/ingest/batch-context'
import { allLocked } from '#server/ingest/locked'
import { desksFor } from '#server/ingest/turns'
import type { Ruleset } from '#server/ruleset'
import { activitiesByVisitor } from '#server/trail/activities'

/** A batch that is open: its leads are locked and read; causes may be worked out from them, and are applied and written together. */
export interface OpenBatch {
  book: OpenBook['book']
  join: OpenBook['join']
  /** Applies causes and writes what came of them. @param before what is still to be said before it is written @returns a step for each */
  apply: (causes: Cause[], before?: (steps: Step[]) => void) => Promise<Step[]>
}

export interface About extends Who {
  /** Browsers whose activities and spans count. */
  visitors?: string[]
  /** Milliseconds since 1970, the earliest of the causes. */
  at: number
  /** Whether members are mailed what they are told; of an archive they are not. */
  mails?: boolean
}

/** Locks some leads and reads all that judging takes: a fixed number of statements, in one pipeline, whatever the number of leads. */
export async function openBatch(tx: Tx, ruleset: Ruleset, { visitors = [], at, mails = true, ...who }: About): Promise<OpenBatch> {
  const context = openBook(ruleset.needs, newId)
  const asksBeside = !needsNothing(ruleset.needs)
  const none = new Map<never, never>()
  const [locked, found, rows, spans, ofLeads, ofVisitors] = await Promise.all([
    lockLeads(tx, who),
    leadsOf(tx, who),
    visitors.length ? unclaimedActivities(tx, visitors) : [],
    visitors.length ? spansOf(tx, visitors) : none,
    asksBeside ? besideLeads(tx, whoseIds(tx, who), ruleset.needs, at) : none,
    asksBeside && visitors.length ? besideVisitors(tx, visitors, ruleset.needs, at) : none,
  ])
  allLocked(locked, found.leads)
  const earned = activitiesByVisitor(rows)
  context.learn({ ...found, needs: ruleset.needs, ofLeads, ofVisitors, activities: earned, spans })

  async function apply(causes: Cause[], before?: (steps: Step[]) => void): Promise<Step[]> {
    if (!causes.length) return []
    const rules = rulesOf(ruleset)
    const steps = applyBatch(rules, TOOLS, context.book, causes)
    const desks = await desksFor(tx, steps, rules.members)
    for (const step of steps) give(rules, TOOLS, step, desks)
    before?.(steps)
    const writing = {
      steps,
      review: [],
      mails,
      tellAt: tellTimes(ruleset),
      worded: wordedBy(ruleset),
      rules: ruleset.rules,
      turnsTaken: desks.taken(),
      card: cardOf(ruleset),
      counting: countingOf(ruleset),
      joined: context.joined.splice(0),
      at,
      newId,
    }
    await Promise.all(writeSteps(tx, writing))
    return steps
  }
  return { book: context.book, join: context.join, apply }
}

/** A ruleset under which it is known on which lists leads are, for who is put on some or taken from them. */
export const withLists = (ruleset: Ruleset): Ruleset => ({
  ...ruleset,
  needs: needsOf([ASKS_LISTS], { beside: new Set(ruleset.needs.beside), tests: ruleset.needs.tests }),
})

/**
 * Applies causes to leads that are there, or that went into others; one that is gone is passed over.
 * @param mails whether members are mailed what they are told
 * @returns a step for each whose lead is there; of those that went into others last
 */
export async function changeLeads(tx: Tx, ruleset: Ruleset, causes: LeadCause[], mails = true): Promise<Step[]> {
  if (!causes.length) return []
  const ids = [...new Set(causes.map(c => c.lead))]
  const batch = await openBatch(tx, causes.some(c => c.kind === 'lists') ? withLists(ruleset) : ruleset, {
    ids,
    at: Math.min(...causes.map(c => c.at)),
    mails,
  })
  const [there, others] = [causes.filter(c => batch.book.byId.has(c.lead)), causes.filter(c => !batch.book.byId.has(c.lead))]
  const steps = await batch.apply(there)
  if (!others.length) return steps
  // Who went into another meanwhile is meant by it.
  const stands = await standFor(
    tx,
    others.map(c => c.lead),
  )
  return [
    ...steps,
    ...(await changeLeads(
      tx,
      ruleset,
      others.flatMap(c => (stands.has(c.lead) ? [{ ...c, lead: stands.get(c.lead)! }] : [])),
      mails,
    )),
  ]
}
