import type { Condition } from '#core/conditions/condition'
import type { Judged } from '#core/conditions/judge'
import type { Anew } from '#core/leads/causes'
import type { LeadState } from '#core/leads/lead'
import type { LabelHeld } from '#core/scoring/label-held'
import { labelFor, type LabelBasis } from '#core/scoring/labels'
import { decayed, EARLIER, totalsAt, type ReasonLine } from '#core/scoring/lines'
import { repriced, toldTo, withActivities } from '#core/scoring/score'
import type { Scorecard } from '#core/scoring/scorecard'

/** A scorecard with the labels' order, the lowest first. */
export interface Weigher {
  card: Scorecard
  labels: string[]
}
/** What a scorecard makes of a lead at a moment. */
export interface Weighed {
  label: string | null
  fit: number
  interest: number
  lines: ReasonLine[]
}

/**
 * What a scorecard would make of a lead if it were live from now on: exactly what happens to the lead when it takes effect.
 * @param judge of the lead, as conditions ask about it
 * @param anew what they did, for the rules that ask otherwise than the card that is live
 */
export function weighed(
  { card, labels }: Weigher,
  lead: Pick<LeadState, 'reasons' | 'label' | 'labelFloor' | 'labelHeld'>,
  judge: (condition: Condition) => Judged,
  anew: Anew | undefined,
  now: number,
): Weighed {
  const activities = anew ? toldTo(anew.activities, anew.rules) : []
  const { lines } = withActivities(card, repriced(card, lead.reasons, anew?.rules), judge, activities, now)
  const { fit, interest } = totalsAt(lines, now, card.halfLifeDays)
  return { label: labelFor(card, labels, { fit, interest }, lead).label, fit, interest, lines }
}

/** The label that lines made at a moment of the past: interest as it was then, fit as it is known. */
export function labelThen({ card, labels }: Weigher, lines: ReasonLine[], held: Omit<LabelBasis, 'label'>, at: number): string | null {
  const before = lines.filter(l => l.axis === 'fit' || l.at <= at)
  const { fit, interest } = totalsAt(before, at, card.halfLifeDays)
  return labelFor(card, labels, { fit, interest }, { ...held, label: null }).label
}

/** Somebody whom a card would move, and by which rules most. */
export interface Mover {
  lead: string
  from: string | null
  to: string | null
  before: { fit: number; interest: number }
  after: { fit: number; interest: number }
  /** Points more or fewer in all, not rounded. */
  change: number
  by: { name: string; change: number }[]
}
/** How many an owner has; null: nobody's. */
export interface OwnersLoad {
  owner: string | null
  /** Of their open leads, by the labels that count as qualified. */
  labels: Record<string, Both>
  /** Of all those, who wait for an answer. */
  waiting: Both
}
/** As it is, and as it would be. */
export interface Both {
  was: number
  would: number
}
export interface DryRunResult {
  leads: number
  /** From label to label; only where there is anybody. */
  flows: { from: string | null; to: string | null; leads: number }[]
  /** Rules that give some leads more or less than now, with what they give and take in all. */
  rules: { rule: string; name: string; axis: ReasonLine['axis']; leads: number; more: number; less: number }[]
  gains: Mover[]
  losses: Mover[]
  owners: OwnersLoad[]
  /** What those who were won and lost would have carried at that moment, under both. */
  ends: { label: string | null; won: Both; lost: Both }[]
}

/** What a dry run has to know of a lead beside its score. */
export interface Standing {
  id: string
  label: string | null
  labelFloor: string | null
  labelHeld: LabelHeld | null
  reasons: ReasonLine[]
  ownerId: string | null
  waitingSince: number | null
  statusAt: number
  stage: string
}

/** So many of those who gain and lose most are named. */
const MOST_MOVERS = 10
/** Who gains or loses less than so many points does not stand among those who do most. */
const MOVED = 1
/** Less of a difference than this is none. */
const LEAST = 0.005

/**
 * Gathers what a dry run says, lead by lead.
 * @param qualified the labels from which on a lead counts as qualified
 * @param now milliseconds since 1970
 */
export function newTally(live: Weigher, draft: Weigher, qualified: ReadonlySet<string>, now: number) {
  const flows = new Map<string, { from: string | null; to: string | null; leads: number }>()
  const owners = new Map<string | null, OwnersLoad>()
  const ends = new Map<string | null, DryRunResult['ends'][number]>()
  const rules = new Map<string, DryRunResult['rules'][number]>()
  const gains: Mover[] = []
  const losses: Mover[] = []
  let leads = 0

  const left = (l: ReasonLine, { card }: Weigher) => (l.axis === 'fit' ? l.points : decayed(l.points, l.at, now, card.halfLifeDays))

  /** What each rule gives more or less than now. */
  function changes(before: ReasonLine[], after: ReasonLine[]): Map<string, number> {
    const by = new Map<string, number>()
    const add = (l: ReasonLine, points: number) => {
      const key = `${l.axis} ${l.rule}`
      if (!rules.has(key)) rules.set(key, { rule: l.rule, name: l.name, axis: l.axis, leads: 0, more: 0, less: 0 })
      by.set(key, (by.get(key) ?? 0) + points)
    }
    for (const l of before) add(l, -left(l, live))
    for (const l of after) add(l, left(l, draft))
    for (const [key, change] of by) {
      if (Math.abs(change) < LEAST) {
        by.delete(key)
        continue
      }
      const rule = rules.get(key)!
      rule.leads++
      if (change > 0) rule.more += change
      else rule.less -= change
    }
    return by
  }

  function move(list: Mover[], size: number, mover: () => Mover): void {
    if (list.length >= MOST_MOVERS && size <= Math.abs(list.at(-1)!.change)) return
    list.push(mover())
    list.sort((x, y) => Math.abs(y.change) - Math.abs(x.change) || (x.lead < y.lead ? -1 : 1))
    if (list.length > MOST_MOVERS) list.pop()
  }

  /** Of an open lead, for its owner. */
  function load({ ownerId, label, waitingSince }: Standing, would: string | null): void {
    let own = owners.get(ownerId)
    if (!own) owners.set(ownerId, (own = { owner: ownerId, labels: {}, waiting: { was: 0, would: 0 } }))
    for (const [side, one] of [
      ['was', label],
      ['would', would],
    ] as const) {
      if (one === null || !qualified.has(one)) continue
      own.labels[one] ??= { was: 0, would: 0 }
      own.labels[one][side]++
      if (waitingSince !== null) own.waiting[side]++
    }
  }

  function add(lead: Standing, would: Weighed): void {
    leads++
    const flow = `${lead.label ?? ''}>${would.label ?? ''}`
    const seen = flows.get(flow)
    if (seen) seen.leads++
    else flows.set(flow, { from: lead.label, to: would.label, leads: 1 })

    const by = changes(lead.reasons, would.lines)
    const change = [...by.values()].reduce((sum, points) => sum + points, 0)
    if (Math.abs(change) >= MOVED) {
      const mover = (): Mover => ({
        lead: lead.id,
        from: lead.label,
        to: would.label,
        before: totalsAt(lead.reasons, now, live.card.halfLifeDays),
        after: { fit: would.fit, interest: would.interest },
        change,
        by: [...by]
          .sort(([, a], [, b]) => Math.abs(b) - Math.abs(a))
          .slice(0, 2)
          .flatMap(([key, points]) => (Math.abs(points) >= MOVED / 2 ? [{ name: rules.get(key)!.name, change: points }] : [])),
      })
      move(change > 0 ? gains : losses, Math.abs(change), mover)
    }

    if (lead.stage === 'first' || lead.stage === 'open') {
      load(lead, would.label)
    } else if (lead.stage === 'won' || lead.stage === 'lost') {
      const side = lead.stage
      const endOf = (label: string | null) => {
        const end = ends.get(label) ?? { label, won: { was: 0, would: 0 }, lost: { was: 0, would: 0 } }
        ends.set(label, end)
        return end[side]
      }
      endOf(labelThen(live, lead.reasons, lead, lead.statusAt)).was++
      endOf(labelThen(draft, would.lines, lead, lead.statusAt)).would++
    }
  }

  function result(): DryRunResult {
    const rank = (label: string | null) => (label === null ? -1 : draft.labels.indexOf(label))
    const round = (n: number) => Math.round(n * 10) / 10
    return {
      leads,
      flows: [...flows.values()].sort((a, b) => rank(a.from) - rank(b.from) || rank(a.to) - rank(b.to)),
      rules: [...rules.values()]
        .filter(r => r.leads && r.rule !== EARLIER)
        .map(r => ({ ...r, more: round(r.more), less: round(r.less) }))
        .sort((a, b) => b.leads - a.leads || (a.name < b.name ? -1 : 1)),
      gains: gains.map(m => ({ ...m, change: round(m.change), by: m.by.map(b => ({ ...b, change: round(b.change) })) })),
      losses: losses.map(m => ({ ...m, change: round(m.change), by: m.by.map(b => ({ ...b, change: round(b.change) })) })),
      owners: [...owners.values()],
      ends: [...ends.values()].sort((a, b) => rank(b.label) - rank(a.label)),
    }
  }
  return { add, result }
}
export type Tally = ReturnType<typeof newTally>
