import { randomUUID } from 'node:crypto'
import { parseEmail } from '#core/identity/email'
import { entryActivity } from '#core/scoring/activities'
import { mergeLines, splitFrom } from '#core/leads/merge'
import { nameOf, type LeadState } from '#core/leads/lead'
import type { Judged } from '#core/quiz/judge'
import { leadState, lockLeads } from '#db/book'
import type { Sql, Tx } from '#db/client'
import { browsersActive, entriesSince, giveBack, keepMerge, keysOfMerge, lockMerge, mergesSince, takeIn } from '#db/merges'
import { keepApart } from '#db/likeness'
import { activitiesOfLead } from '#db/trail'
import { allLocked } from '#server/ingest/locked'
import { openBatch, withLists } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { trailActivity } from '#server/trail/activities'

export interface Asked {
  kept: string
  gone: string
  /** What is taken from the one that goes, where both say something: properties by their keys, `owner`, `status`, `next_step`. */
  take: string[]
  by: string
}

/**
 * Joins two leads that are one person: all that hangs on one is handed over to the other.
 * @returns the id by which they are taken apart again
 * @throws 404, 409 when one of them is not there any more
 */
export async function merge(sql: Sql, ruleset: Ruleset, { kept, gone, take, by }: Asked): Promise<string> {
  if (kept === gone) throw problem(422, 'A lead cannot be joined with itself.')
  const id = randomUUID()
  await retried(() =>
    sql.begin(async tx => {
      const [first, second] = await bothLocked(tx, kept, gone)
      const at = new Date()
      const moved = await takeIn(tx, { id, kept, gone, at, by })
      const before = structuredClone(first)
      const { book, apply } = await openBatch(tx, withLists(ruleset), { ids: [kept], at: at.getTime() })
      const lead = book.byId.get(kept)!
      const { added } = mergeLines(ruleset.scorecard, lead, second)
      const cause = { kind: 'merged' as const, at: at.getTime(), by, lead: kept, gone: second, take, lists: moved.lists.map(l => l.list) }
      const [step] = await apply([cause])
      await keepMerge(tx, id, moved, { before, after: structuredClone(lead), added, lists: step!.lists.on })
    }),
  )
  return id
}

async function bothLocked(tx: Tx, kept: string, gone: string): Promise<[LeadState, LeadState]> {
  const locked = lockLeads(tx, { ids: [kept, gone] })
  const [rows, first, second] = await Promise.all([locked, leadState(tx, kept), leadState(tx, gone)])
  if (!first || !second) throw problem(409, 'One of the two is not there any more: somebody else has joined them, or it was erased.')
  allLocked(rows, [first, second])
  return [first, second]
}

/** What came of taking two leads apart. */
export interface Apart {
  kept: string
  gone: string
}

/**
 * Takes apart what was joined: the one that went comes back with all that it had, and with what came since under its address or from
 * its browsers. What was changed since on the one that was kept stays there.
 * @throws 404 when it is apart already; 409 when the one it went into has gone into another, or its address is somebody else's now
 */
export async function split(sql: Sql, ruleset: Ruleset, id: string, by: string): Promise<Apart> {
  try {
    return await retried(() => sql.begin(tx => splitIn(tx, ruleset, id, by)))
  } catch (error) {
    if ((error as { code?: string }).code !== '23505') throw error
    throw problem(409, 'Another lead has the address by now, so it cannot come back. Change the address of that one first.')
  }
}

async function splitIn(tx: Tx, ruleset: Ruleset, id: string, by: string): Promise<Apart> {
  const found = await lockMerge(tx, id)
  if (!found) throw problem(404, 'They are apart already.')
  const { kept, gone, root, states, moved } = found
  if (root !== kept) throw problem(409, 'They were joined with somebody else since. Take that apart first.')
  await lockLeads(tx, { ids: [kept] })
  const at = new Date()
  const sent = await sentSince(tx, kept, id, found.at)
  const roams = await browsersActive(tx, moved.browsers, found.at)
  await giveBack(
    tx,
    found,
    sent.map(s => s.id),
  )
  const { book, apply } = await openBatch(tx, withLists(ruleset), { ids: [kept, gone], at: at.getTime() })
  const [one, other] = [book.byId.get(kept)!, book.byId.get(gone)!]
  const trailOf = async (lead: string) => (roams ? (await activitiesOfLead(tx, lead)).map(trailActivity) : null)
  const { after } = states
  for (const later of await mergesSince(tx, kept, found.at)) {
    for (const state of [later.states.before, later.states.after]) splitFrom(state, states)
    await keepMerge(tx, later.id, later.moved, later.states)
  }
  // Whoever was answered meanwhile waits no more.
  const waited = one.waitingSince === after.waitingSince ? other.waitingSince : null
  const waitingSince = one.waitingSince === null ? null : (waited ?? sent[0]?.activity.at ?? null)
  const cause = { at: at.getTime(), by }
  await apply([
    {
      ...cause,
      kind: 'split',
      lead: kept,
      other: { id: gone, name: nameOf(other) },
      states,
      without: sent.map(s => s.activity.at),
      trail: await trailOf(kept),
    },
    {
      ...cause,
      kind: 'restored',
      lead: gone,
      other: { id: kept, name: nameOf(one) },
      lists: moved.lists.map(l => l.list).filter(list => ruleset.lists.some(l => l.id === list)),
      since: sent.map(s => s.activity),
      trail: await trailOf(gone),
      waitingSince,
      stepIsDone: after.nextStep !== null && after.nextStep === other.nextStep && one.nextStep !== after.nextStep,
    },
  ])
  await keepApart(tx, kept, gone, by, at)
  return { kept, gone }
}

/** What came since under an address of the one that went. */
async function sentSince(tx: Tx, kept: string, id: string, since: Date) {
  const { emails } = await keysOfMerge(tx, id)
  const entries = await entriesSince(tx, kept, since)
  return entries.flatMap(({ id: entry, at, key, name, answers, result, questions }) => {
    const question = questions.find(q => q.property === 'email')
    const said = question && parseEmail([answers[question.key] ?? ''].flat()[0] ?? '')
    return said && emails.includes(said.key)
      ? [{ id: entry, activity: entryActivity(at.getTime(), { key, name }, answers, result as Judged | null) }]
      : []
  })
}
