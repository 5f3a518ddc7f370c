import type { PersonKey } from '#core/identity/same-person'
import type { Db, Statement, Tx } from '#db/client'

/** The rules of all live points that know people by something else than their address: `phone`, `last_name+postcode`. */
export async function rulesInUse(db: Db): Promise<string[]> {
  const rows = await db<{ same: string[] }[]>`
    select distinct e.definition->'people'->'same' as same from point p join edition e on e.id = p.live_edition
    where p.kind <> 'page' and p.archived_at is null and e.definition->'people'->'same' is not null and e.definition->'people'->'same' <> '["email"]'`
  return rows.map(r => [...r.same].sort().join('+'))
}

/**
 * Keeps by which keys leads are known now, instead of those they had under these rules.
 * What another lead is known by already stays with it, and so do the keys of who went into one.
 * @param own keys that made a new lead: when another has one of these meanwhile, it throws 23505, and trying again finds that lead
 */
export function keepKeys(tx: Db, rules: string[], leads: { id: string; keys: PersonKey[]; own: PersonKey | null }[]): Statement[] {
  if (!rules.length || !leads.length) return []
  const rows = (list: { id: string; key: PersonKey }[]) =>
    list.map(({ id, key }) => ({ lead_id: id, rule: key.rule, key: key.key })) as never
  const own = leads.flatMap(l => (l.own ? [{ id: l.id, key: l.own }] : []))
  return [
    tx`delete from lead_key where lead_id = any(${leads.map(l => l.id)}::uuid[]) and rule = any(${rules}) and merge_id is null`,
    ...(own.length
      ? [
          tx`insert into lead_key (rule, key, lead_id) select rule, key, lead_id from jsonb_to_recordset(${rows(own)}::jsonb) as r(rule text, key text, lead_id uuid)`,
        ]
      : []),
    tx`insert into lead_key (rule, key, lead_id) select rule, key, lead_id from jsonb_to_recordset(${rows(leads.flatMap(l => l.keys.map(key => ({ id: l.id, key }))))}::jsonb) as r(rule text, key text, lead_id uuid) on conflict do nothing`,
  ]
}

/** All leads with what their keys are made from, some at a time. */
export const leadsForKeys = (tx: Tx, after: string | null, most: number) => tx<
  {
    id: string
    email: string | null
    firstName: string | null
    lastName: string | null
    company: string | null
    properties: Record<string, string | string[]>
  }[]
>`
  select id, email, first_name, last_name, company, properties from lead where ${after === null ? tx`true` : tx`id > ${after}`} order by id limit ${most}`

/** Keys as they were worked out for many leads; the oldest lead keeps what several share. */
export const addKeys = (tx: Tx, rows: { leadId: string; rule: string; key: string }[]) => tx`
  insert into lead_key (rule, key, lead_id) select rule, key, "leadId" from jsonb_to_recordset(${rows as never}::jsonb) as r("leadId" uuid, rule text, key text) on conflict do nothing`
