import { readCondition, type Condition } from '#core/conditions/condition'
import { ABOUT_ACTIVITY, ABOUT_FIT } from '#core/conditions/askable'
import type { Flaw } from '#core/flaws'

/**
 * The rules that score a lead. Fit: points for who they are, counted once while
 * their condition holds. Interest: points for what they did, each fading with the half-life.
 */
export interface Scorecard {
  version: 1
  /** Days after which a point of interest is worth half. */
  halfLifeDays: number
  fit: FitRule[]
  interest: InterestRule[]
  labels: LabelRule[]
}
export interface FitRule { key: string; name: string; points: number; when: Condition }
export interface InterestRule { key: string; name: string; points: number; on: 'entry' | 'page_view' | 'event'; when: Condition | null }
/** A label asks for at least this much fit and interest. Lowest first. */
export interface LabelRule { label: string; fit: number; interest: number }

/** Reads a scorecard out of an untrusted value. */
export function readScorecard(plain: unknown): { scorecard: Scorecard; flaws: [] } | { scorecard: null; flaws: Flaw[] } {
  try {
    const raw = object(plain, 'scorecard')
    if (raw.version !== 1) throw new TypeError('version must be 1')
    return {
      scorecard: {
        version: 1,
        halfLifeDays: number(raw.halfLifeDays, 'halfLifeDays', 0.25, 3650),
        fit: list(raw.fit, 'fit').map((r, i) => ({ ...rule(r, `fit.${i}`), when: readCondition(r.when, `fit.${i}.when`, ABOUT_FIT) })),
        interest: list(raw.interest, 'interest').map((r, i) => {
          if (r.on !== 'entry' && r.on !== 'page_view' && r.on !== 'event') throw new TypeError(`interest.${i}.on must be entry, page_view or event`)
          return { ...rule(r, `interest.${i}`), on: r.on, when: r.when == null ? null : readCondition(r.when, `interest.${i}.when`, ABOUT_ACTIVITY[r.on]) }
        }),
        labels: list(raw.labels, 'labels').map((l, i) => ({
          label: text(l.label, `labels.${i}.label`), fit: number(l.fit, `labels.${i}.fit`, -1000, 1000), interest: number(l.interest, `labels.${i}.interest`, -1000, 1000),
        })),
      },
      flaws: [],
    }
  } catch (error) {
    if (!(error instanceof TypeError)) throw error
    return { scorecard: null, flaws: [{ field: error.message.split(' ')[0]!, message: `${error.message}.` }] }
  }
}

const rule = (raw: Record<string, unknown>, path: string) => ({
  key: text(raw.key, `${path}.key`), name: text(raw.name, `${path}.name`), points: Math.trunc(number(raw.points, `${path}.points`, -1000, 1000)),
})
function object(value: unknown, path: string): Record<string, unknown> {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) throw new TypeError(`${path} must be an object`)
  return value as Record<string, unknown>
}
function list(value: unknown, path: string): Record<string, unknown>[] {
  if (!Array.isArray(value) || value.length > 200) throw new TypeError(`${path} must be a list of at most 200`)
  return value.map((item, i) => object(item, `${path}.${i}`))
}
function text(value: unknown, path: string): string {
  if (typeof value !== 'string' || !value.trim() || value.length > 200) throw new TypeError(`${path} must be a text of 1 to 200 characters`)
  return value
}
function number(value: unknown, path: string, least: number, most: number): number {
  if (typeof value !== 'number' || !(value >= least && value <= most)) throw new TypeError(`${path} must be a number from ${least} to ${most}`)
  return value
}
