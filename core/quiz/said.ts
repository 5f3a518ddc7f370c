import type { PointDefinition } from '#core/points/shapes/definition'
import type { Question } from '#core/points/shapes/question'

/** Whether something can be said of an answer: what is right, or words of the team's own. */
export const hasSaid = ({ quiz }: Pick<PointDefinition, 'quiz'>, { quiz: own, choices }: Question): boolean => {
  if (!quiz || !own || own.contact) return false
  const meanings = [...choices.flatMap(c => c.quiz ?? []), ...own.bands.map(b => b.quiz)]
  return Boolean(own.said) || meanings.some(m => m.said || (quiz.kind === 'marks' && own.points && m.right))
}
