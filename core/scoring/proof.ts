import { proportion, type Proportion } from '#core/stats/proportion'
import { relative, type Relative } from '#core/stats/relative'
import { gains, rocArea, type RocArea } from '#core/stats/roc'

/** Somebody as a scorecard saw them some days after they came, and what became of them. Times in milliseconds since 1970. */
export interface Case {
  createdAt: number
  /** The moment at which the score is taken. */
  judgedAt: number
  /** Fit and interest together, as they were at that moment. */
  score: number
  label: string | null
  /** Keys of the rules that gave them points by then. */
  rules: string[]
  /** When they reached what is asked for; null: not so far. */
  reachedAt: number | null
}

/** A group of people and how many of them reached it. */
export interface Share {
  people: number
  reached: number
  rate: Proportion
}
export type Band = Share & { from: number | null; to: number | null }
/** What a rule is worth: those whom it gave points against all others. */
export interface RuleProof {
  rule: string
  name: string
  axis: 'fit' | 'interest'
  points: number
  with: Share
  without: Share
  lift: Relative
  /** `earns`: it points where they go; `misleads`: the other way; `unsure`: that cannot be told. */
  verdict: 'earns' | 'misleads' | 'unsure'
}
export interface Proof {
  /** Those who are old enough to tell. */
  whole: Share
  /**
   * Too young to tell, and left out, whatever has become of them: who comes to an end soon would count and the others not. And the
   * days after which nine in ten of those who reached it had.
   */
  young: number
  within: number
  /** Left out, too: who had reached it before the moment at which the score is taken. */
  early: number
  bands: Band[]
  labels: (Share & { label: string | null })[]
  area: RocArea | null
  /** The share of those who reached it among the best of each share of everybody. */
  gains: { share: number; captured: number }[]
  rules: RuleProof[]
}

const DAY = 86_400_000
const WIDE = 20
const TOP = 100
/** Without enough who reached it, nobody under so many days is old enough. */
const PATIENCE_DAYS = 60
const FEW = 10
const SHARES = Array.from({ length: 21 }, (_, i) => i / 20)

/**
 * Whether scores told who would come to an end that was wished for.
 * @param rules of the card that is live, with their points
 * @param order label keys, the lowest first
 */
export function proofOf(all: Case[], rules: Pick<RuleProof, 'rule' | 'name' | 'axis' | 'points'>[], order: string[], now: number): Proof {
  const { cases, within, early } = oldEnough(all, now)
  const share = (some: Case[]): Share => {
    const reached = some.filter(c => c.reachedAt !== null).length
    return { people: some.length, reached, rate: proportion(reached, some.length) }
  }
  const scores = cases.map(c => c.score)
  const outcomes = cases.map(c => (c.reachedAt === null ? 0 : 1))
  const any = outcomes.some(o => o === 1)
  return {
    whole: share(cases),
    young: all.length - early - cases.length,
    within,
    early,
    bands: bandsOf(cases).map(b => ({ from: b.from, to: b.to, ...share(b.some) })),
    labels: [...order.toReversed(), null]
      .map(label => ({ label, ...share(cases.filter(c => c.label === label)) }))
      .filter(l => l.people > 0),
    area: rocArea(scores, outcomes),
    gains: any ? gains(scores, outcomes, SHARES) : [],
    rules: rules.map(rule => {
      const [has, hasNot] = [share(cases.filter(c => c.rules.includes(rule.rule))), share(cases.filter(c => !c.rules.includes(rule.rule)))]
      const lift = relative({ hits: has.reached, trials: has.people }, { hits: hasNot.reached, trials: hasNot.people })
      return { ...rule, with: has, without: hasNot, lift, verdict: verdictOf(rule.points, lift) }
    }),
  }
}

/** As far as it takes to tell whether somebody is old enough. */
type Timed = Pick<Case, 'createdAt' | 'judgedAt' | 'reachedAt'>
/**
 * Those of whom one may tell what became of them: who came as long ago as nine in ten of those who got there had taken.
 * @returns `early`: how many had got there before they were scored, who are left out, too
 */
export function oldEnough<C extends Timed>(all: C[], now: number): { cases: C[]; within: number; early: number } {
  const isEarly = (c: C) => c.reachedAt !== null && c.reachedAt <= c.judgedAt
  const judged = all.filter(c => c.judgedAt <= now && !isEarly(c))
  const took = judged.flatMap(c => (c.reachedAt === null ? [] : [(c.reachedAt - c.createdAt) / DAY])).sort((a, b) => a - b)
  const within = took.length >= FEW ? Math.ceil(took[Math.ceil(0.9 * took.length) - 1]!) : PATIENCE_DAYS
  return { cases: judged.filter(c => now - c.createdAt >= within * DAY), within, early: all.filter(isEarly).length }
}

/** What points say, against what came. */
function verdictOf(points: number, lift: Relative): RuleProof['verdict'] {
  if (lift.tooFew || points === 0 || (lift.low <= 1 && lift.high >= 1)) return 'unsure'
  return lift.low > 1 === points > 0 ? 'earns' : 'misleads'
}

/** The best first, in steps of as many points; below nothing and beyond the top all together. */
function bandsOf(cases: Case[]): { from: number | null; to: number | null; some: Case[] }[] {
  const bands: { from: number | null; to: number | null }[] = [{ from: TOP, to: null }]
  for (let from = TOP - WIDE; from >= 0; from -= WIDE) bands.push({ from, to: from + WIDE - 1 })
  bands.push({ from: null, to: -1 })
  return bands
    .map(b => ({
      ...b,
      some: cases.filter(c => Math.round(c.score) >= (b.from ?? -Infinity) && Math.round(c.score) <= (b.to ?? Infinity)),
    }))
    .filter(b => b.some.length > 0)
}
