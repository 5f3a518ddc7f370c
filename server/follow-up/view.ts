import { nameOf } from '#core/leads/lead'
import { urgency, type Urgency } from '#core/follow-up'
import type { PropertyValue } from '#core/properties/kinds'
import { scoreAt } from '#core/scoring/lines'
import type { LeadView } from '#core/team'
import type { LeadRow } from '#db/leads'
import type { Ruleset } from '#server/ruleset'

/** A lead as the open API gives it. Keys of statuses and labels as they are stored; `rule` is the rule's name. */
export interface PublicLead {
  id: string; email: string | null; firstName: string | null; lastName: string | null; company: string | null
  properties: Record<string, PropertyValue>; tags: string[]; label: string | null; fit: number; interest: number
  reasons: { axis: string; rule: string; points: number; now: number; at: string }[]
  owner: { id: string; name: string; email: string } | null
  status: string; nextStep: { text: string; due: string } | null; submitted: boolean; createdAt: string; updatedAt: string
}

export function publicLead(row: LeadRow, ruleset: Ruleset, now: number): PublicLead {
  const score = scoreAt(row.reasons, now, ruleset.scorecard.halfLifeDays)
  return {
    id: row.id, email: row.email, firstName: row.firstName, lastName: row.lastName, company: row.company,
    properties: row.properties, tags: row.tags, label: row.label, fit: score.fit, interest: score.interest,
    reasons: score.reasons.map(r => ({ axis: r.axis, rule: r.name, points: r.points, now: r.now, at: new Date(r.at).toISOString() })),
    owner: row.ownerId ? { id: row.ownerId, name: row.ownerName!, email: row.ownerEmail! } : null,
    status: row.status, nextStep: row.nextStep ? { text: row.nextStep, due: row.nextStepAt!.toISOString() } : null,
    submitted: row.submittedAt !== null, createdAt: row.createdAt.toISOString(), updatedAt: row.updatedAt.toISOString(),
  }
}

/** A lead as the team's screens show it. */
export function leadView(row: LeadRow, ruleset: Ruleset, now: number): LeadView {
  const score = scoreAt(row.reasons, now, ruleset.scorecard.halfLifeDays)
  return {
    id: row.id, name: nameOf(row), email: row.email, firstName: row.firstName, lastName: row.lastName, company: row.company,
    properties: row.properties, tags: row.tags, label: row.label, labelFloor: row.labelFloor, ...score,
    owner: row.ownerId ? { id: row.ownerId, name: row.ownerName! } : null, status: row.status, statusAt: row.statusAt.toISOString(),
    nextStep: row.nextStep ? { text: row.nextStep, due: row.nextStepAt!.toISOString() } : null,
    waitingSince: row.waitingSince?.toISOString() ?? null, submitted: row.submittedAt !== null, guarded: row.guardedAt !== null, urgency: row.waitingSince && urgencyOf(row.label, row.waitingSince, ruleset, now),
    createdAt: row.createdAt.toISOString(), updatedAt: row.updatedAt.toISOString(),
  }
}

/** Who has no label yet waits by the most patient promise of the house. */
function urgencyOf(label: string | null, since: Date, ruleset: Ruleset, now: number): Urgency {
  const { house, labels } = ruleset
  const target = labels.find(l => l.key === label)?.responseTarget ?? Math.max(480, ...labels.map(l => l.responseTarget))
  return urgency(since.getTime(), now, target, { days: house.workingDays, from: house.worksFrom, until: house.worksUntil, zone: house.zone })
}
