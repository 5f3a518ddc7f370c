import type { Db } from '#db/client'

export interface OwnsRow {
  id: string
  name: string
  company: string | null
  label: string | null
  fit: number
  status: string
  waitingSince: Date | null
  nextStep: string | null
  nextStepAt: Date | null
}
/** The open leads of somebody: who waits first, then by what is due. */
export const openLeadsOf = (db: Db, member: string, most: number) => db<OwnsRow[]>`
  select l.id, coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone', 'Somebody') as name,
    l.company, l.label, l.fit, l.status, l.waiting_since, l.next_step, l.next_step_at
  from lead l join status s on s.key = l.status and s.stage in ('first', 'open')
  where l.owner_id = ${member} and l.submitted_at is not null order by l.waiting_since nulls last, l.next_step_at nulls last, l.updated_at desc limit ${most}`

/** Who has left and still has open leads. */
export const leavers = (db: Db) => db<{ id: string; name: string; open: number }[]>`
  select m.id, m.name, count(*)::int as open from lead l join status s on s.key = l.status and s.stage in ('first', 'open') join member m on m.id = l.owner_id and not m.active
  where l.submitted_at is not null group by m.id, m.name order by m.name`
