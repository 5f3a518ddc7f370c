import { DateTime } from 'luxon'
import type { Tx } from '#db/client'
import { addCount, type Count } from '#db/places'
import { addQuestions, type QuestionCount } from '#db/results'

/** A point that looks name, with what it tries. */
export interface NamedPoint {
  id: string
  edition: number
  experiment: string | null
  variants: string[]
  /** The keys of what it asks. */
  questions: ReadonlySet<string>
}

/** One thing that somebody did with a point. */
export interface Look {
  kind: string
  /** Where it stood, without the query. */
  page: string
  edition?: number
  question?: string
  /** They were at the question for the first time. */
  first?: true
}

/** A look at a point, told without saying who looks: its key, or for a landing page its path. */
export interface ToldLook {
  point: string
  look: Look
}

/** The day of a moment, where the house is. */
export const dayIn = (zone: string, at: Date): string => DateTime.fromJSDate(at, { zone }).toISODate()!

/** Gathers looks of a day, which are then kept as sums: in one order, so that two who keep some never wait for each other. */
export function newLooks(day: string) {
  const counts = new Map<string, Count>()
  const questions = new Map<string, QuestionCount>()

  function add(point: NamedPoint, { kind, page, edition: said, question, first }: Look): void {
    const edition = Math.min(said ?? point.edition, point.edition)
    if (kind === 'seen' || kind === 'started') {
      const key = `${point.id} ${edition} ${page}`
      const sum = counts.get(key) ?? { point: point.id, edition, page, day, seen: 0, started: 0 }
      sum[kind]++
      counts.set(key, sum)
    } else if (question && point.questions.has(question) && ((kind === 'question' && first) || kind === 'left')) {
      const key = `${point.id} ${edition} ${question}`
      const sum = questions.get(key) ?? { point: point.id, edition, question, day, reached: 0, stopped: 0 }
      sum[kind === 'left' ? 'stopped' : 'reached']++
      questions.set(key, sum)
    }
  }

  async function keep(tx: Tx): Promise<void> {
    for (const [, sum] of [...counts].sort(([a], [b]) => (a < b ? -1 : 1))) await addCount(tx, sum)
    if (questions.size) await addQuestions(tx, [...questions.values()])
  }
  return { add, keep }
}
