import type { TimelineKind } from '#core/timeline'
import type { Db } from '#db/client'

export interface TimelineRow { id: string; at: Date; kind: TimelineKind | 'visit'; actor: string | null; payload: Record<string, unknown> }

/**
 * What happened to a lead, newest first: its timeline, and its page views folded by visit.
 * @param before only what is older than this
 */
export const timelineOf = (db: Db, lead: string, before: Date | null, most: number) => db<TimelineRow[]>`
  select * from (
    (select t.id, t.at, t.kind, m.name as actor, t.payload from timeline t left join member m on m.id = t.actor_id
      where t.lead_id = ${lead} ${before ? db`and t.at < ${before}` : db``} order by t.at desc, t.id desc limit ${most})
    union all
    (select visit_id, max(at), 'visit', null, jsonb_build_object('pages', jsonb_agg(jsonb_build_object('path', path, 'title', title, 'at', at) order by at))
      from trail_event where lead_id = ${lead} group by visit_id ${before ? db`having max(at) < ${before}` : db``} order by 2 desc limit ${most})
  ) s order by at desc, id desc limit ${most}`
