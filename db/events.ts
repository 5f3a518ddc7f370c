import { redacted, redactedOf, type LeadEvent } from '#core/events/event'
import type { EventName } from '#core/events/registry'
import type { Undo } from '#core/follow-up/undo'
import { written, type Db, type Tx } from '#db/client'
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
    undo: e.undo,
  }))
  return fragment`insert into lead_event (lead_id, version, at, cause, actor_id, changes, fit, interest, card, facets, undo)
    select lead_id, version, at, cause, actor_id, changes, fit, interest, card, facets, undo from jsonb_to_recordset(${written(rows)}::jsonb)
      as r(lead_id uuid, version int, at timestamptz, cause text, actor_id uuid, changes jsonb, fit int, interest float8, card int, facets jsonb, undo jsonb)`
}

/** Events that were taken back. */
export const eventsUndone = (rows: { lead: string; version: number; at: string }[]): Fragment => fragment`
  update lead_event e set undone_at = r.at from jsonb_to_recordset(${rows}::jsonb) as r(lead uuid, version int, at timestamptz)
  where e.lead_id = r.lead and e.version = r.version`

export interface ActRow {
  cause: string
  actorId: string | null
  undo: Undo | null
  undoneAt: Date | null
  status: string | null
}
/** An event as it is taken back. */
export const actOf = async (db: Db, lead: string, version: number): Promise<ActRow | undefined> =>
  (
    await db<
      ActRow[]
    >`select cause, actor_id, undo, undone_at, changes->'status'->>'to' as status from lead_event where lead_id = ${lead} and version = ${version}`
  )[0]

/** A note of a lead's own story as it stands now (null: removed), all that it ever said, and who wrote it. @param of `<lead> <version>` */
export async function noteOf(
  db: Db,
  lead: string,
  of: string,
): Promise<{ actorId: string | null; text: string | null; said: string } | undefined> {
  const [own, version] = of.split(' ')
  const rows = await db<{ actorId: string | null; text: string | null }[]>`
    with own as (select v.actor_id, v.changes->'note'->>'text' as text, v.at, 0 as version from lead_event v
      where v.lead_id = ${own!}::uuid and v.version = ${Number(version)} and v.changes ? 'note'
        and (v.lead_id = ${lead} or exists (select from lead_merge where gone = v.lead_id and root = ${lead})))
    select actor_id, text from (
      select * from own
      union all select c.actor_id, c.changes->'note_changed'->>'text', c.at, c.version from lead_event c
        where c.lead_id in (${own!}::uuid, ${lead}::uuid) and c.changes->'note_changed'->>'of' = ${of} and exists (select from own)) x order by version = 0 desc, at, version`
  const [note] = rows
  return note && { actorId: note.actorId, text: rows.at(-1)!.text, said: rows.map(r => r.text ?? '').join('\n') }
}

/**
 * Of people who are erased, and are locked, the events stay for what is counted, and a last one says that they are gone; what the
 * events say of the person goes, also from the events of whom they were joined with once.
 * @param within who had gone into them: they are not counted any more
 */
export async function eraseEvents(tx: Tx, leads: string[], within: string[] = []): Promise<void> {
  const gone = [...leads, ...within]
  const own = await tx<Row[]>`select lead_id, version, changes from lead_event where lead_id = any(${gone}::uuid[]) and redacted_at is null`
  await rewrite(
    tx,
    own.map(r => ({ ...r, changes: redacted(r.changes) })),
    true,
  )
  const others = await tx<Row[]>`
    select o.lead_id, o.version, o.changes from lead_event o where o.changes ?| ${NAMING}::text[] and o.redacted_at is null and o.lead_id <> all(${gone}::uuid[]) and o.lead_id in (
      select (v.changes->kind->>'lead')::uuid from lead_event v, unnest(${NAMING}::text[]) kind where v.lead_id = any(${gone}::uuid[]) and v.changes ? kind)`
  const names = new Set(gone)
  await rewrite(
    tx,
    others.flatMap(r => {
      const changes = redactedOf(r.changes, names)
      return changes ? [{ ...r, changes }] : []
    }),
    false,
  )
  await tx`insert into lead_event (lead_id, version, at, cause, changes, fit, interest, card, redacted_at)
    select id, version + 1, now(), 'erased', coalesce((
        select jsonb_build_object('lists', jsonb_build_object('on', '[]'::jsonb, 'off', jsonb_agg(m.list_id))) from list_member m where m.lead_id = lead.id having count(*) > 0), '{}'), fit, 0, card, now()
    from lead where id = any(${leads}::uuid[])`
}

type Row = { leadId: string; version: number; changes: KeptChanges }
/** The kinds whose events name another lead. */
const NAMING: EventName[] = ['merged', 'merged_into', 'split']

/** @param whole whether nothing is left in them of a person */
async function rewrite(tx: Tx, rows: Row[], whole: boolean): Promise<void> {
  if (!rows.length) return
  const left = rows.map(r => ({ lead: r.leadId, version: r.version, changes: r.changes }))
  await tx`update lead_event e set changes = r.changes, undo = case when ${whole} then null else e.undo end, redacted_at = case when ${whole} then now() else e.redacted_at end
    from jsonb_to_recordset(${left as never}::jsonb) as r(lead uuid, version int, changes jsonb) where e.lead_id = r.lead and e.version = r.version`
}
