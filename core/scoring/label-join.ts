import { isPlain } from '#core/validate'
import type { Scorecard } from '#core/scoring/scorecard'

/**
 * One label joined with another: whatever asks for it, or gives it, means the other from then on.
 */

/** A definition (a condition, a plan, a point …) in which one label stands for another: where it is asked for, and where it is given. */
export function withLabel<T>(value: T, from: string, to: string): T {
  const named = (label: unknown): unknown => (Array.isArray(label) ? [...new Set(label.map(named))] : label === from ? to : label)
  /** What a lane promises by label: where both had a promise, the one of the label that stays. */
  const promised = ({ [from]: gone, ...rest }: Record<string, unknown>) => (gone === undefined ? rest : { [to]: gone, ...rest })
  const walk = (part: unknown): unknown => {
    if (Array.isArray(part)) return part.map(walk)
    if (!isPlain(part)) return part
    const whole = Object.fromEntries(
      Object.entries(part).map(([key, inner]) => [key, key === 'promises' && isPlain(inner) ? promised(inner) : walk(inner)]),
    )
    if (whole.attribute === 'label' && 'value' in whole) return { ...whole, value: named(whole.value) }
    return whole.kind === 'label' && 'label' in whole ? { ...whole, label: named(whole.label) } : whole
  }
  return walk(value) as T
}

/** Whether a definition asks for a label, or gives it. */
export const namesLabel = (value: unknown, label: string): boolean =>
  JSON.stringify(withLabel(value, label, '\u0000')) !== JSON.stringify(value)

/**
 * A scorecard whose areas of two labels are one: it begins where the first of both does.
 * @returns null when neither area lies within the other, so that no single one is both
 */
export function joinedAreas(card: Scorecard, from: string, to: string): Scorecard | null {
  const [gone, kept] = [from, to].map(label => card.labels.find(l => l.label === label))
  if (!gone) return card
  if (kept && (gone.fit - kept.fit) * (gone.interest - kept.interest) < 0) return null
  const area = {
    label: to,
    fit: Math.min(gone.fit, kept?.fit ?? gone.fit),
    interest: Math.min(gone.interest, kept?.interest ?? gone.interest),
  }
  // Where it stood in the order; the other one's goes.
  const at = card.labels.findIndex(l => l.label === (kept ? to : from))
  return {
    ...card,
    labels: card.labels.map((l, i) => (i === at ? area : l)).filter((l, i) => i === at || (l.label !== from && l.label !== to)),
  }
}
