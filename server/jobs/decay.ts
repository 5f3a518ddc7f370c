import type { Sql, Tx } from '#db/client'
import { stalestLeads } from '#db/book'
import { changeLeads } from '#server/ingest/change'
import { readRuleset, type Ruleset } from '#server/ruleset'

export const BATCH = 200

/**
 * Works out anew the scores that are older than an age, so that lists, filters
 * and labels follow the fading.
 * @returns the leads whose label changed
 */
export async function decayScores(sql: Sql, now: number, olderThanMs: number): Promise<string[]> {
  const ruleset = await readRuleset(sql)
  const changed: string[] = []
  for (;;) {
    const done = await sql.begin(tx => decaySome(tx, ruleset, now, olderThanMs))
    changed.push(...done.changed)
    if (done.leads < BATCH) return changed
  }
}

/** Works out one batch of scores anew, in the transaction at hand. */
export async function decaySome(tx: Tx, ruleset: Ruleset, now: number, olderThanMs: number): Promise<{ leads: number; changed: string[] }> {
  const leads = await stalestLeads(tx, new Date(now - olderThanMs), BATCH)
  const steps = await changeLeads(tx, ruleset, leads.map(lead => ({ kind: 'due', at: now, by: null, lead })))
  return { leads: leads.length, changed: steps.filter(s => s.changed).map(s => s.lead.id) }
}
