import type { Condition } from '#core/conditions/condition'
import { judge as judgeCondition, type Judged } from '#core/conditions/judge'
import { judgeLead, subjectOf } from '#core/leads/about'
import { aboutStep, tell, type Book, type Rules, type Step } from '#core/leads/book'
import { laneFor, whoseTurn, type Turns } from '#core/routing/turns'
import { crossing } from '#core/scoring/interest-key'
import { interestBounds, labelFor } from '#core/scoring/labels'
import { interestSum, totalsAt, type ReasonLine } from '#core/scoring/lines'
import { withActivities, type Activity } from '#core/scoring/score'

/** Scores by who they are and what they did: fit anew, interest by what is new. */
export function score(rules: Rules, book: Book, step: Step, activities: Activity[]): void {
  const about = aboutStep(rules, book, step)
  const subject = subjectOf(about)
  const judge = (condition: Condition): Judged => judgeCondition(condition, subject)
  const { scorecard } = rules
  const { lines, until } = withActivities(scorecard, step.lead.reasons, judge, activities, step.at)
  step.lead.reasons = lines
  step.scored = scoresOtherwise(step.linesBefore, step.lead.halfLifeDays ?? scorecard.halfLifeDays, lines, scorecard.halfLifeDays, step.at)
  step.lead.halfLifeDays = scorecard.halfLifeDays
  const sum = interestSum(lines, step.at, scorecard.halfLifeDays)
  const { fit, interest } = totalsAt(lines, step.at, scorecard.halfLifeDays)
  step.score = { fit, interest, sum }
  const falls = crossing(sum, step.at, scorecard.halfLifeDays, interestBounds(scorecard.labels, fit))
  step.judgeAt = Math.max(step.at + SOON_MS, Math.min(falls, until + spread(step.lead.id)))
}

/** Less of a difference than this is none: interest below it counts as nothing. */
const LEAST = 2 ** -10

/** Whether lines make another score than before, at a moment; putting small ones together does not, another half-life does. */
function scoresOtherwise(before: ReasonLine[], halfLifeBefore: number, after: ReasonLine[], halfLifeDays: number, at: number): boolean {
  const fit = (lines: ReasonLine[]) => lines.flatMap(l => (l.axis === 'fit' ? `${l.rule} ${l.points}` : [])).join()
  if (fit(before) !== fit(after)) return true
  const [was, is] = [before, after].map(lines => lines.filter(l => l.axis === 'interest')) as [ReasonLine[], ReasonLine[]]
  if (halfLifeBefore === halfLifeDays && was.length === is.length && was.every((line, i) => line === is[i])) return false
  return Math.abs(interestSum(was, at, halfLifeBefore) - interestSum(is, at, halfLifeDays)) > LEAST
}

/** What falls due is looked at again no sooner than this. */
const SOON_MS = 1_000
/** What changes with the day changes for many at midnight: their turns are spread over some minutes. */
const SPREAD_MS = 8 * 60_000
const spread = (id: string) => (parseInt(id.slice(-8), 16) || 0) % SPREAD_MS

/** Gives the label that the score makes; one that a point gave is a floor under it. */
export function label(rules: Rules, step: Step): void {
  const { lead } = step
  const { fit, interest } = step.score
  const next = labelFor(rules.scorecard.labels, rules.labels, fit, interest, lead.labelFloor)
  if (next.label === lead.label) return
  tell(step, 'label', { from: lead.label, to: next.label, because: next.because, fit, interest })
  lead.label = next.label
  step.changed = true
}

/** Finds the lane of a lead without an owner, or whose owner has left; who of the lane gets it is chosen under the lane's lock (`give`). */
export function lane(rules: Rules, book: Book, step: Step): void {
  const { lead } = step
  if (lead.ownerId && rules.members.has(lead.ownerId)) return
  const { wished } = step
  if (wished && rules.members.has(wished.owner)) {
    tell(step, 'owner', { from: lead.ownerId, to: wished.owner, point: wished.point, by: 'point' })
    lead.ownerId = wished.owner
    step.owned = true
    return
  }
  const about = aboutStep(rules, book, step)
  step.lane = laneFor(
    rules.plan,
    condition => judgeLead(condition, about).holds,
    id => rules.members.has(id),
  )
}

/** Gives a lead to whose turn it is in its lane. */
export function give(rules: Rules, step: Step, turns: Turns): void {
  const { lead } = step
  // Somebody who came twice in a batch has got their owner by the first time.
  if (!step.lane || (lead.ownerId && rules.members.has(lead.ownerId))) return
  const member = whoseTurn(
    step.lane.pool.filter(id => rules.members.has(id)),
    turns,
  )
  if (!member) return
  turns.set(member, (turns.get(member) ?? 0) + 1)
  tell(step, 'owner', { from: lead.ownerId, to: member, lane: step.lane.name, by: 'plan' })
  lead.ownerId = member
  step.owned = true
}
