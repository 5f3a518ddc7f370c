import type { Intake } from '#core/capture/intake'
import { openLane } from '#db/pipelined'
import { noticesOf } from '#db/steps'
import { accept, type Accepted } from '#server/ingest/entries'
import { microBatcher, gotInTheWay } from '#server/ingest/micro-batcher'
import { isAway, PROMPT } from '#db/client'
import { database } from '#server/database'
import { sayTogether } from '#server/live/say'
import { rulesetCache } from '#server/ruleset'
import { setting } from '#server/settings'

/**
 * Batches of entries go through a connection of their own. Its few statements reach
 * rows by key, and are planned once: a plan made while a table was small must not read all of
 * it when it has grown.
 */
const BY_KEY = { plan_cache_mode: 'force_generic_plan', jit: 'off', enable_seqscan: 'off', enable_hashjoin: 'off', enable_mergejoin: 'off' }

/** Screens are told at most so often of entries; the first after a quiet time is told at once. */
const TELL_MS = 40

/** A batch takes some ms; one that takes so long waits for somebody who does not come. */
const BATCH_MS = 6_000
/** Whoever waits longer has been told to try again. */
export const PATIENCE_MS = 9_000

/** The application's one way in for entries, with what it keeps in memory. */
export function createApplicationContext() {
  const sql = database()
  const cache = rulesetCache(sql)
  const lane = openLane(setting('CAVLIN_DATABASE'), { name: 'cavlin entries', settings: BY_KEY, patience: PROMPT }, BATCH_MS)
  const tell = sayTogether(sql, TELL_MS)
  const together = microBatcher<Intake, Accepted>(
    async (intakes, more) => {
      const ruleset = await cache.ruleset()
      const results = await lane.run((tx, commit) => accept(tx, ruleset, intakes, { mails: true, more, commit }))
      const cases = results.flatMap(r => (r.kind === 'accepted' ? [r.now] : []))
      const held = results.flatMap(r =>
        r.kind === 'to review' && r.review.state === 'held' ? r.review.intake.edition.definition.guards.approvers : [],
      )
      if (results.some(r => r.kind === 'to review')) tell({ review: true, ...(held.length && { notices: held }) })
      if (cases.length) tell({ leads: cases.map(c => c.lead.id), notices: cases.flatMap(c => noticesOf(c).map(n => n.to)), jobs: true })
      return results
    },
    { mayRepeat: gotInTheWay, isHopeless: isAway, patience: PATIENCE_MS },
  )
  return { accept: together, cache, sql }
}
export type ApplicationContext = ReturnType<typeof createApplicationContext>

let context: ApplicationContext | undefined
export const applicationContext = (): ApplicationContext => (context ??= createApplicationContext())
