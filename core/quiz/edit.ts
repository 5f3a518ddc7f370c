import { freshKey, type PointDefinition, type Question } from '#core/points/definition'
import { blankInQuiz, blankMeaning, blankResult } from '#core/quiz/starters'
import type { Suggested } from '#core/quiz/suggest'
import type { Band, InQuiz, Meaning, Quiz, Result } from '#core/quiz/shapes'

// What a marketer does with a quiz. Each gives another definition; what names a result follows it.

const withQuiz = (d: PointDefinition, change: (quiz: Quiz) => Partial<Quiz>): PointDefinition =>
  d.quiz ? { ...d, quiz: { ...d.quiz, ...change(d.quiz) } } : d

/** Changes how a quiz is asked, or what is made of it. */
export const setQuiz = (d: PointDefinition, change: Partial<Quiz>): PointDefinition => withQuiz(d, () => change)

/** Adds a result at the end; of marks one that begins above the last. */
export function addResult(d: PointDefinition, title: string): PointDefinition {
  return withQuiz(d, ({ kind, results }) => {
    const highest = Math.max(0, ...results.map(r => r.from))
    const from = kind === 'marks' && results.length ? Math.min(100, Math.floor((highest + 100) / 2)) : 0
    return {
      results: [
        ...results,
        blankResult(
          freshKey(
            title || 'result',
            results.map(r => r.key),
          ),
          title,
          { from },
        ),
      ],
    }
  })
}
export const changeResult = (d: PointDefinition, key: string, change: Partial<Result>): PointDefinition =>
  withQuiz(d, ({ results }) => ({ results: results.map(r => (r.key === key ? { ...r, ...change } : r)) }))

/** Moves a result by so many places, as far as there are any: of outcomes the order decides ties. */
export function moveResult(d: PointDefinition, key: string, by: number): PointDefinition {
  return withQuiz(d, ({ results }) => {
    const at = results.findIndex(r => r.key === key)
    const to = Math.min(results.length - 1, Math.max(0, at + by))
    return at < 0 ? {} : { results: results.toSpliced(at, 1).toSpliced(to, 0, results[at]!) }
  })
}

/** Takes a result out, and with it the weights that spoke for it. What actions and mails ask of it stays; the checks say so. */
export function removeResult(d: PointDefinition, key: string): PointDefinition {
  const without = (m: Meaning): Meaning => ({ ...m, weights: m.weights.filter(w => w.to !== key) })
  const out = withQuiz(d, ({ results }) => ({ results: results.filter(r => r.key !== key) }))
  return { ...out, questions: out.questions.map(q => withMeanings(q, without)) }
}

/** What a question's choices and bands mean, each changed. */
function withMeanings(q: Question, change: (m: Meaning) => Meaning): Question {
  return {
    ...q,
    choices: q.choices.map(c => (c.quiz ? { ...c, quiz: change(c.quiz) } : c)),
    quiz: q.quiz && { ...q.quiz, bands: q.quiz.bands.map(b => ({ ...b, quiz: change(b.quiz) })) },
  }
}

/** What of a question can be right, or speak for something: its choices, or its bands of numbers. */
export interface Cell {
  /** The choice's place, or the band's. */
  at: number
  name: string
  meaning: Meaning
}

/** The rows of a question in the table of weights; none where nothing can be chosen. */
export function cellsOf(q: Question): Cell[] {
  if (q.quiz?.contact) return []
  if (q.kind === 'number') return (q.quiz?.bands ?? []).map((b, at, all) => ({ at, name: bandName(all, at), meaning: b.quiz }))
  return q.kind === 'one_of' || q.kind === 'some_of'
    ? q.choices.map((c, at) => ({ at, name: c.text, meaning: c.quiz ?? blankMeaning() }))
    : []
}
/** Which numbers a band holds, in words. */
export function bandName(bands: Pick<Band, 'upTo'>[], at: number): string {
  const { upTo } = bands[at]!
  const before = bands[at - 1]?.upTo
  if (upTo === null) return before == null ? 'any number' : `more than ${before}`
  return before == null ? `up to ${upTo}` : `more than ${before}, up to ${upTo}`
}

/** Changes what a choice or band of a question means. */
export function setMeaning(d: PointDefinition, key: string, at: number, change: Partial<Meaning>): PointDefinition {
  return {
    ...d,
    questions: d.questions.map(q => {
      if (q.key !== key) return q
      if (q.kind === 'number')
        return {
          ...q,
          quiz: q.quiz && { ...q.quiz, bands: q.quiz.bands.map((b, n) => (n === at ? { ...b, quiz: { ...b.quiz, ...change } } : b)) },
        }
      // Where only one can be chosen, only one is right.
      const alone = change.right === true && q.kind === 'one_of'
      return {
        ...q,
        choices: q.choices.map((c, n) =>
          n === at
            ? { ...c, quiz: { ...(c.quiz ?? blankMeaning()), ...change } }
            : alone && c.quiz?.right
              ? { ...c, quiz: { ...c.quiz, right: false } }
              : c,
        ),
      }
    }),
  }
}

/** Sets how much a choice speaks for an outcome; 0 takes the weight out. */
export function setWeight(d: PointDefinition, key: string, at: number, to: string, n: number): PointDefinition {
  const q = d.questions.find(o => o.key === key)
  const cell = q && cellsOf(q)[at]
  if (!cell) return d
  const others = cell.meaning.weights.filter(w => w.to !== to)
  return setMeaning(d, key, at, { weights: n ? [...others, { to, n }] : others })
}
export const weightOf = ({ weights }: Meaning, to: string): number => weights.find(w => w.to === to)?.n ?? 0

/** Puts suggested weights in their places. */
export function takeSuggested(d: PointDefinition, cells: Suggested[]): PointDefinition {
  return cells.reduce((now, { question, choice, outcome, now: n }) => {
    const q = now.questions.find(o => o.key === question)
    const at =
      q?.kind === 'number' ? (q.quiz?.bands.findIndex(b => b.key === choice) ?? -1) : (q?.choices.findIndex(c => c.value === choice) ?? -1)
    return at < 0 ? now : setWeight(now, question, at, outcome, n)
  }, d)
}

/** Changes what a question is in its quiz. */
export const setInQuiz = (q: Question, change: Partial<InQuiz>): Question => ({ ...q, quiz: { ...(q.quiz ?? blankInQuiz()), ...change } })

/** Adds a band of numbers behind the others. The last holds all that are left. */
export function addBand(q: Question): Question {
  const bands = q.quiz?.bands ?? []
  const ends = bands.flatMap(b => b.upTo ?? [])
  const next = ends.length ? Math.max(...ends) + 10 : 10
  const band = (upTo: number | null, taken: string[]): Band => ({ key: freshKey('band', taken), upTo, quiz: blankMeaning() })
  const last =
    bands.at(-1)?.upTo === null
      ? bands.at(-1)!
      : band(
          null,
          bands.map(b => b.key),
        )
  const before = bands.filter(b => b !== last)
  return setInQuiz(q, {
    bands: [
      ...before,
      band(
        next,
        [...before, last].map(b => b.key),
      ),
      last,
    ],
  })
}
