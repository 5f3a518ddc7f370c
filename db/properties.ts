import type { Property } from '#core/properties/kinds'
import type { Db } from '#db/client'

/** Adds a property behind the others. @returns false when its key is taken */
export async function addProperty(db: Db, p: Omit<Property, 'rank' | 'retired'>): Promise<boolean> {
  return (
    (
      await db`insert into property (key, label, kind, rank, sensitivity, choices)
    select ${p.key}, ${p.label}, ${p.kind}, coalesce(max(rank), 0) + 1, ${p.sensitivity}, ${p.choices as never} from property
    on conflict (key) do nothing`
    ).count === 1
  )
}

/** Changes a property; its key and kind stay. Retired ones keep the time they were. */
export async function changeProperty(db: Db, p: Omit<Property, 'rank' | 'kind'>): Promise<void> {
  await db`update property set label = ${p.label}, sensitivity = ${p.sensitivity}, choices = ${p.choices as never},
    retired_at = case when ${p.retired} then coalesce(retired_at, now()) end where key = ${p.key}`
}

/** How many leads have a value for each property, and which points ask for it. */
export const propertyUse = (db: Db) => db<{ key: string; leads: number; points: string[] }[]>`
  select p.key,
    case p.key when 'email' then (select count(*) from lead) when 'first_name' then (select count(first_name) from lead) when 'last_name' then (select count(last_name) from lead)
      when 'company' then (select count(company) from lead) else coalesce(n.leads, 0) end as leads,
    coalesce((select array_agg(t.name order by t.name) from point t where t.archived_at is null and t.working_copy->'questions' @> jsonb_build_array(jsonb_build_object('property', p.key))), '{}') as points
  from property p left join (select k as key, count(*) as leads from lead, jsonb_object_keys(properties) k group by k) n on n.key = p.key`
