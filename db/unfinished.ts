import type { Answers, PointDefinition } from '#core/points/definition'
import type { Db, Statement, Tx } from '#db/client'
import { dropLeads } from '#db/drop-leads'

/** What a visitor typed and did not send. */
export interface UnfinishedWrite {
  id: string
  visitor: string
  point: string | null
  edition: number | null
  form: string | null
  began: Date
  at: Date
  answers: Answers
  page: string
  turn: number
  sent: boolean
}

/**
 * Keeps what was typed so far, unless something newer is there, it was finished, or it is another browser's.
 * @returns the lead it belonged to so far; undefined when nothing was kept
 */
export async function keepTyped(tx: Tx, u: UnfinishedWrite): Promise<{ leadId: string | null } | undefined> {
  return (
    await tx<{ leadId: string | null }[]>`
    insert into unfinished (id, visitor_id, point_id, edition, form, began_at, last_at, answers, page, turn, sent_at)
    select ${u.id}::uuid, ${u.visitor}::uuid, ${u.point}::uuid, ${u.edition}::int, ${u.form}::text, ${u.began}::timestamptz, ${u.at}::timestamptz, ${u.answers as never}::jsonb, ${u.page}::text, ${u.turn}::int, ${u.sent ? u.at : null}::timestamptz
    where not exists (select from forgotten_visitor f where f.visitor_id = ${u.visitor}::uuid)
    on conflict (id) do update set last_at = excluded.last_at, answers = excluded.answers, turn = excluded.turn, page = excluded.page, sent_at = coalesce(unfinished.sent_at, excluded.sent_at)
      where unfinished.turn < excluded.turn and unfinished.visitor_id = excluded.visitor_id and unfinished.finished_at is null
    returning lead_id`
  )[0]
}

/** Whether a lead is unsubmitted. */
export const isUnsubmitted = async (db: Db, lead: string): Promise<boolean> =>
  (await db`select 1 from lead where id = ${lead} and submitted_at is null`).length > 0

export const giveTo = (tx: Tx, id: string, lead: string | null) => tx`update unfinished set lead_id = ${lead} where id = ${id}`

/** What these browsers had typed into points became entries: nothing of it is kept, and what still comes is passed over. */
export function finish(tx: Db, rows: { id: string | null; visitor: string; point: string; at: string }[]): Statement[] {
  return rows.length
    ? [
        tx`update unfinished u set finished_at = r.at, answers = '{}', lead_id = null from jsonb_to_recordset(${rows as never}::jsonb) as r(visitor uuid, point uuid, at timestamptz)
      where u.visitor_id = r.visitor and u.point_id = r.point and u.finished_at is null`,
        tx`insert into unfinished (id, visitor_id, point_id, began_at, last_at, answers, page, turn, finished_at)
      select r.id, r.visitor, r.point, r.at, r.at, '{}', '', 0, r.at from jsonb_to_recordset(${rows.filter(r => r.id) as never}::jsonb) as r(id uuid, visitor uuid, point uuid, at timestamptz) on conflict (id) do nothing`,
      ]
    : []
}

/** Leads of long ago that gave nothing. */
export const unsubmitted = async (db: Db, before: Date): Promise<string[]> =>
  (await db<{ id: string }[]>`select id from lead where submitted_at is null and updated_at < ${before} limit 1000`).map(r => r.id)

/** Takes leads away that gave nothing and of whom nothing that was typed is left. @returns which */
export async function dropUnsubmitted(tx: Tx, leads: string[]): Promise<string[]> {
  const gone = (
    await tx<{ id: string }[]>`select l.id from lead l where l.id = any(${leads}::uuid[]) and l.submitted_at is null
    and not exists (select from unfinished u where u.lead_id = l.id and u.finished_at is null) and not exists (select from entry e where e.lead_id = l.id) for update`
  ).map(r => r.id)
  await dropLeads(tx, gone)
  return gone
}

/** Forgets what lies too far back. */
export const forgetTyped = (db: Db, before: Date) => db`delete from unfinished where last_at < ${before}`

export interface LeftUnfinished {
  id: string
  leadId: string
  answers: Answers
  email: string
  firstName: string | null
  lastName: string | null
  company: string | null
  unsubscribedAt: Date | null
  agreedBefore: boolean
  name: string
  slug: string
  definition: PointDefinition
}
/** What was left so long ago that its point reminds of it, once for each; locked. */
export const leftUnfinished = (tx: Tx, now: Date, most: number) => tx<LeftUnfinished[]>`
  select u.id, u.lead_id, u.answers, l.email, l.first_name, l.last_name, l.company, l.unsubscribed_at, p.name, p.slug, d.definition,
    exists (select from consent c where c.lead_id = l.id and c.allows <> '{}') as agreed_before
  from unfinished u join point p on p.id = u.point_id join edition d on d.id = p.live_edition join lead l on l.id = u.lead_id
  where u.reminded_at is null and u.finished_at is null and l.email is not null and p.archived_at is null
    and u.last_at > ${now}::timestamptz - interval '14 days' and u.last_at <= ${now}::timestamptz - (d.definition -> 'reminder' ->> 'hours')::int * interval '1 hour'
    and not exists (select from entry e where e.lead_id = l.id and e.point_id = u.point_id and e.state = 'complete' and e.at >= u.began_at)
    and not exists (select from unfinished o where o.lead_id = l.id and o.point_id = u.point_id and o.reminded_at is not null and o.reminded_at > ${now}::timestamptz - interval '14 days')
  order by u.last_at limit ${most} for update of u skip locked`
export const reminded = (tx: Tx, id: string, at: Date) => tx`update unfinished set reminded_at = ${at} where id = ${id}`
