import { nameOf } from '#core/leads/lead'
import { promised } from '#core/follow-up/promise'
import { urgency, type Urgency } from '#core/follow-up/urgency'
import type { PropertyValue } from '#core/properties/kinds'
import { nextLabel } from '#core/scoring/course'
import type { LabelHeld } from '#core/scoring/label-held'
import { interestSum, scoreAt } from '#core/scoring/lines'
import type { LeadView } from '#core/team'
import { afterWorking } from '#core/working-time'
import type { LeadRow } from '#db/leads'
import type { Ruleset } from '#server/ruleset'

/** A lead as the open API gives it. Keys of statuses and labels as they are stored; `rule` is the rule's name. */
export interface PublicLead {
  id: string
  email: string | null
  firstName: string | null
  lastName: string | null
  company: string | null
  properties: Record<string, PropertyValue>
  tags: string[]
  label: string | null
  fit: number
  interest: number
  reasons: { axis: string; rule: string; points: number; now: number; at: string }[]
  owner: { id: string; name: string; email: string } | null
  status: string
  nextStep: { text: string; due: string } | null
  submitted: boolean
  createdAt: string
  updatedAt: string
}

export function publicLead(row: LeadRow, ruleset: Ruleset, now: number): PublicLead {
  const score = scoreAt(row.reasons, now, ruleset.scorecard.halfLifeDays)
  return {
    id: row.id,
    email: row.email,
    firstName: row.firstName,
    lastName: row.lastName,
    company: row.company,
    properties: row.properties,
    tags: row.tags,
    label: row.label,
    fit: score.fit,
    interest: score.interest,
    reasons: score.reasons.map(r => ({ axis: r.axis, rule: r.name, points: r.points, now: r.now, at: new Date(r.at).toISOString() })),
    owner: row.ownerId ? { id: row.ownerId, name: row.ownerName!, email: row.ownerEmail! } : null,
    status: row.status,
    nextStep: row.nextStep ? { text: row.nextStep, due: row.nextStepAt!.toISOString() } : null,
    submitted: row.submittedAt !== null,
    createdAt: row.createdAt.toISOString(),
    updatedAt: row.updatedAt.toISOString(),
  }
}

/** A lead as the team's screens show it. */
export function leadView(row: LeadRow, ruleset: Ruleset, now: number): LeadView {
  const score = scoreAt(row.reasons, now, ruleset.scorecard.halfLifeDays)
  return {
    id: row.id,
    name: nameOf(row),
    email: row.email,
    firstName: row.firstName,
    lastName: row.lastName,
    company: row.company,
    properties: row.properties,
    tags: row.tags,
    label: row.label,
    labelFloor: row.labelFloor,
    ...score,
    labelHeld: row.labelHeld && { ...heldView(row.labelHeld) },
    labelNext: nextOf(row, ruleset, score.fit, now),
    owner: row.ownerId ? { id: row.ownerId, name: row.ownerName! } : null,
    status: row.status,
    statusAt: row.statusAt.toISOString(),
    nextStep: stepView(row),
    ...followUpView(row, ruleset),
    waitingSince: row.waitingSince?.toISOString() ?? null,
    submitted: row.submittedAt !== null,
    guarded: row.guardedAt !== null,
    urgency: row.waitingSince && urgencyOf(row, row.waitingSince, ruleset, now),
    createdAt: row.createdAt.toISOString(),
    updatedAt: row.updatedAt.toISOString(),
  }
}

function stepView({ nextStep, nextStepAt, followUp: { step } }: LeadRow): LeadView['nextStep'] {
  return nextStep === null
    ? null
    : {
        text: nextStep,
        due: nextStepAt!.toISOString(),
        kind: step?.kind ?? 'other',
        remind: step?.remind ?? [],
        every: step?.every ?? null,
      }
}

const isoOrNull = (at: number | null | undefined) => (at === null || at === undefined ? null : new Date(at).toISOString())

function followUpView(row: LeadRow, ruleset: Ruleset): Pick<LeadView, 'answerBy' | 'tries' | 'outcome' | 'wakesAt' | 'acceptBy'> {
  const { outcome, tries = 0, wakeAt, accept } = row.followUp
  const by = row.waitingSince && afterWorking(row.waitingSince.getTime(), promised(ruleset, row.label, row.lane), clockOf(row, ruleset))
  return {
    answerBy: isoOrNull(by),
    tries,
    outcome: outcome ? { ...outcome, at: new Date(outcome.at).toISOString() } : null,
    wakesAt: isoOrNull(wakeAt),
    acceptBy: isoOrNull(accept?.until),
  }
}

/** The clock is the owner's: it runs while they work. */
const clockOf = ({ ownerId }: LeadRow, { members, house }: Ruleset) => (ownerId && members.get(ownerId)?.hours) || house.hours

const heldView = ({ how, until, reason, by, name, at }: LabelHeld) => ({
  how,
  until: until === null ? null : new Date(until).toISOString(),
  reason,
  by,
  name,
  at: new Date(at).toISOString(),
})

/** When a label changes by itself. */
function nextOf(row: LeadRow, { scorecard, labelOrder }: Ruleset, fit: number, now: number): LeadView['labelNext'] {
  const next = nextLabel(
    scorecard,
    labelOrder,
    {
      fit,
      sum: interestSum(row.reasons, now, scorecard.halfLifeDays),
      label: row.label,
      labelFloor: row.labelFloor,
      labelHeld: row.labelHeld,
    },
    now,
  )
  return next && { at: new Date(next.at).toISOString(), label: next.label }
}

function urgencyOf(row: LeadRow, since: Date, ruleset: Ruleset, now: number): Urgency {
  return urgency(since.getTime(), now, promised(ruleset, row.label, row.lane), clockOf(row, ruleset))
}
