import type { Answers, Question } from '#core/points/definition'
import { meaningsOf } from '#core/quiz/judge'
import type { Quiz } from '#core/quiz/shapes'
import { askedOn, inOrder } from '#core/quiz/way'
import { holds } from '#core/conditions/condition'

/** Somebody made up, by their answers, and the outcome that they should get. */
export interface Wish {
  answers: Answers
  outcome: string
}

/** A weight that is suggested: of a choice's value, or a band's key, for an outcome. */
export interface Suggested {
  question: string
  choice: string
  outcome: string
  before: number
  now: number
}

export type Suggestion =
  | { kind: 'weights'; /** By how much each wished outcome is ahead at least. */ margin: number; changed: Suggested[]; cells: Suggested[] }
  /** Wishes, by their place, that no weights can fulfil together; each two or more of them less could be. */
  | { kind: 'contradict'; wishes: number[] }
  /** They could be fulfilled, but not by weights as small as these. */
  | { kind: 'too small'; most: number }

/** Solves a linear program in the CPLEX LP format: values by name, or null when there is no solution, or none was found in time. */
export type Solver = (program: string, whole: boolean) => ReadonlyMap<string, number> | null

/** The largest weight that is suggested first, and where that does not do. */
const MOST = [3, 5, 9]

interface Cell {
  name: string
  question: string
  choice: string
  outcome: string
  before: number
}

/**
 * Whole weights from 0 on, by which everybody described gets the outcome that they should, each as far ahead of the others as can be
 * (the largest smallest margin), and of those the ones that change least. Weights of choices that nobody described has made stay.
 * @param wishes for outcomes that there are
 */
export function suggestWeights(quiz: Quiz, questions: Question[], wishes: Wish[], solve: Solver): Suggestion {
  const { cells, rows } = programOf(quiz, questions, wishes)
  const all = rows.map((_, i) => i)
  if (!isPossible(rows, all, solve)) return { kind: 'contradict', wishes: smallestContradiction(rows, all, solve) }
  for (const most of MOST) {
    const far = solve(
      text('Maximize', 'm', marginRows(rows, 'm'), bounds(cells, most, most * questions.length), [...names(cells), 'm']),
      true,
    )
    const margin = Math.round(far?.get('m') ?? 0)
    if (margin < 1) continue
    const near = solve(nearest(cells, rows, most, margin), true) ?? far!
    const found = cells.map(({ name, ...cell }) => ({ ...cell, now: Math.round(near.get(name) ?? 0) }))
    return { kind: 'weights', margin, cells: found, changed: found.filter(c => c.now !== c.before) }
  }
  return { kind: 'too small', most: MOST.at(-1)! }
}

/** By how much an outcome is ahead of another, as a sum of cells; one list of such a wish. */
type Row = string[]

function programOf(quiz: Quiz, questions: Question[], wishes: Wish[]): { cells: Cell[]; rows: Row[][] } {
  const cells = new Map<string, Cell>()
  const rows = wishes.map(({ answers, outcome }) => {
    const sums = new Map<string, string[]>(quiz.results.map(r => [r.key, []]))
    for (const q of askedOn(inOrder(questions, quiz), answers, holds)) {
      if (q.quiz?.contact) continue
      for (const { key, weights } of chosenOf(q, answers))
        for (const r of quiz.results) {
          const id = JSON.stringify([q.key, key, r.key])
          const before = weights.find(w => w.to === r.key)?.n ?? 0
          if (!cells.has(id)) cells.set(id, { name: `x${cells.size}`, question: q.key, choice: key, outcome: r.key, before })
          sums.get(r.key)!.push(cells.get(id)!.name)
        }
    }
    return quiz.results
      .filter(r => r.key !== outcome)
      .map(r => [...sums.get(outcome)!.map(x => `+ ${x}`), ...sums.get(r.key)!.map(x => `- ${x}`)])
  })
  return { cells: [...cells.values()], rows }
}

/** What was chosen of a question, by value or by the key of the band. */
function chosenOf(q: Question, answers: Answers): { key: string; weights: { to: string; n: number }[] }[] {
  const answer = Object.hasOwn(answers, q.key) ? answers[q.key] : undefined
  if (answer === undefined) return []
  if (q.kind === 'number') {
    const [meant] = meaningsOf(q, answer)
    const band = q.quiz?.bands.find(b => b.quiz === meant)
    return band ? [{ key: band.key, weights: band.quiz.weights }] : []
  }
  if (q.kind !== 'one_of' && q.kind !== 'some_of') return []
  return q.choices.filter(c => [answer].flat().includes(c.value)).map(c => ({ key: c.value, weights: c.quiz?.weights ?? [] }))
}

const marginRows = (rows: Row[][], margin: string): string[] => rows.flat().map(row => `${row.join(' ') || '0 m'} - ${margin} >= 0`)
const names = (cells: Cell[]) => cells.map(c => c.name)
const bounds = (cells: Cell[], most: number, margin: number) => [...cells.map(c => `0 <= ${c.name} <= ${most}`), `0 <= m <= ${margin}`]

/** The program in which weights change as little as can be, with the margin kept. */
function nearest(cells: Cell[], rows: Row[][], most: number, margin: number): string {
  const far = cells.flatMap(({ name, before }) => [`d${name} - ${name} >= ${-before}`, `d${name} + ${name} >= ${before}`])
  const ahead = rows.flat().map(row => `${row.join(' ')} >= ${margin}`)
  return text(
    'Minimize',
    cells.map(c => `+ d${c.name}`).join(' '),
    [...ahead, ...far],
    cells.map(c => `0 <= ${c.name} <= ${most}`),
    names(cells),
  )
}

/** Whether some weights, however large, fulfil these wishes. */
function isPossible(rows: Row[][], wishes: number[], solve: Solver): boolean {
  const chosen = wishes.flatMap(i => rows[i]!)
  if (chosen.some(row => !row.length)) return false
  return (
    solve(
      text(
        'Minimize',
        '0 m',
        chosen.map(row => `${row.join(' ')} >= 1`),
        ['0 <= m <= 0'],
        [],
      ),
      false,
    ) !== null
  )
}

/** Takes out each wish without which the others still contradict each other (a deletion filter). */
function smallestContradiction(rows: Row[][], wishes: number[], solve: Solver): number[] {
  let left = wishes
  for (const i of wishes) {
    const without = left.filter(w => w !== i)
    if (without.length && !isPossible(rows, without, solve)) left = without
  }
  return left
}

const text = (sense: string, objective: string, rows: string[], bounds: string[], whole: string[]): string =>
  [
    sense,
    ` obj: ${objective}`,
    'Subject To',
    ...rows.map((row, i) => ` c${i}: ${row}`),
    'Bounds',
    ...bounds.map(b => ` ${b}`),
    ...(whole.length ? ['General', ` ${whole.join(' ')}`] : []),
    'End',
  ].join('\n')
