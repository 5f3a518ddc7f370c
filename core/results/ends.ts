import { answerText, type Question } from '#core/points/definition'
import { relative, type Relative } from '#core/stats/relative'

/** People who answered so, and how many of them became qualified or were won. */
export interface EndSum {
  question: string
  value: string
  people: number
  qualified: number
  won: number
}
/** The value under which all stand who answered a question at all, each once. */
export const ANYBODY = ''

/** An answer beside what became of those who gave it, against all others who answered the same question. */
export interface AnswerEnds extends EndSum {
  label: string
  text: string
  toQualified: Relative
  toWon: Relative
}

/** Which answers go with becoming qualified or won: what is told most surely first. */
export function endsOf(questions: Question[], sums: EndSum[]): AnswerEnds[] {
  const rows = sums.flatMap((s): AnswerEnds[] => {
    const q = questions.find(o => o.key === s.question)
    if (!q) return []
    const all = sums.find(o => o.question === s.question && o.value === ANYBODY)
    if (s.value === ANYBODY || !all) return []
    const against = (what: 'qualified' | 'won') =>
      relative({ hits: s[what], trials: s.people }, { hits: all[what] - s[what], trials: all.people - s.people })
    return [{ ...s, label: q.label, text: answerText(q, s.value), toQualified: against('qualified'), toWon: against('won') }]
  })
  const surely = ({ toQualified: r }: AnswerEnds) => (r.tooFew ? -1 : Math.max(r.low, 1 / r.high))
  return rows.sort((a, b) => surely(b) - surely(a) || b.people - a.people)
}
