import type { Answers, Question } from '#core/points/definition'
import type { BesidePayloads, UnfinishedPayload, VisitPayload } from '#core/timeline'
import type { TrailEvent } from '#core/trail/events'
import type { Db } from '#db/client'
import type { KeptChanges } from '#db/events'
import { ownStory } from '#db/merges'
import { visitEvents } from '#db/trail'

/** What each kind of row carries: a visit its events, what was typed the questions it answers. */
interface RowPayloads extends Omit<BesidePayloads, 'visit' | 'unfinished'> {
  event: {
    cause: string
    changes: KeptChanges
    undone?: boolean
    by?: string | null
    versions?: { at: string; text: string | null }[] | null
  }
  visit: Omit<VisitPayload, 'pages'> & { trail: TrailEvent[] }
  unfinished: Omit<UnfinishedPayload, 'answers'> & { answers: Answers; definition: Question[] | null }
}
export type TimelineRow = {
  [K in keyof RowPayloads]: { id: string; at: Date; kind: K; actor: string | null; payload: RowPayloads[K] }
}[keyof RowPayloads]

/**
 * What happened to a lead, newest first: its events, its visits, what was typed and not sent, and which mails went to them and
 * about them.
 * @param before only what is older than this
 */
export function timelineOf(db: Db, lead: string, before: Date | null, most: number): Promise<TimelineRow[]> {
  const until = (at: string) => (before ? db`and ${db.unsafe(at)} < ${before}` : db``)
  return db<TimelineRow[]>`
    select id, at, kind, actor, payload from (
      (select v.lead_id || ' ' || v.version as id, v.at, v.version, 'event' as kind, m.name as actor, jsonb_build_object('cause', v.cause, 'changes', v.changes, 'undone', v.undone_at is not null,
          'by', v.actor_id, 'versions', case when v.changes ? 'note' then (
            select jsonb_agg(jsonb_build_object('at', c.at, 'text', c.changes->'note_changed'->'text') order by c.at, c.version) from lead_event c
            where c.lead_id in (v.lead_id, ${lead}::uuid) and c.changes->'note_changed'->>'of' = v.lead_id || ' ' || v.version) end) as payload from lead_event v left join member m on m.id = v.actor_id
        where v.lead_id in (${ownStory(db, lead)}) and v.changes <> '{}' and not v.changes ? 'note_changed' and (v.lead_id = ${lead} or v.cause <> 'merged_into') ${until('v.at')}
          and not exists (select from entry n where n.id = (v.changes->'entry'->>'entry')::uuid and n.told_with is not null and n.lead_id <> ${lead})
        order by v.at desc, v.version desc limit ${most})
      union all
      (select v.lead_id || ' ' || v.version, v.at, v.version, 'event', m.name, jsonb_build_object('cause', v.cause, 'changes', jsonb_build_object('entry', v.changes->'entry'))
        from entry n join lead_event v on v.lead_id in (n.told_with, ${lead}) and v.changes->'entry'->>'entry' = n.id::text left join member m on m.id = v.actor_id
        where n.lead_id = ${lead} and n.told_with is not null and v.lead_id <> ${lead} ${until('v.at')} order by v.at desc limit ${most})
      union all
      (select v.id::text, v.last_at, 0, 'visit', null, jsonb_build_object('site', v.site, 'source', v.source, 'device', v.device, 'place', v.place, 'visitor', v.visitor_id,
          'trail', ${visitEvents(db, db`and e.at >= l.since and e.at < l.until`)})
        from visitor_lead l join visit v on v.visitor_id = l.visitor_id and v.last_at >= l.since and v.began_at < l.until
        where l.lead_id = ${lead} and l.undone_at is null ${until('v.last_at')} order by v.last_at desc limit ${most})
      union all
      (select u.id::text, u.last_at, 0, 'unfinished', null, jsonb_build_object('point', p.name, 'form', u.form, 'page', u.page, 'sent', u.sent_at is not null, 'answers', u.answers, 'definition', d.definition -> 'questions')
        from unfinished u left join point p on p.id = u.point_id left join edition d on d.point_id = u.point_id and d.number = u.edition
        where u.lead_id = ${lead} and u.finished_at is null ${until('u.last_at')} order by u.last_at desc limit ${most})
      union all
      (select t.id::text, t.sent_at, 0, 'mailed', null, jsonb_build_object('subject', t.subject, 'kind', t.kind)
        from delivery t where t.lead_id = ${lead} and t.member_id is null and t.kind <> 'personal' and t.sent_at is not null ${until('t.sent_at')} order by t.sent_at desc limit ${most})
      union all
      (select n.id::text, n.sent_at, 0, 'announced', null, jsonb_build_object('to', m.name, 'subject', n.subject)
        from delivery n join member m on m.id = n.member_id where n.lead_id = ${lead} and n.sent_at is not null ${until('n.sent_at')} order by n.sent_at desc limit ${most})
    ) s order by at desc, version desc, id desc limit ${most}`
}

/** What a lead's score was behind each of its events, the first first; `half` of the card that it was by. */
export interface ScoreRow {
  at: Date
  cause: string
  actor: string | null
  changes: KeptChanges
  fit: number | null
  interest: number | null
  card: number | null
  half: number | null
  point: string | null
}
/** @param most so many of the latest are told; what was before stands in the first of them */
export async function scoreRows(db: Db, lead: string, most: number): Promise<ScoreRow[]> {
  const rows = await db<ScoreRow[]>`
    select v.at, v.cause, m.name as actor, v.changes, v.fit, v.interest, v.card, (s.definition->>'halfLifeDays')::float8 as half, p.name as point
    from lead_event v left join member m on m.id = v.actor_id left join scorecard_edition s on s.number = v.card
    left join entry e on e.id = (v.changes->'entry'->>'entry')::uuid left join point p on p.id = e.point_id
    where v.lead_id = ${lead} order by v.version desc limit ${most}`
  return rows.reverse()
}

export interface CrossedRow {
  lead: string
  name: string
  at: Date
  from: string | null
  to: string | null
  because: string | null
  cause: string
  point: string | null
  card: number | null
}
/** Open leads that came to another label since a moment, the latest first. */
export const crossedLately = (db: Db, since: Date, most: number) => db<CrossedRow[]>`
  select l.id as lead, coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody') as name,
    v.at, v.changes->'label'->>'from' as from, v.changes->'label'->>'to' as to, v.changes->'label'->>'because' as because, v.cause, p.name as point, v.card
  from lead_event v join lead l on l.id = v.lead_id join status s on s.key = l.status
  left join entry e on e.id = (v.changes->'entry'->>'entry')::uuid left join point p on p.id = e.point_id
  where v.at > ${since} and v.changes ? 'label' and v.changes->'label'->>'from' is distinct from v.changes->'label'->>'to' and s.stage in ('first', 'open')
  order by v.at desc limit ${most}`
