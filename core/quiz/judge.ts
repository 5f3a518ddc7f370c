import type { Answer, Answers, Question } from '#core/points/definition'
import type { Meaning, Quiz, Result } from '#core/quiz/shapes'
import { askedOn, inOrder } from '#core/quiz/way'
import { holds } from '#core/conditions/condition'

/** What was made of somebody's answers. */
export interface Judged {
  /** The key of the result. */
  result: string
  /** Whether another outcome had as much; the order decided. */
  isTie: boolean
  /** What spoke for each outcome; of marks none. */
  sums: Record<string, number>
  /** Marks in hundredths, and how many there were to be had. */
  earned: number
  possible: number
  /** The same by topic. */
  topics: { key: string; earned: number; possible: number }[]
  /** The same by question, of those that score. */
  marks: { key: string; earned: number; possible: number }[]
}

/** The meanings of an answer: of what was chosen, or of the band that a number falls into. */
export function meaningsOf(q: Pick<Question, 'kind' | 'choices' | 'quiz'>, answer: Answer | undefined): Meaning[] {
  if (answer === undefined) return []
  if (q.kind === 'number') {
    const n = Number(String(answer).replace(',', '.'))
    const band = q.quiz?.bands.find(b => b.upTo === null || n <= b.upTo)
    return band && Number.isFinite(n) ? [band.quiz] : []
  }
  const chosen = [answer].flat()
  return q.choices.flatMap(c => (c.quiz && chosen.includes(c.value) ? [c.quiz] : []))
}

/** How many of a question's answers are right. */
const rightOnes = (q: Pick<Question, 'kind' | 'choices' | 'quiz'>): number =>
  q.kind === 'number' ? (q.quiz?.bands.filter(b => b.quiz.right).length ?? 0) : q.choices.filter(c => c.quiz?.right).length

/**
 * Marks in hundredths. Of several right answers each counts its part, less as much for each wrong one, never under nothing; where
 * parts do not count, all must be right and nothing wrong.
 */
export function earnedBy(q: Pick<Question, 'kind' | 'choices' | 'quiz'>, answer: Answer | undefined, partial: boolean): number {
  const right = rightOnes(q)
  const points = 100 * (q.quiz?.points ?? 0)
  if (!right || !points) return 0
  const chosen = meaningsOf(q, answer)
  const hits = chosen.filter(m => m.right).length
  const wrong = (q.kind === 'some_of' ? [answer ?? []].flat().length : chosen.length) - hits
  if (q.kind !== 'some_of') return hits ? points : 0
  if (!partial) return hits === right && wrong === 0 ? points : 0
  return Math.max(0, Math.round((points * (hits - wrong)) / right))
}

/** Marks that were to be had, in hundredths. */
export const possibleOf = (q: Pick<Question, 'kind' | 'choices' | 'quiz'>): number => (rightOnes(q) ? 100 * (q.quiz?.points ?? 0) : 0)

/** The one that is said to who reached such a share: the one that begins highest of those that they reached. */
export function bandFor(results: Pick<Result, 'key' | 'from'>[], earned: number, possible: number): string {
  let best: Pick<Result, 'key' | 'from'> | undefined
  for (const r of results) if (earned * 100 >= r.from * possible && (!best || r.from > best.from)) best = r
  return (best ?? results.reduce((a, b) => (b.from < a.from ? b : a))).key
}

/**
 * What a quiz makes of answers. Only answers to questions that were asked on this way count.
 * @param quiz with at least one result
 */
export function judgeQuiz(quiz: Quiz, questions: Question[], answers: Answers): Judged {
  const asked = askedOn(inOrder(questions, quiz), answers, holds).filter(q => !q.quiz?.contact)
  const sums: Record<string, number> = Object.fromEntries(quiz.kind === 'outcomes' ? quiz.results.map(r => [r.key, 0]) : [])
  const marks: Judged['marks'] = []
  for (const q of asked) {
    const answer = Object.hasOwn(answers, q.key) ? answers[q.key] : undefined
    for (const { weights } of meaningsOf(q, answer)) for (const { to, n } of weights) if (Object.hasOwn(sums, to)) sums[to]! += n
    const possible = possibleOf(q)
    if (quiz.kind === 'marks' && possible) marks.push({ key: q.key, earned: earnedBy(q, answer, quiz.partial), possible })
  }
  const total = (all: { earned: number; possible: number }[]) => ({
    earned: all.reduce((n, m) => n + m.earned, 0),
    possible: all.reduce((n, m) => n + m.possible, 0),
  })
  const topics = quiz.topics.flatMap(t => {
    const own = marks.filter(m => asked.find(q => q.key === m.key)!.quiz?.topic === t.key)
    return own.length ? [{ key: t.key, ...total(own) }] : []
  })
  const { earned, possible } = total(marks)
  if (quiz.kind === 'marks') return { result: bandFor(quiz.results, earned, possible), isTie: false, sums, earned, possible, topics, marks }
  let best = quiz.results[0]!.key
  let isTie = false
  for (const { key } of quiz.results.slice(1)) {
    if (sums[key]! > sums[best]!) {
      best = key
      isTie = false
    } else if (sums[key] === sums[best]) isTie = true
  }
  return { result: best, isTie, sums, earned, possible, topics, marks }
}

/** What a definition makes of answers; null where it is no quiz, or one that has no results yet. */
export const judgedBy = ({ quiz, questions }: { quiz: Quiz | null; questions: Question[] }, answers: Answers): Judged | null =>
  quiz?.results.length ? judgeQuiz(quiz, questions, answers) : null
