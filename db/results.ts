import type { Condition } from '#core/conditions/condition'
import type { AnswerChange } from '#core/events/kinds/corrected'
import type { CountedEntry, ResultDelta, ResultFigure } from '#core/results/counts'
import type { Question } from '#core/points/definition'
import type { EndSum } from '#core/results/ends'
import { RESULT } from '#core/results/of-quiz'
import type { Quiz } from '#core/quiz/shapes'
import type { Db, Sql, Tx } from '#db/client'
import { overLeads } from '#db/conditions'

/** An entry as results count it, with the edition whose questions it answers. */
export interface ResultEntry extends CountedEntry {
  id: string
  editionId: string
  isCorrected: boolean
}
/** Where the house is, whose days are meant, and under which address its own pages stand, on which all looks are counted. */
export interface Place {
  zone: string
  home: string
}
/** Looks are counted of who agreed, and of all on our own pages; those stand under our address, or under other names of ours. */
const isCounted = (db: Db, home: string) => db`(e.visitor_id is not null or ${onOurPages(db, home)})`
const onOurPages = (db: Db, home: string) => db`
  (starts_with(coalesce(e.page, ''), ${`${home}/p/`}) or (e.via in ('page', 'frame') and e.page ~ '^https?://[^/]+/p/[a-z0-9-]+([?#]|$)'))`
const entryColumns = (db: Db, { zone, home }: Place) => db`
  e.id, e.point_id as point, e.landing_id as landing, e.edition_id, d.number as edition, (e.at at time zone ${zone})::date::text as day,
  split_part(e.page, '?', 1) as page, ${isCounted(db, home)} as counted, e.took_ms, e.answers, e.result as judged,
  e.corrected_at is not null as is_corrected`

/** Entries by their ids. */
export const entriesToCount = (db: Db, ids: string[], place: Place) => db<ResultEntry[]>`
  select ${entryColumns(db, place)} from entry e join edition d on d.id = e.edition_id where e.id = any(${ids}::uuid[])`

/** Quizzes finished by somebody nameless that are not counted yet, or are and should not be. @param point only of this one */
export const namelessToCount = (db: Db, { zone, home }: Place, of: { point?: string; most?: number; locked?: boolean } = {}) => db<
  (CountedEntry & { id: string; editionId: string; hasEntry: boolean; wasCounted: boolean })[]
>`
  select e.id, e.point_id as point, e.landing_id as landing, e.edition_id, d.number as edition, (e.at at time zone ${zone})::date::text as day,
    split_part(e.page, '?', 1) as page, ${onOurPages(db, home)} as counted, e.took_ms, e.answers, e.result as judged,
    e.entry_id is not null as has_entry, e.counted as was_counted
  from nameless e join edition d on d.id = e.edition_id
  where (not e.counted or e.entry_id is not null) ${of.point ? db`and (e.point_id = ${of.point} or e.landing_id = ${of.point})` : db``}
  order by e.id ${of.most ? db`limit ${of.most}` : db``} ${of.locked ? db`for update of e skip locked` : db``}`

/** The questions of editions, by the edition's id. */
export async function questionsOf(db: Db, editions: string[]): Promise<Map<string, Question[]>> {
  if (!editions.length) return new Map()
  const rows = await db<{ id: string; questions: Question[] }[]>`
    select id, definition -> 'questions' as questions from edition where id = any(${[...new Set(editions)]}::uuid[])`
  return new Map(rows.map(r => [r.id, r.questions]))
}

/** How entries were corrected, each in the order in which that happened. */
export const correctionsOf = (db: Db, entries: string[]) => db<{ entry: string; answers: AnswerChange[] }[]>`
  select c.changes -> 'corrected' ->> 'entry' as entry, c.changes -> 'corrected' -> 'answers' as answers
  from entry e
  cross join lateral (select e.lead_id as lead union select e.told_with union select gone from lead_merge where root = e.lead_id) w
  join lead_event c on c.lead_id = w.lead and c.cause = 'correction' and c.changes -> 'corrected' ->> 'entry' = e.id::text
  where e.id = any(${entries}::uuid[]) order by c.lead_id, c.version`

/** Adds to what is counted. */
export async function addResults(tx: Tx, deltas: ResultDelta[]): Promise<void> {
  if (!deltas.length) return
  const rows = deltas as never
  await tx`
    insert into result_count as c (point_id, figure, day, edition, key, n)
    select point, figure, day, edition, key, n
    from jsonb_to_recordset(${rows}::jsonb) as r(point uuid, figure text, day date, edition int, key text[], n bigint) order by 1, 2, 3, 4, 5
    on conflict (point_id, figure, day, edition, key) do update set n = c.n + excluded.n`
  await tx`
    delete from result_count c using jsonb_to_recordset(${rows}::jsonb) as r(point uuid, figure text, day date, edition int, key text[])
    where c.point_id = r.point and c.figure = r.figure and c.day = r.day and c.edition = r.edition and c.key = r.key and c.n = 0`
}

/** Of which days, and of which edition only; both days are counted. */
export interface Period {
  from: string
  to: string
  edition?: number | null
}
const within = (db: Db, { from, to, edition }: Period) => db`day between ${from} and ${to} ${edition ? db`and edition = ${edition}` : db``}`

/** What was counted of a point: sent by day, edition and page (what does not apply is null), and answers and times over all of them. */
export async function countedResults(db: Db, point: string, period: Period) {
  const [sent, others] = await Promise.all([
    db<{ figure: 'sent' | 'nameless'; day: string | null; edition: number | null; page: string | null; counted: string; n: number }[]>`
      select figure, day::text, edition, key[1] as page, key[2] as counted, sum(n)::int as n from result_count
      where point_id = ${point} and figure in ('sent', 'nameless') and ${within(db, period)}
      group by grouping sets ((figure, day, key[2]), (figure, edition, key[2]), (figure, key[1], key[2]))`,
    db<{ figure: ResultFigure; key: string[]; n: number }[]>`
      select figure, key, sum(n)::int as n from result_count
      where point_id = ${point} and figure in ('answer', 'took') and ${within(db, period)} group by figure, key`,
  ])
  return { sent, others }
}

/** What was seen and begun of a point, by day, by edition and by page. */
export const countedLooks = (db: Db, point: string, period: Period) => db<
  { day: string | null; edition: number | null; page: string | null; seen: number; begun: number }[]
>`
  select day::text, edition, page, sum(seen)::int as seen, sum(started)::int as begun from point_count
  where point_id = ${point} and ${within(db, period)} group by grouping sets ((day), (edition), (page))`

/** How far people came, question by question. */
export const countedQuestions = (db: Db, point: string, period: Period) => db<{ question: string; reached: number; stopped: number }[]>`
  select question, sum(reached)::int as reached, sum(stopped)::int as stopped from point_question
  where point_id = ${point} and ${within(db, period)} group by question`

/** Entries of a point in a period, by when they came (days where the house is), of people of whom a condition holds. */
const matching = (db: Db, of: Entries) => db`
  ${of.isLanding ? db`e.landing_id` : db`e.point_id`} = ${of.point} and e.state = 'complete'
  and e.at >= (${of.from}::date at time zone ${of.zone}) and e.at < ((${of.to}::date + 1) at time zone ${of.zone})
  ${of.answer ? (of.answer.question === RESULT ? db`and e.result ->> 'result' = ${of.answer.value}` : db`and e.answers -> ${of.answer.question} ? ${of.answer.value}`) : db``}
  ${of.edition ? db`and d.number = ${of.edition}` : db``}
  ${of.condition ? db`and exists (select from lead l where l.id = e.lead_id and ${overLeads(db, of.condition, of.now)})` : db``}`

export interface Entries extends Period, Place {
  point: string
  /** It is a landing page: what came through it counts, to whichever form. */
  isLanding: boolean
  /** Expanded: it names no segments. */
  condition: Condition | null
  now: number
  /** Only those that answer so: the value of a choice. */
  answer?: { question: string; value: string }
}

/** All entries that match, in pieces. */
export const entriesMatching = (db: Db, of: Entries) =>
  db<ResultEntry[]>`
  select ${entryColumns(db, of)} from entry e join edition d on d.id = e.edition_id where ${matching(db, of)}`.cursor(2000)

/** Somebody who answered, with what they said. */
export interface Respondent extends ResultEntry {
  at: Date
  leadId: string
  email: string | null
  firstName: string | null
  lastName: string | null
  company: string | null
  label: string | null
  utm: Record<string, string>
  referrer: string | null
  landingName: string | null
}
const respondents = (db: Db, of: Entries, more = db``) => db<Respondent[]>`
  select ${entryColumns(db, of)}, e.at, e.lead_id, e.utm, e.referrer, w.email, w.first_name, w.last_name, w.company, w.label, p.name as landing_name
  from entry e join edition d on d.id = e.edition_id join lead w on w.id = e.lead_id left join point p on p.id = e.landing_id
  where ${matching(db, of)} ${more}`
/** The latest who answered, before a place: the entry behind which the list goes on. */
export const respondentsBefore = (db: Db, of: Entries, before: { at: Date; id: string } | null, most: number) =>
  respondents(
    db,
    of,
    db`${before ? db`and (e.at, e.id) < (${before.at}, ${before.id}::uuid)` : db``} order by e.at desc, e.id desc limit ${most}`,
  )
/** All who answered, the latest first, in pieces. */
export const allRespondents = (db: Sql | Db, of: Entries) =>
  respondents(db as Db, of, (db as Db)`order by e.at desc, e.id desc`).cursor(1000)

/**
 * What became of those who answered so, each person once: ever qualified, ever won. Of each question, all who answered it stand under
 * `''`. Somebody who answered twice stands under each of their answers.
 * @param questions by key; what a quiz came to is one of them
 */
export const endsByAnswer = (db: Db, of: Entries, questions: string[]) => db<EndSum[]>`
  with own as (
    select e.lead_id, q.key as question, q.value
    from entry e join edition d on d.id = e.edition_id,
      jsonb_each(e.answers || coalesce(jsonb_build_object(${RESULT}::text, e.result -> 'result'), '{}')) q
    where ${matching(db, of)} and q.key = any(${questions}::text[])
  ), said as (
    select lead_id, question, value #>> '{}' as value from own where jsonb_typeof(value) = 'string'
    union select lead_id, question, jsonb_array_elements_text(value) from own where jsonb_typeof(value) = 'array'
    union select lead_id, question, '' from own where jsonb_typeof(value) in ('string', 'array')
  )
  select s.question, s.value, count(*)::int as people, count(*) filter (where l.counted ? 'qualified')::int as qualified,
    count(*) filter (where l.counted -> 'last' ? 'won')::int as won
  from said s join lead l on l.id = s.lead_id group by s.question, s.value`

/** The editions of a point, the first one first. */
export const editionsOf = (db: Db, point: string) => db<
  { id: string; number: number; publishedAt: Date; questions: Question[]; quiz: Quiz | null }[]
>`
  select id, number, made_at as published_at, definition -> 'questions' as questions, nullif(definition -> 'quiz', 'null') as quiz from edition where point_id = ${point} order by number`

/** Adds to how far people came. */
export interface QuestionCount {
  point: string
  edition: number
  question: string
  day: string
  reached: number
  stopped: number
}
export const addQuestions = (tx: Db, rows: QuestionCount[]) => tx`
  insert into point_question as c (point_id, edition, question, day, reached, stopped)
  select point, edition, question, day, reached, stopped
  from jsonb_to_recordset(${rows as never}::jsonb) as r(point uuid, edition int, question text, day date, reached int, stopped int) order by 1, 4, 2, 3
  on conflict (point_id, day, edition, question) do update set reached = c.reached + excluded.reached, stopped = c.stopped + excluded.stopped`
