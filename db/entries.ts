import type { Language } from '#core/languages/language'
import { mailboxOf } from '#core/identity/email'
import type { Answers, Question } from '#core/points/definition'
import type { Judged } from '#core/quiz/judge'
import type { AnswerInWords } from '#core/timeline'
import type { Db } from '#db/client'

export interface EntryRow {
  id: string
  leadId: string | null
  pointId: string
  pointKey: string
  pointName: string
  slug: string
  edition: number
  at: Date
  state: string
  answers: Answers
  archived: boolean
  /** The one of its point's languages that it was answered in; null for the point's own. */
  language: Language | null
  /** What a quiz made of it; of a form nothing. */
  result: Judged | null
}

export async function entryById(db: Db, id: string): Promise<EntryRow | undefined> {
  return (
    await db<EntryRow[]>`
    select e.id, e.lead_id, e.point_id, p.key as point_key, p.name as point_name, p.slug, d.number as edition, e.at, e.state, e.answers, p.archived_at is not null as archived, e.language, e.result
    from entry e join point p on p.id = e.point_id join edition d on d.id = e.edition_id where e.id = ${id}`
  )[0]
}

/** What entries say: their answers, the questions of the edition that they answer, and their files. */
export async function answersOfEntries(db: Db, ids: string[]): Promise<Map<string, EntryAnswers>> {
  if (!ids.length) return new Map()
  const entries = await db<(Omit<EntryAnswers, 'questions' | 'edition'> & { id: string; editionId: string })[]>`
    select e.id, e.edition_id, e.answers, e.first_answers, e.page, p.name as point,
      case when e.result is not null then jsonb_build_object('earned', e.result -> 'earned', 'possible', e.result -> 'possible', 'title', coalesce(
        (select r ->> 'title' from edition d, jsonb_array_elements(d.definition -> 'quiz' -> 'results') r where d.id = e.edition_id and r ->> 'key' = e.result ->> 'result'), '')) end as outcome,
      coalesce((select jsonb_agg(jsonb_build_object('id', f.id, 'question', f.question, 'name', f.name) order by f.id) from file f where f.entry_id = e.id), '[]') as files
    from entry e join point p on p.id = e.point_id where e.id = any(${ids}::uuid[])`
  const editions = await db<
    { id: string; number: number; questions: Question[] }[]
  >`select id, number, definition -> 'questions' as questions from edition where id = any(${[...new Set(entries.map(e => e.editionId))]}::uuid[])`
  const asked = new Map(editions.map(e => [e.id, e]))
  return new Map(
    entries.map(({ id, editionId, ...entry }) => [
      id,
      { ...entry, questions: asked.get(editionId)?.questions ?? [], edition: asked.get(editionId)?.number ?? 0 },
    ]),
  )
}
export interface EntryAnswers {
  answers: Answers
  questions: Question[]
  files: { id: string; question: string; name: string }[]
  /** What it said at first, where it was corrected since. */
  firstAnswers: AnswerInWords[] | null
  point: string
  edition: number
  page: string | null
  /** What a quiz came to, marks in hundredths; of a form nothing. */
  outcome: { title: string; earned: number; possible: number } | null
}

/** Keeps what an entry said, before it says something else; what it said at first stays. */
export const keepAnswers = (db: Db, entry: string, answers: AnswerInWords[]) =>
  db`update entry set first_answers = ${answers as never} where id = ${entry} and first_answers is null`

/** What a visitor corrected. */
export const correctEntry = (db: Db, id: string, answers: Answers, at: Date) =>
  db`update entry set answers = ${answers as never}, corrected_at = ${at} where id = ${id}`

/** A mail that answers a visitor with a calendar file: at once, or when the claim of their address is settled. */
export const addMeetingLetter = (
  db: Db,
  l: { id: string; lead: string; entry: string; recipient: string; claim: string | null; subject: string; body: string; at: Date },
) => db`
  insert into delivery (id, lead_id, entry_id, kind, meeting, at, subject, body, due_at, recipient, recipient_key, claim_id)
  values (${l.id}, ${l.lead}, ${l.entry}, 'meeting', true, ${l.at}, ${l.subject}, ${l.body}, ${l.claim ? null : l.at}, ${l.recipient}, ${mailboxOf(l.recipient)}, ${l.claim})`
