import type { Attribute } from '~/components/ConditionTree.vue'
import { choicesOf, type PointDefinition } from '#core/points/definition'

/** What conditions of a point's own may ask for: what was answered here, and the lead. */
export function useEntryAttributes(definition: Readonly<Ref<PointDefinition>>) {
  const { leadAttributes, activityAttributes } = useLeadAttributes()
  const attributes = computed<Attribute[]>(() => [
    ...definition.value.questions.map(q => ({ name: `answer.${q.key}`, label: q.label || q.key, kind: q.kind, choices: choicesOf(q) })),
    ...ofQuiz(definition.value),
    ...leadAttributes.value,
  ])
  return { attributes, activityAttributes }
}

/** What conditions may ask of a quiz: what people came to. */
function ofQuiz({ quiz }: PointDefinition): Attribute[] {
  if (!quiz) return []
  const number = (name: string, label: string): Attribute => ({ name, label, kind: 'number', choices: [] })
  return [
    {
      name: 'quiz.result',
      label: 'Result of the quiz',
      kind: 'one_of',
      choices: quiz.results.map(r => ({ value: r.key, text: r.title || r.key })),
    },
    ...(quiz.kind === 'marks' ? [number('quiz.share', 'Percent of the marks'), number('quiz.points', 'Points reached')] : []),
  ]
}
