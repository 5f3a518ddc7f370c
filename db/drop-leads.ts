import type { Tx } from '#db/client'
import { eraseEvents } from '#db/events'

/** Takes leads away with all that hangs on them; of what happened to them stays what figures count. They are locked. */
export async function dropLeads(tx: Tx, gone: string[]): Promise<void> {
  if (!gone.length) return
  const within = (await tx<{ gone: string }[]>`delete from lead_merge where root = any(${gone}::uuid[]) returning gone`).map(r => r.gone)
  // Who owned one that was joined with another was told so by its name.
  await tx`delete from delivery d using lead_event own, lead_event v
    where own.lead_id = any(${gone}::uuid[]) and own.cause = 'merged_into' and v.lead_id = (own.changes->'merged_into'->>'lead')::uuid and v.cause = 'merged'
      and v.changes->'merged'->>'lead' = own.lead_id::text and d.lead_id = v.lead_id and d.member_id is not null and d.at = v.at`
  await eraseEvents(tx, gone, within)
  await tx`delete from delivery where lead_id = any(${gone}::uuid[]) and (sent_at is not null or member_id is null)`
  // A mail that says several things names them, too.
  await tx`update delivery d set subject = 'Several things', lines = (
      select coalesce(jsonb_agg(x), '[]'::jsonb) from jsonb_array_elements(d.lines) x
      where not exists (select from unnest(${gone}::uuid[]) g where x->>'text' like '%' || g::text || '%'))
    where d.is_summary and exists (select from unnest(${gone}::uuid[]) g where d.lines::text like '%' || g::text || '%')`
  await tx`delete from visitor_lead where lead_id = any(${gone}::uuid[])`
  await tx`update unfinished set lead_id = null where lead_id = any(${gone}::uuid[])`
  await tx`delete from dry_run_lead where lead_id = any(${gone}::uuid[])`
  await tx`delete from plan_run_lead where lead_id = any(${gone}::uuid[])`
  await tx`delete from lead where id = any(${gone}::uuid[])`
}
