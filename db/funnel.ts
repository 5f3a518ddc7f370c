import type { Funnel } from '#core/team'
import type { Db } from '#db/client'

/** The figures of the course for a member. */
export async function funnel(db: Db, member: string): Promise<Funnel> {
  const [row] = await db<{ today: number; entries: number; qualified: number; unowned: number; waiting: number; won: number; toQualify: number; toRoute: number; toFollowUp: number; toLearn: number }[]>`
    with week as (select now() - interval '7 days' as since),
    recent as (select lead_id, changes from lead_event, week where at > since and changes ?| '{entry, owner, status}')
    select
      (select count(*) from lead where owner_id = ${member} and waiting_since is not null) as today,
      (select count(*) from entry, week where at > since and state = 'complete') as entries,
      (select count(*) from lead l join label b on b.key = l.label join status s on s.key = l.status where l.submitted_at is not null and b.qualified and s.stage in ('first', 'open')) as qualified,
      (select count(*) from lead l join status s on s.key = l.status where l.submitted_at is not null and owner_id is null and s.stage in ('first', 'open')) as unowned,
      (select count(*) from lead where waiting_since is not null) as waiting,
      (select count(distinct lead_id) from lead_event v join status s on s.key = v.changes->'status'->>'to' where s.stage = 'won' and v.at > now() - interval '30 days') as won,
      (select count(distinct lead_id) from recent where changes ? 'entry') as to_qualify,
      (select count(distinct lead_id) from recent where changes ? 'owner') as to_route,
      (select count(distinct lead_id) from recent r join status s on s.key = r.changes->'status'->>'from' where s.stage = 'first') as to_follow_up,
      (select count(distinct lead_id) from recent r join status s on s.key = r.changes->'status'->>'to' where s.stage in ('won', 'lost')) as to_learn`
  const { toQualify, toRoute, toFollowUp, toLearn, ...figures } = row!
  return { ...figures, passed: { toQualify, toRoute, toFollowUp, toLearn } }
}
