import type { Flow, Step } from '#core/chat/shapes'

/** A way out of a step: what leads there, in the flow's own words, and to which step; null: the conversation rests. */
export interface Way {
  /** Tells the ways of a step apart: `then`, `otherwise`, or the place of a choice, an answer or a condition in its list. */
  by: string
  to: string | null
}

/** All ways out of a step, those first that hang on what is said. Of an end there is none, nor of being handed over to a person. */
export function waysOf(step: Step): Way[] {
  const then = 'then' in step ? [{ by: 'then', to: step.then }] : []
  const otherwise = 'otherwise' in step ? [{ by: 'otherwise', to: step.otherwise }] : []
  const own = step.kind === 'say' ? step.choices : step.kind === 'ask' || step.kind === 'branch' ? step.ways : []
  return [...own.map(({ to }, i) => ({ by: String(i), to })), ...otherwise, ...then]
}

/** Whether a step waits for the visitor before anything follows. What only speaks or does goes on at once. */
export const waits = (step: Step): boolean =>
  step.kind === 'ask' || step.kind === 'look_up' || step.kind === 'meet' || (step.kind === 'say' && step.choices.length > 0)
/** Whether nothing is to follow a step. */
export const isLast = (step: Step): boolean => step.kind === 'end' || step.kind === 'hand_over'

/** The steps of a flow by their keys. */
export const stepsOf = (flow: Flow): Map<string, Step> => new Map(flow.steps.map(step => [step.key, step]))

/** The keys of all steps that can be reached from one, itself among them. */
export function reachedFrom(flow: Flow, from: string | null): Set<string> {
  const steps = stepsOf(flow)
  const reached = new Set<string>()
  const open = [from]
  while (open.length) {
    const key = open.pop()
    if (!key || reached.has(key) || !steps.has(key)) continue
    reached.add(key)
    open.push(...waysOf(steps.get(key)!).map(way => way.to))
  }
  return reached
}
