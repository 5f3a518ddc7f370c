import { IsInt, IsObject, IsOptional, Matches, Max, Min } from 'class-validator'
import { DateTime } from 'luxon'
import type { Condition } from '#core/conditions/condition'
import type { Question } from '#core/points/definition'
import { deltasOfEntry, type ResultDelta } from '#core/results/counts'
import { questionsAsked, resultsOf, type OtherSum, type Results, type SentSum } from '#core/results/results'
import { madeOf } from '#core/results/of-quiz'
import { expanded } from '#core/segments/segment'
import { anyById } from '#db/points'
import { countedLooks, countedQuestions, countedResults, editionsOf, entriesMatching, questionsOf, type Entries } from '#db/results'
import type { Sql } from '#db/client'
import { withResults } from '#server/consumers/results'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { ownAddress } from '#server/settings'
import { readTests } from '#server/segments/read'

const DAY = /^\d{4}-\d{2}-\d{2}$/

/** Of whom results are wanted: of some days, of one edition only, of people of whom a condition holds. */
export class GroupBody {
  @Matches(DAY) from!: string
  @Matches(DAY) to!: string
  @IsOptional() @IsInt() @Min(1) @Max(1_000_000) edition?: number | null
  @IsOptional() @IsObject() condition?: object | null
}

const MOST_DAYS = 3660

/** A group as it is read from the database. @throws 422 when there are no such days, or too many */
export function entriesOf({ id, kind }: { id: string; kind: string }, group: GroupBody, ruleset: Ruleset): Entries {
  const { zone } = ruleset.house
  const [from, to] = [group.from, group.to].map(day => DateTime.fromISO(day, { zone })) as [DateTime, DateTime]
  const wrong = (message: string) => problem(422, message, [{ field: 'from', message }])
  if (!from.isValid || !to.isValid) throw wrong('These are no days. Choose them in the calendar.')
  if (to < from) throw wrong('The last day lies before the first. Choose them the other way round.')
  if (to.diff(from, 'days').days > MOST_DAYS) throw wrong('At most ten years can be looked at in one go.')
  const condition = group.condition ? expanded(readTests(group.condition, ruleset), ruleset.segments) : null
  return {
    point: id,
    isLanding: kind === 'page',
    from: group.from,
    to: group.to,
    edition: group.edition ?? null,
    zone,
    home: ownAddress(),
    condition: condition as Condition | null,
    now: Date.now(),
  }
}

/** A form or page by its id. @throws 404 */
export async function pointToRead(sql: Sql, id: string) {
  const point = await anyById(sql, id)
  if (!point) throw problem(404, 'There is no such form or page.')
  return point
}

/** What a form ever asked, in the words of today, with its editions; a page asks nothing. */
export async function everAsked(sql: Sql, { id, kind }: { id: string; kind: string }) {
  const editions = kind !== 'page' ? await editionsOf(sql, id) : []
  return { editions, questions: [...madeOf(editions.map(e => e.quiz)), ...questionsAsked(editions)] }
}

/** Questions whose answers stand in lists and leave with tables: not what is sensitive (health, beliefs, money troubles). */
export const ofAll = (questions: Question[], { properties }: Ruleset): Question[] =>
  questions.filter(q => !properties.some(p => p.key === q.property && p.sensitivity === 'sensitive'))

/** All days of a period. */
export function daysOf({ from, to, zone }: Pick<Entries, 'from' | 'to' | 'zone'>): string[] {
  const days: string[] = []
  const last = DateTime.fromISO(to, { zone })
  for (let day = DateTime.fromISO(from, { zone }); day <= last; day = day.plus({ days: 1 })) days.push(day.toISODate()!)
  return days
}

/** Results of a group. Where only some people are meant, their entries are read one by one, and looks, which have no people, are left out. */
export async function readResults(sql: Sql, of: Entries, questions: Question[]): Promise<Results & { behind: boolean }> {
  const days = daysOf(of)
  if (of.condition) return { ...resultsOf({ ...sumsOf(await deltasOf(sql, of)), looks: null, stops: [] }, questions, days), behind: false }
  const { read, pending, behind } = await withResults(sql, of.zone, of.point, async tx => {
    const [counted, looks, stops] = await Promise.all([
      countedResults(tx, of.point, of),
      countedLooks(tx, of.point, of),
      countedQuestions(tx, of.point, of),
    ])
    return { counted, looks, stops }
  })
  const since = sumsOf(pending.filter(d => d.day >= of.from && d.day <= of.to && (!of.edition || d.edition === of.edition)))
  const { counted, looks, stops } = read
  return {
    ...resultsOf({ sent: [...counted.sent, ...since.sent], others: [...counted.others, ...since.others], looks, stops }, questions, days),
    behind,
  }
}

/** What entries that are read one by one come to. */
async function deltasOf(sql: Sql, of: Entries): Promise<ResultDelta[]> {
  const asked = new Map<string, Question[]>()
  const deltas: ResultDelta[] = []
  for await (const some of entriesMatching(sql, of)) {
    const unknown = some.map(e => e.editionId).filter(id => !asked.has(id))
    for (const [id, questions] of await questionsOf(sql, unknown)) asked.set(id, questions)
    for (const entry of some) deltas.push(...deltasOfEntry(entry, asked.get(entry.editionId) ?? []).filter(d => d.point === of.point))
  }
  return deltas
}

/** Deltas as sums by day, by edition, by page, and of all else. */
function sumsOf(deltas: ResultDelta[]): { sent: SentSum[]; others: OtherSum[] } {
  const sent: SentSum[] = []
  const others: OtherSum[] = []
  const none = { day: null, edition: null, page: null }
  for (const { figure, day, edition, key, n } of deltas) {
    if (figure !== 'sent' && figure !== 'nameless') {
      others.push({ figure, key, n })
      continue
    }
    const [page, counted] = key as [string, string]
    sent.push({ ...none, figure, day, counted, n }, { ...none, figure, edition, counted, n }, { ...none, figure, page, counted, n })
  }
  return { sent, others }
}
