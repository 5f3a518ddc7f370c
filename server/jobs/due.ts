import type { LeadCause } from '#core/leads/causes'
import { dueLeads, leadsBehind } from '#db/book'
import type { Sql, Tx } from '#db/client'
import { leadsOfGone } from '#db/statuses'
import { cardTakenOver, finishTakeover, liveScorecard, moveTakeover, takeoverOf } from '#db/scoring'
import { asksOtherwise } from '#core/scoring/score'
import { changeLeads } from '#server/ingest/change'
import { anewFor } from '#server/scoring/deeds'
import { retried } from '#server/ingest/micro-batcher'
import { readRuleset, type Ruleset } from '#server/ruleset'

/** So many leads at once, and no more than so many times a second: entries come first. */
const AT_ONCE = 200
const PAUSE_MS = 200

const pause = () => new Promise(done => setTimeout(done, PAUSE_MS))
const changedIn = (steps: Awaited<ReturnType<typeof changeLeads>>) => steps.filter(s => s.changed).map(s => s.lead.id)

/**
 * Judges the leads of which something is due: interest that faded below a label's line, a day that ended.
 * @param tell called with those that changed, and the members who are told something, as soon as it is written
 * @returns how many were judged
 */
export async function judgeDue(
  sql: Sql,
  now: () => number,
  tell: (leads: string[], members: string[]) => Promise<void> = async () => {},
): Promise<number> {
  let ruleset: Ruleset | null = null
  for (let judged = 0; ;) {
    const due = await dueLeads(sql, new Date(now()), AT_ONCE)
    if (!due.length) return judged
    const rules = (ruleset ??= await readRuleset(sql))
    const at = now()
    const causes = due.map(({ id }): LeadCause => ({ kind: 'due', at, by: null, lead: id }))
    const steps = await retried(() => sql.begin(tx => changeLeads(tx, rules, causes)))
    const [changed, members] = [changedIn(steps), [...new Set(steps.flatMap(s => s.notices.map(n => n.to)))]]
    if (changed.length || members.length) await tell(changed, members)
    judged += due.length
    if (due.length < AT_ONCE) return judged
    await pause()
  }
}

/**
 * What was due until a moment of the past, each at its own moment: how an archive is lived through.
 * @returns whether anything was
 */
export async function judgeDuePast(tx: Tx, ruleset: Ruleset, until: number): Promise<boolean> {
  const due = await dueLeads(tx, new Date(until), AT_ONCE)
  await changeLeads(
    tx,
    ruleset,
    due.map(row => ({ kind: 'due', at: row.due.getTime(), by: null, lead: row.id })),
    false,
  )
  return due.length > 0
}

/**
 * Lets the live scorecard take effect on all leads, in the order of their ids: labels and scores, and nobody is told. Whoever is
 * interrupted goes on where it was; of a newer scorecard it begins anew.
 * @param tell called with those whose label changed
 * @returns how many leads were judged
 */
export async function takeOver(sql: Sql, tell: (leads: string[]) => Promise<void> = async () => {}): Promise<number> {
  for (let judged = 0; ;) {
    const card = await liveScorecard(sql)
    if (!card || (await takeoverOf(sql, card.number))?.finishedAt) return judged
    const ruleset = await readRuleset(sql)
    const piece = await retried(() => sql.begin(tx => takeOverSome(tx, ruleset, card.number)))
    if (piece.changed.length) await tell(piece.changed)
    judged += piece.leads
    if (piece.leads) await pause()
  }
}

/** One piece of a takeover, in the transaction at hand. */
export async function takeOverSome(tx: Tx, ruleset: Ruleset, card: number, at = Date.now()): Promise<{ leads: number; changed: string[] }> {
  const position = (await takeoverOf(tx, card))?.position ?? null
  const leads = await leadsBehind(tx, position, AT_ONCE)
  if (!leads.length) {
    await finishTakeover(tx, card)
    return { leads: 0, changed: [] }
  }
  const { scorecard } = ruleset
  const anew = await anewFor(tx, leads, scorecard, asksOtherwise((await cardTakenOver(tx, card)) ?? null, scorecard))
  const steps = await changeLeads(
    tx,
    ruleset,
    leads.map(lead => ({ kind: 'ruleset', at, by: null, lead, anew: anew(lead) })),
  )
  await moveTakeover(tx, card, leads.at(-1)!)
  return { leads: leads.length, changed: changedIn(steps) }
}

/**
 * The leads of statuses that were given up go where that was said.
 * @param tell called with those that went, as soon as they are written
 * @returns how many went
 */
export async function leaveStatuses(sql: Sql, tell: (leads: string[]) => Promise<void> = async () => {}): Promise<number> {
  for (let moved = 0; ;) {
    const rows = await leadsOfGone(sql, AT_ONCE)
    if (!rows.length) return moved
    const [ruleset, at] = [await readRuleset(sql), Date.now()]
    await retried(() =>
      sql.begin(tx =>
        changeLeads(
          tx,
          ruleset,
          rows.map(r => ({ kind: 'status', at, by: null, lead: r.id, status: r.to })),
        ),
      ),
    )
    await tell(rows.map(r => r.id))
    moved += rows.length
    await pause()
  }
}
