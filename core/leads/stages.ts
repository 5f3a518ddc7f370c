import type { Condition } from '#core/conditions/condition'
import { judge as judgeCondition, type Judged } from '#core/conditions/judge'
import { judgeLead, subjectOf } from '#core/leads/about'
import { aboutStep, tell, type Book, type Rules, type Step, type Tools } from '#core/leads/book'
import { nameOf, type LeadState } from '#core/leads/lead'
import { choose, lanesFor, type Desks } from '#core/routing/choose'
import { lookedAfterBy } from '#core/routing/colleagues'
import { promised } from '#core/follow-up/promise'
import { hoursOf } from '#core/leads/work'
import { workingMinutes } from '#core/working-time'
import { crossing } from '#core/scoring/interest-key'
import { endHold } from '#core/scoring/label-held'
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
  const falls = crossing(sum, step.at, scorecard.halfLifeDays, interestBounds(scorecard, fit))
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

/** Gives the label that the score makes, unless one is held; what is held until now is let go. */
export function label(rules: Rules, step: Step): void {
  const { lead } = step
  const { fit, interest } = step.score
  if (lead.labelFloor !== null) lead.labelFloor = rules.joinedLabels?.get(lead.labelFloor) ?? lead.labelFloor
  const ended = endHold(lead, step.at)
  const until = lead.labelHeld?.until ?? Infinity
  step.judgeAt = Math.max(step.at + SOON_MS, Math.min(step.judgeAt, until))
  if (ended !== null && !step.changes.label_held) tell(step, 'label_held', { label: null, was: ended })
  const next = labelFor(rules.scorecard, rules.labels, step.score, lead)
  if (next.label === lead.label) return
  tell(step, 'label', { from: lead.label, to: next.label, because: next.because, fit, interest })
  lead.label = next.label
  step.changed = true
}

const hasOwner = (rules: Rules, { ownerId }: LeadState): boolean => ownerId !== null && rules.members.has(ownerId)

/** Finds the lanes of a lead without an owner, or whose owner has left; who gets it is chosen under their locks (`give`). */
export function lane(rules: Rules, book: Book, step: Step): void {
  const { lead } = step
  if (hasOwner(rules, lead)) {
    // They got one another way while they waited.
    lead.routeAt = null
    return
  }
  const { wished } = step
  if (wished && rules.members.has(wished.owner)) {
    const to = lookedAfterBy(rules.members, wished.owner, step.at)?.id ?? wished.owner
    tell(step, 'owner', { from: lead.ownerId, to, point: wished.point, by: 'point' })
    Object.assign(lead, { ownerId: to, lane: null, routeAt: null })
    step.owned = true
    return
  }
  const about = aboutStep(rules, book, step)
  step.lanes = lanesFor(rules.plan, condition => judgeLead(condition, about).holds, rules.members, step.at, step.language)
}

/** Where nobody could take a lead, they are asked again after so long. */
const AGAIN_MS = 15 * 60_000

/** Gives a lead to one of its lanes, lets it wait for one, or says that there is nobody. */
export function give(rules: Rules, tools: Tools, step: Step, desks: Desks): void {
  const { lead } = step
  // Somebody who came twice in a batch has got their owner by the first time.
  if (step.lanes === null || (step.leaving === null && hasOwner(rules, lead)) || !rules.plan.lanes.length) return
  const choice = choose(step.lanes, rules.members, desks.of(lead.id), step.at, step.language)
  if (choice && 'member' in choice) {
    const {
      lane: { key, name, way },
      member,
      standsInFor,
    } = choice
    tell(step, 'owner', { from: lead.ownerId, to: member, lane: name, by: 'plan', way, ...(standsInFor && { standsInFor }) })
    const waited = lead.routeAt !== null
    Object.assign(lead, { ownerId: member, lane: key, routeAt: null })
    step.owned = step.changed = true
    desks.gave(key, member)
    if (step.leaving !== null) {
      goneOn(rules, tools, step, step.leaving, member)
      return
    }
    // Of an entry the owner hears with what it says; of what waited for them, here.
    if (step.cause === 'due' && waited && step.leaving === null)
      step.notices.push({
        id: tools.newId(step.at),
        to: member,
        mail: true,
        subject: `${nameOf(lead)} is yours`,
        text: `They came while nobody of “${name}” could take them.`,
      })
    return
  }
  if (step.leaving !== null) {
    const of = promised(rules, lead.label, lead.lane)
    tell(step, 'promise', {
      step: 'onward',
      over: Math.round(workingMinutes(lead.waitingSince!, step.at, hoursOf(rules, lead))),
      of,
      told: [],
      stays: step.leaving,
    })
    return
  }
  const until = choice ? choice.waits : null
  // Asked again in vain, it is no news.
  if (lead.routeAt === null || until !== null)
    tell(step, 'unowned', choice ? { lane: choice.lane.name, until: new Date(choice.waits).toISOString() } : { lane: null, until: null })
  Object.assign(lead, { lane: choice?.lane.key ?? null, routeAt: until ?? step.at + AGAIN_MS })
}

/** Who was not answered in time goes on to somebody else; both are told. */
function goneOn(rules: Rules, tools: Tools, step: Step, from: string, to: string): void {
  const { lead } = step
  const notify = (member: string, subject: string, text: string) =>
    step.notices.push({ id: tools.newId(step.at), to: member, mail: true, subject, text })
  notify(to, `${nameOf(lead)} is yours now`, `${rules.members.get(from)?.name ?? 'Whoever had them'} did not answer them in time.`)
  if (rules.members.has(from)) notify(from, `${nameOf(lead)} went on to ${rules.members.get(to)!.name}`, 'They were not answered in time.')
}
