import type { Funnel } from '#core/team'
import type { Db } from '#db/client'

/** The figures of the course for a member. */
export async function funnel(db: Db, member: string): Promise<Funnel> {
  const [row] = await db<{ today: number; entries: number; qualified: number; unowned: number; waiting: number; won: number; toQualify: number; toRoute: number; toFollowUp: number; toLearn: number }[]>`
    with week as (select now() - interval '7 days' as since),
    recent as (select kind, lead_id, actor_id, payload from happened, week where at > since and kind in ('entry', 'label', 'owner', 'status'))
    select
      (select count(*) from lead where owner_id = ${member} and waiting_since is not null) as today,
      (select count(*) from entry, week where at > since and state = 'complete') as entries,
      (select count(*) from lead l join label b on b.key = l.label join status s on s.key = l.status where l.submitted_at is not null and b.qualified and s.stage in ('first', 'open')) as qualified,
      (select count(*) from lead l join status s on s.key = l.status where l.submitted_at is not null and owner_id is null and s.stage in ('first', 'open')) as unowned,
      (select count(*) from lead where waiting_since is not null) as waiting,
      (select count(distinct lead_id) from timeline t join status s on s.key = t.payload->>'to' where t.kind = 'status' and s.stage = 'won' and t.at > now() - interval '30 days') as won,
      (select count(distinct lead_id) from recent where kind = 'entry') as to_qualify,
      (select count(distinct lead_id) from recent where kind = 'owner') as to_route,
      (select count(distinct lead_id) from recent r join status s on s.key = r.payload->>'from' where r.kind = 'status' and s.stage = 'first') as to_follow_up,
      (select count(distinct lead_id) from recent r join status s on s.key = r.payload->>'to' where r.kind = 'status' and s.stage in ('won', 'lost')) as to_learn`
  const { toQualify, toRoute, toFollowUp, toLearn, ...figures } = row!
  return { ...figures, passed: { toQualify, toRoute, toFollowUp, toLearn } }
}
