import { bandOf, medianOf } from '#core/results/bands'
import { answerText, type Question } from '#core/points/definition'
import { proportion, type Proportion } from '#core/stats/proportion'

/** So many saw it, began it and sent it; `counted` of those who finished it came from where looks are counted. */
export interface Passing {
  seen: number
  begun: number
  sent: number
  /** Of a quiz: who finished it and did not say who they are. */
  nameless: number
  /** Of both. */
  counted: number
}
export interface PassingOf extends Passing {
  /** Of those who saw it, who finished it. */
  rate: Proportion
}

export interface AnswerCounts {
  question: string
  label: string
  kind: Question['kind']
  answered: number
  /** Counted one by one, the most frequent first, or in bands in their order; empty for words of their own. */
  rows: { value: string; text: string; n: number }[]
}
export interface Stop {
  question: string
  label: string
  /** Who came past it, and who left at it. */
  reached: number
  stopped: number
}

/** Results of a point. Looks are null where only people of whom something is known are counted. */
export interface Results {
  all: Passing
  looks: boolean
  /** Half of them took no longer, in milliseconds. */
  medianMs: number | null
  days: ({ day: string } & Passing)[]
  pages: ({ page: string } & PassingOf)[]
  editions: ({ edition: number } & PassingOf)[]
  stops: Stop[]
  answers: AnswerCounts[]
}

/** Sums by one of day, edition and page; the others are null. */
export interface SentSum {
  figure: 'sent' | 'nameless'
  day: string | null
  edition: number | null
  page: string | null
  counted: string
  n: number
}
export interface LookSum {
  day: string | null
  edition: number | null
  page: string | null
  seen: number
  begun: number
}
export interface OtherSum {
  figure: string
  key: string[]
  n: number
}
export interface QuestionSum {
  question: string
  reached: number
  stopped: number
}

/** A question in the latest words in which it was asked, with all choices that it ever offered. */
export function questionsAsked(editions: { questions: Question[] }[]): Question[] {
  const asked = new Map<string, Question>()
  for (const { questions } of editions) {
    for (const q of questions) {
      const before = asked.get(q.key)
      const dropped = before?.choices.filter(c => !q.choices.some(o => o.value === c.value)) ?? []
      asked.delete(q.key)
      asked.set(q.key, { ...q, choices: [...q.choices, ...dropped] })
    }
  }
  // Those of the latest edition first, in its order; behind them what is asked no more.
  const latest = editions.at(-1)?.questions.map(q => q.key) ?? []
  const gone = [...asked.keys()].filter(key => !latest.includes(key))
  return [...latest, ...gone].map(key => asked.get(key)!)
}

/** Puts results together. @param days all days of the period, in their order */
export function resultsOf(
  sums: { sent: SentSum[]; looks: LookSum[] | null; others: OtherSum[]; stops: QuestionSum[] },
  questions: Question[],
  days: string[],
): Results {
  const { looks } = sums
  const by = <K extends 'day' | 'edition' | 'page'>(what: K) => {
    const rows = new Map<NonNullable<SentSum[K]>, Passing>()
    const at = (key: NonNullable<SentSum[K]>) => {
      const row = rows.get(key) ?? { ...NOBODY }
      rows.set(key, row)
      return row
    }
    for (const s of sums.sent) {
      if (s[what] === null) continue
      const row = at(s[what])
      row[s.figure] += s.n
      if (s.counted) row.counted += s.n
    }
    for (const l of looks ?? []) {
      if (l[what] === null) continue
      const row = at(l[what] as NonNullable<SentSum[K]>)
      row.seen += l.seen
      row.begun += l.begun
    }
    return rows
  }
  const perDay = by('day')
  const all = [...perDay.values()].reduce(added, NOBODY)
  const others = (figure: string) => sums.others.filter(o => o.figure === figure)
  const took = new Map<number, number>()
  for (const {
    key: [band],
    n,
  } of others('took'))
    took.set(Number(band), (took.get(Number(band)) ?? 0) + n)
  const stops = new Map(sums.stops.map(s => [s.question, s]))
  return {
    all,
    looks: looks !== null,
    medianMs: medianOf(took),
    days: days.map(day => ({ day, ...(perDay.get(day) ?? NOBODY) })),
    pages: [...by('page')].map(([page, p]) => ({ page, ...rated(p) })).sort((a, b) => b.sent - a.sent || b.seen - a.seen),
    editions: [...by('edition')]
      .filter(([edition]) => edition > 0)
      .map(([edition, p]) => ({ edition, ...rated(p) }))
      .sort((a, b) => b.edition - a.edition),
    stops: questions.flatMap(({ key, label }) => {
      const s = stops.get(key)
      return s ? [{ question: key, label, reached: s.reached, stopped: s.stopped }] : []
    }),
    answers: answersCounted(others('answer'), questions),
  }
}

const NOBODY: Passing = { seen: 0, begun: 0, sent: 0, nameless: 0, counted: 0 }
const added = (a: Passing, b: Passing): Passing => ({
  seen: a.seen + b.seen,
  begun: a.begun + b.begun,
  sent: a.sent + b.sent,
  nameless: a.nameless + b.nameless,
  counted: a.counted + b.counted,
})
const rated = (p: Passing): PassingOf => ({ ...p, rate: share(p.counted, p.seen) })
/** A look may be lost on its way, and what came of it not: no more than all. */
const share = (hits: number, trials: number) => proportion(Math.min(hits, trials), trials)

function answersCounted(sums: OtherSum[], questions: Question[]): AnswerCounts[] {
  const byQuestion = new Map<string, Map<string, number>>()
  for (const {
    key: [question, value],
    n,
  } of sums) {
    const counts = byQuestion.get(question!) ?? new Map<string, number>()
    byQuestion.set(question!, counts.set(value!, (counts.get(value!) ?? 0) + n))
  }
  return questions.map(q => {
    const counts = byQuestion.get(q.key) ?? new Map<string, number>()
    const isNumber = q.kind === 'number' || q.kind === 'money'
    const given = [...counts].filter(([value, n]) => value && n > 0)
    const offered =
      q.kind === 'one_of' || q.kind === 'some_of'
        ? q.choices.filter(c => !counts.get(c.value)).map((c): [string, number] => [c.value, 0])
        : []
    const rows = [...given, ...offered].map(([value, n]) => ({ value, text: isNumber ? bandText(Number(value)) : answerText(q, value), n }))
    rows.sort((a, b) => (isNumber ? Number(a.value) - Number(b.value) : b.n - a.n || a.text.localeCompare(b.text)))
    return { question: q.key, label: q.label, kind: q.kind, answered: counts.get('') ?? 0, rows }
  })
}

/** A band in words, by where it begins. */
function bandText(from: number): string {
  // Below zero a band begins at its far end: what is just above it lies in it.
  const { to } = bandOf(from < 0 ? from * (1 - 1e-9) : from)
  const text = (n: number) => n.toLocaleString('en')
  return `${text(from)} to under ${text(to)}`
}
