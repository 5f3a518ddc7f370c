import { inWords, type Names } from '#core/conditions/words'
import { answerText, type Question } from '#core/points/definition'
import type { Quiz } from '#core/quiz/shapes'
import { inOrder } from '#core/quiz/way'

/** A question on the way through a quiz or form, with what is special about coming to it and going on from it. */
export interface OnWay {
  key: string
  label: string
  /** Not everybody comes to it: a condition asks for it, or a branch leads past it. */
  isAside: boolean
  /** `asked if …`, `goes on with … if …`. */
  notes: string[]
}

const namesOf = (questions: Question[]): Names => {
  const of = (attribute: string) => questions.find(q => attribute === `answer.${q.key}`)
  return {
    attribute: name => {
      const q = of(name)
      return q ? `“${q.label || q.key}”` : 'the answer to a question that was taken out'
    },
    value: (name, value) => {
      const q = of(name)
      return q && typeof value === 'string' ? answerText(q, value) : String(value)
    },
  }
}

/** The questions in the order in which they are asked, with their branches in words. */
export function wayInWords(questions: Question[], quiz: Quiz | null): OnWay[] {
  const order = inOrder(questions, quiz)
  const names = namesOf(questions)
  const label = (key: string) => order.find(q => q.key === key)?.label || key
  const passed = new Set<string>()
  order.forEach((q, at) => {
    for (const { to } of q.quiz?.then ?? []) {
      const end = to === '' ? order.length : order.findIndex(o => o.key === to)
      for (const o of order.slice(at + 1, Math.max(at + 1, end))) if (!o.quiz?.contact) passed.add(o.key)
    }
  })
  return order.map(q => ({
    key: q.key,
    label: q.label || q.key,
    isAside: q.shownIf !== null || passed.has(q.key),
    notes: [
      ...(q.shownIf ? [`asked if ${inWords(q.shownIf, names)}`] : []),
      ...(q.quiz?.then ?? []).map(b => {
        const to = b.to === '' ? (quiz?.contact === 'before' ? 'who they are' : 'the result') : `“${label(b.to)}”`
        return `goes on with ${to}${b.when ? ` if ${inWords(b.when, names)}` : ''}`
      }),
    ],
  }))
}
