import { actionsOfSteps } from '#core/chat/point-checks'
import type { Answers } from '#core/points/answer'
import type { PointDefinition } from '#core/points/definition'

/**
 * A chat as it is answered by a conversation that is taken in: the questions that were answered, and of the actions those that no step
 * has of its own, and those of the steps that were taken.
 * @param way the keys of those steps
 */
export function takenIn(definition: PointDefinition, answers: Answers, way: readonly string[]): PointDefinition {
  const { flow } = definition.chat!
  const [ofSteps, taken] = [actionsOfSteps(flow), new Set(way)]
  const done = new Set(flow.steps.flatMap(s => (s.kind === 'do' && taken.has(s.key) ? s.actions : [])))
  return {
    ...definition,
    questions: definition.questions.filter(q => q.hidden || Object.hasOwn(answers, q.key)).map(q => ({ ...q, shownIf: null })),
    actions: definition.actions.filter(a => !ofSteps.has(a.key) || done.has(a.key)),
  }
}
