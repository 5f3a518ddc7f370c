import { holds, type ActivityKind, type Past } from '#core/conditions/condition'
import type { Answers } from '#core/points/definition'

/** Something that somebody did, and what conditions may ask of it. `at` in milliseconds since 1970. */
export interface PastActivity {
  kind: ActivityKind
  at: number
  attributes: Record<string, string | string[] | null | undefined>
}

const DAY = 86_400_000

/** Whether an activity is one that a test's own conditions ask for. */
export function isLike(activity: PastActivity, where: Parameters<typeof holds>[0] | null, now: number): boolean {
  const attribute = (name: string) => (Object.hasOwn(activity.attributes, name) ? activity.attributes[name] : undefined)
  return !where || holds(where, attribute, { now, did: () => false })
}

/** What somebody did, as conditions ask for it. */
export const pastOf = (activities: PastActivity[], now: number): Past => ({
  now,
  did: ({ did, where, times, days }) =>
    activities.filter(a => a.kind === did && (days === null || a.at >= now - days * DAY) && isLike(a, where, now)).length >= times,
})

/** What conditions may ask of an entry. */
export const entryAttributes = (point: string | null, answers: Answers): PastActivity['attributes'] => ({
  point,
  ...Object.fromEntries(Object.entries(answers).map(([key, answer]) => [`answer.${key}`, answer])),
})
