import type { ActivityTest, Condition, Test } from '#core/conditions/condition'
import type { LearnedRule } from '#core/learning/score-rows'
import type { FitRule, LabelRule, Scorecard } from '#core/scoring/scorecard'

// What was learned from leads, as a scorecard asks for it. Columns of deeds are counts: `did.page`, `did.visit`, `did.entry`, and
// `did.entry.<point>`.

/** A learned condition over leads' columns as one over leads; null where it would ask of everybody. */
export function leadCondition(when: Condition): Condition | null {
  if ('all' in when) {
    const parts = when.all.flatMap(c => leadCondition(c) ?? [])
    return parts.length > 1 ? { all: parts } : (parts[0] ?? null)
  }
  if (!('attribute' in when) || !when.attribute.startsWith('did.')) return when
  return deedCondition(when)
}

function deedCondition({ attribute, is, value }: Test): Condition | null {
  const [, did, point] = attribute.split('.') as [string, ActivityTest['did'], string | undefined]
  const times = (n: number): ActivityTest => ({
    did,
    where: point === undefined ? null : { attribute: 'point', is: 'equal', value: point },
    times: n,
    days: null,
  })
  const atLeast = (n: number): Condition | null => (n <= 0 ? null : times(n))
  const fewer = (n: number): Condition => ({ none: [times(Math.max(1, n))] })
  const n = Number(value)
  if (is === 'at_least') return atLeast(n)
  if (is === 'at_most') return fewer(n + 1)
  if (is === 'equal') return n === 0 ? fewer(1) : { all: [times(n), fewer(n + 1)] }
  return null
}

/** Points that people are used to: the largest of a card is about so many. */
const LARGEST = 30

/**
 * A scorecard with the learned rules as its fit. What interest gives stays; so do the labels, each from as much fit as lets as many
 * people by as before.
 * @param fits of people by the live card and by the learned rules, pairwise, for those the labels' lines are drawn by
 * @param name of a rule, from its condition
 */
export function asScorecard(
  live: Scorecard,
  rules: LearnedRule[],
  fits: { was: number; would: number }[],
  name: (when: Condition) => string,
): Scorecard {
  const scale = scaleOf(rules)
  const fit = rules.flatMap((rule, i): FitRule[] => {
    const when = leadCondition(rule.when)
    if (!when) return []
    return [
      {
        key: `learned_${i + 1}`,
        name: name(when).slice(0, 200),
        points: rule.points * scale,
        when,
        off: false,
        note: '',
        from: null,
        until: null,
        group: null,
      },
    ]
  })
  const would = fits.map(f => f.would * scale).sort((a, b) => a - b)
  const was = fits.map(f => f.was).sort((a, b) => a - b)
  return { ...live, groups: [], fit, labels: live.labels.map(rule => ({ ...rule, fit: lineFor(rule, was, would) })) }
}
/** By how much learned points are multiplied. */
export const scaleOf = (rules: LearnedRule[]): number =>
  Math.max(1, Math.floor(LARGEST / Math.max(1, ...rules.map(r => Math.abs(r.points)))))

/** From how much fit on as large a share is let by as before. */
function lineFor({ fit }: LabelRule, was: number[], would: number[]): number {
  if (!was.length || fit <= was[0]!) return -1000
  const below = was.filter(f => f < fit).length
  return below >= would.length ? would.at(-1)! + 1 : would[below]!
}
