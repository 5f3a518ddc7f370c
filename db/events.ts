import { redacted, type LeadEvent } from '#core/events/event'
import { written, type Tx } from '#db/client'
import { fragment, type Fragment } from '#db/fragment'

/** What a row of `lead_event` carries of what changed. */
export type KeptChanges = Record<string, unknown>

/** Events, as part of the statement that writes their leads. */
export function eventRows(events: LeadEvent[]): Fragment {
  const rows = events.map(e => ({
    lead_id: e.lead,
    version: e.version,
    at: new Date(e.at).toISOString(),
    cause: e.cause,
    actor_id: e.actor ?? undefined,
    changes: e.changes,
    fit: e.fit,
    interest: e.interest,
    card: e.card,
    facets: e.facets ?? undefined,
  }))
  return fragment`insert into lead_event (lead_id, version, at, cause, actor_id, changes, fit, interest, card, facets)
    select lead_id, version, at, cause, actor_id, changes, fit, interest, card, facets from jsonb_to_recordset(${written(rows)}::jsonb)
      as r(lead_id uuid, version int, at timestamptz, cause text, actor_id uuid, changes jsonb, fit int, interest float8, card int, facets jsonb)`
}

/**
 * Of people who are erased, and are locked, the events stay for what is counted, and a last one says that they are gone; what the
 * events say of the person goes.
 */
export async function eraseEvents(tx: Tx, leads: string[]): Promise<void> {
  const rows = await tx<{ leadId: string; version: number; changes: KeptChanges }[]>`
    select lead_id, version, changes from lead_event where lead_id = any(${leads}::uuid[]) and redacted_at is null`
  const left = rows.map(r => ({ lead: r.leadId, version: r.version, changes: redacted(r.changes) }))
  await tx`update lead_event e set changes = r.changes, redacted_at = now()
    from jsonb_to_recordset(${left as never}::jsonb) as r(lead uuid, version int, changes jsonb) where e.lead_id = r.lead and e.version = r.version`
  await tx`insert into lead_event (lead_id, version, at, cause, changes, fit, interest, card, redacted_at)
    select id, version + 1, now(), 'erased', coalesce((
        select jsonb_build_object('lists', jsonb_build_object('on', '[]'::jsonb, 'off', jsonb_agg(m.list_id))) from list_member m where m.lead_id = lead.id having count(*) > 0), '{}'), fit, 0, card, now()
    from lead where id = any(${leads}::uuid[])`
}
