import type { TimelineItem, TimelineKind, TimelineLine } from '#core/timeline'
import type { TrailEvent } from '#core/trail/events'
import { written, type Db } from '#db/client'
import { fragment, statement, type Fragment } from '#db/fragment'
import { visitEvents } from '#db/trail'

export interface TimelineRow { id: string; at: Date; kind: TimelineKind | 'visit' | 'unfinished'; actor: string | null; payload: Record<string, unknown> }
/** What a visit's row carries: its events, for the fold. */
export interface VisitRow { site: string; source: string; device: string; place: string | null; visitor: string; trail: TrailEvent[] }

/**
 * What happened to a lead, newest first: its timeline, its entries, its visits, and what was typed and not sent.
 * @param before only what is older than this
 */
export const timelineOf = (db: Db, lead: string, before: Date | null, most: number) => db<TimelineRow[]>`
  select * from (
    (select t.id, t.at, t.kind, m.name as actor, t.payload from timeline t left join member m on m.id = t.actor_id
      where t.lead_id = ${lead} ${before ? db`and t.at < ${before}` : db``} order by t.at desc, t.id desc limit ${most})
    union all
    (select e.id, e.at, 'entry', null, jsonb_strip_nulls(jsonb_build_object('entry', e.id, 'point', p.name, 'edition', d.number, 'changed', '[]'::jsonb, 'page', e.page)) || e.brought
      from entry e join point p on p.id = e.point_id join edition d on d.id = e.edition_id
      where e.lead_id = ${lead} and e.brought is not null ${before ? db`and e.at < ${before}` : db``} order by e.at desc, e.id desc limit ${most})
    union all
    (select v.id, v.last_at, 'visit', null, jsonb_build_object('site', v.site, 'source', v.source, 'device', v.device, 'place', v.place, 'visitor', v.visitor_id,
        'trail', ${visitEvents(db, db`and e.at >= l.since and e.at < l.until`)})
      from visitor_lead l join visit v on v.visitor_id = l.visitor_id and v.last_at >= l.since and v.began_at < l.until
      where l.lead_id = ${lead} and l.undone_at is null ${before ? db`and v.last_at < ${before}` : db``} order by v.last_at desc limit ${most})
    union all
    (select u.id, u.last_at, 'unfinished', null, jsonb_build_object('point', p.name, 'form', u.form, 'page', u.page, 'sent', u.sent_at is not null, 'answers', u.answers, 'definition', d.definition -> 'questions')
      from unfinished u left join point p on p.id = u.point_id left join edition d on d.point_id = u.point_id and d.number = u.edition
      where u.lead_id = ${lead} and u.finished_at is null ${before ? db`and u.last_at < ${before}` : db``} order by u.last_at desc limit ${most})
  ) s order by at desc, id desc limit ${most}`

/** Notes in timelines what went out; what changes a lead is written with it (`db/steps`). */
export async function insertTimeline(tx: Db, items: TimelineItem[]): Promise<void> {
  if (items.length) await statement(tx, timelineRows(items, item => item.id))
}

/** Lines of timelines, as part of a statement. */
export function timelineRows<L extends TimelineLine>(items: L[], idOf: (line: L) => string): Fragment {
  const rows = items.map(t => ({ id: idOf(t), lead_id: t.lead, at: new Date(t.at).toISOString(), kind: t.kind, actor_id: t.actor ?? undefined, payload: t.payload }))
  return fragment`insert into timeline (id, lead_id, at, kind, actor_id, payload)
    select id, lead_id, at, kind, actor_id, payload from jsonb_to_recordset(${written(rows)}::jsonb)
      as r(id uuid, lead_id uuid, at timestamptz, kind text, actor_id uuid, payload jsonb)`
}
