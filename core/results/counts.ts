import { summed } from '#core/figures/deltas'
import { bandOf, durationBand } from '#core/results/bands'
import type { AnswerChange } from '#core/events/kinds/corrected'
import type { Answers, Question } from '#core/points/definition'
import type { Judged } from '#core/quiz/judge'
import { madeOf, withMade } from '#core/results/of-quiz'
import { readNumber } from '#core/points/values'

/**
 * What is counted of the entries of a point, day by day and edition by edition. sent: entries, by the page they came from and whether
 * its looks are counted (`yes`). nameless: the same of quizzes that were finished without saying who it is. answer: by question and what was answered; under '' how many answered at all. took: by band of
 * duration.
 */
export const RESULT_FIGURES = ['sent', 'nameless', 'answer', 'took'] as const
export type ResultFigure = (typeof RESULT_FIGURES)[number]

/** So many more, or fewer, of a figure. `day` where the house is, as `2027-03-01`. */
export interface ResultDelta {
  point: string
  figure: ResultFigure
  day: string
  edition: number
  key: string[]
  n: number
}

/** An entry as far as it is counted. */
export interface CountedEntry {
  point: string
  /** The landing page that it came through, by its id. */
  landing: string | null
  edition: number
  day: string
  page: string | null
  /** Whether looks are counted there where it came from: who sent it agreed to that, or it stands on a page of ours. */
  counted: boolean
  tookMs: number | null
  answers: Answers
  /** What a quiz made of it; of a form nothing. */
  judged: Judged | null
}

/** Kinds whose answers are counted one by one; of numbers, bands are; of all others only that there is an answer. */
const ONE_BY_ONE = new Set<Question['kind']>(['one_of', 'some_of', 'yes_no', 'consent'])
const NUMBERS = new Set<Question['kind']>(['number', 'money'])

/** Under which words an answer is counted. */
export function countedAs(question: Pick<Question, 'kind' | 'choices'>, answer: string | string[]): string[] {
  const all = [answer].flat().filter(a => a.trim())
  if (!all.length) return []
  if (question.kind === 'country') return ['', all[0]!.trim().toUpperCase()]
  if (ONE_BY_ONE.has(question.kind)) return ['', ...new Set(all)]
  if (!NUMBERS.has(question.kind)) return ['']
  const number = readNumber(all[0]!.replace(/\p{Sc}|[A-Z]{3}/gu, '').trim())
  return number === null ? [''] : ['', String(bandOf(number).from)]
}

/** What a quiz makes is counted as answers are. */
const MADE = madeOf([{ kind: 'marks', results: [] }])

/**
 * What an entry adds to the figures of its point and, where it came through one, of its landing page.
 * @param figure what it is counted as: who said who they are, or a nameless one
 */
export function deltasOfEntry(entry: CountedEntry, questions: Question[], figure: 'sent' | 'nameless' = 'sent'): ResultDelta[] {
  const { point, landing, day, edition, tookMs } = entry
  const base = { point, day, edition, n: 1 }
  const place = [entry.page ?? '', entry.counted ? 'yes' : '']
  return [
    { ...base, figure, key: place },
    ...(landing ? [{ ...base, point: landing, edition: 0, figure, key: place }] : []),
    ...(tookMs ? [{ ...base, figure: 'took' as const, key: [String(durationBand(tookMs))] }] : []),
    ...answerDeltas(base, entry.judged ? [...MADE, ...questions] : questions, withMade(entry.answers, entry.judged), 1),
  ]
}

/** What a correction changes of them: answers only. */
export function deltasOfCorrection(entry: CountedEntry, questions: Question[], changes: AnswerChange[]): ResultDelta[] {
  const { point, day, edition } = entry
  const side = (which: 'was' | 'now', n: number) => answerDeltas({ point, day, edition }, questions, answersOn(which, changes), n)
  return summed([...side('was', -1), ...side('now', 1)])
}

const answersOn = (side: 'was' | 'now', changes: AnswerChange[]): Answers =>
  Object.fromEntries(changes.flatMap(c => (c.key !== undefined && c[side] !== undefined ? [[c.key, c[side]]] : [])))

/** What an entry said before some corrections, which stand in the order in which they were made. */
export function answersBefore(answers: Answers, corrections: AnswerChange[][]): Answers {
  const before = { ...answers }
  for (const { key, was } of corrections.flat().reverse()) {
    if (key === undefined) continue
    if (was === undefined) delete before[key]
    else before[key] = was
  }
  return before
}

const answerDeltas = (
  base: Pick<ResultDelta, 'point' | 'day' | 'edition'>,
  questions: Question[],
  answers: Answers,
  n: number,
): ResultDelta[] =>
  questions.flatMap(q => {
    const answer = answers[q.key]
    return answer === undefined ? [] : countedAs(q, answer).map(value => ({ ...base, figure: 'answer' as const, key: [q.key, value], n }))
  })
