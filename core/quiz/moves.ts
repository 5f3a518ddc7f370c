import { attributesIn } from '#core/conditions/condition'
import type { PointDefinition } from '#core/points/shapes/definition'
import type { Question } from '#core/points/shapes/question'

/** Whether a question may change its place with its neighbours: no condition asks for its answer, and no branch begins or ends at it. */
export function mayMove({ questions }: Pick<PointDefinition, 'questions'>, q: Question): boolean {
  const named = `answer.${q.key}`
  if (q.quiz?.contact || q.hidden || q.shownIf || q.quiz?.then.length) return false
  return !questions.some(
    o =>
      (o.shownIf && attributesIn(o.shownIf).includes(named)) ||
      o.quiz?.then.some(b => b.to === q.key || (b.when && attributesIn(b.when).includes(named))),
  )
}
