import { changesIn } from '#core/events/event'
import type { Sentence, Told } from '#core/events/kind'
import { kindNamed } from '#core/events/registry'
import { inTimeOrder, nextLabel } from '#core/scoring/course'
import { interestSum } from '#core/scoring/lines'
import type { ScoreCourseView } from '#core/team'
import type { Sql } from '#db/client'
import type { LeadRow } from '#db/leads'
import { scoreRows, type ScoreRow } from '#db/timeline'
import { namesOf } from '#server/follow-up/timeline'
import type { Ruleset } from '#server/ruleset'

/** As many events as anybody could look at. */
const MOST = 2000
/** What follows from something else is not what happened. */
const FOLLOWS = new Set(['label', 'owner', 'lists', 'next_step', 'created'])

/** A lead's score over its life, as its events keep it, and when its label changes if nothing happens. */
export async function scoreCourse(sql: Sql, ruleset: Ruleset, lead: LeadRow, now: number): Promise<ScoreCourseView> {
  const names = namesOf(ruleset)
  const { scorecard, labelOrder } = ruleset
  let [fit, interest, halfLifeDays] = [0, 0, scorecard.halfLifeDays]
  let label: string | null = null
  const moments = (await scoreRows(sql, lead.id, MOST)).map(row => {
    fit = row.fit ?? fit
    interest = row.interest ?? interest
    halfLifeDays = row.half ?? halfLifeDays
    const changed = row.changes.label as { to?: string | null } | undefined
    if (changed) label = changed.to ?? null
    const told: Told = { names, actor: row.actor, cause: row.cause }
    return { at: row.at.getTime(), fit, interest, halfLifeDays, label, sentence: sentenceOf(row, told) }
  })
  const sum = interestSum(lead.reasons, now, scorecard.halfLifeDays)
  const fitNow = lead.reasons.reduce((n, l) => (l.axis === 'fit' ? n + l.points : n), 0)
  const next = nextLabel(
    scorecard,
    labelOrder,
    { fit: fitNow, sum, label: lead.label, labelFloor: lead.labelFloor, labelHeld: lead.labelHeld },
    now,
  )
  return { moments: inTimeOrder(moments), next: next && { at: new Date(next.at).toISOString(), label: next.label } }
}

function sentenceOf(row: ScoreRow, told: Told): Sentence {
  const changes = changesIn(row.changes)
  const main = changes.find(c => !FOLLOWS.has(c.kind)) ?? (WORDS[row.cause] ? undefined : changes[0])
  if (main)
    return kindNamed(main.kind)!.sentence(main.kind === 'entry' ? { ...main.payload, point: row.point ?? undefined } : main.payload, told)
  return [WORDS[row.cause]?.(row) ?? 'Something changed']
}
/** Causes that change a score and tell nothing else. */
const WORDS: Record<string, (row: ScoreRow) => string> = {
  activities: () => 'Was on the site',
  browser: () => 'A browser came to them, or was taken from them',
  due: () => 'Time went by',
  ruleset: row => `Scorecard, edition ${row.card}, took effect`,
  entry: () => 'Sent something',
}
