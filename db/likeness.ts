import { WITH_NAME, WITHOUT_NAME, type Compared, type Likeness, type LikenessKeys } from '#core/identity/likeness'
import type { Db, Statement, Tx } from '#db/client'

export interface Likenesses extends LikenessKeys {
  lead: string
}
/** What leads are compared by, of those that are there. */
export interface NamedRow {
  id: string
  emailKey: string | null
  firstName: string | null
  lastName: string | null
  company: string | null
  properties: Record<string, string | string[]>
}
export const namedLeads = (tx: Tx, ids: string[]) => tx<NamedRow[]>`
  select id, email_key, first_name, last_name, company, properties from lead where id = any(${ids}::uuid[]) order by id for key share`

/** Keeps by what leads are compared. */
export const keepLikenesses = (tx: Tx, rows: Likenesses[]) => tx`
  insert into lead_likeness (lead_id, local, domain, mailbox, phones, name, firm)
  select lead, local, domain, mailbox, phones, name, firm
  from jsonb_to_recordset(${rows as never}::jsonb) as r(lead uuid, local text, domain text, mailbox text, phones text[], name text, firm text)
  on conflict (lead_id) do update set local = excluded.local, domain = excluded.domain, mailbox = excluded.mailbox, phones = excluded.phones,
    name = excluded.name, firm = excluded.firm`

export interface ComparedRow extends Omit<Compared, 'addresses'> {
  a: string
  b: string
  addressA: string | null
  addressB: string | null
}
/** Of each kind of likeness so many are looked at for a lead: a number that a hundred share is a switchboard. */
const MOST = 20

/** Some leads beside all that have something in common with them; each pair once or twice. */
export async function alike(tx: Tx, leads: string[]): Promise<ComparedRow[]> {
  await tx`select set_config('pg_trgm.similarity_threshold', ${String(WITHOUT_NAME)}, true)`
  const others = (found: Statement) => tx`(select o.* from lead_likeness o where o.lead_id <> x.lead_id and ${found} limit ${MOST})`
  return await tx<ComparedRow[]>`
    select least(x.lead_id, y.lead_id) as a, greatest(x.lead_id, y.lead_id) as b, x.local || '@' || x.domain as address_a, y.local || '@' || y.domain as address_b,
      coalesce(similarity(x.local, y.local), 0) as local_alike,
      case when x.domain = y.domain then 1 else coalesce(similarity(x.domain, y.domain), 0) end as domain_alike,
      array(select unnest(x.phones) intersect select unnest(y.phones)) as phones,
      case when x.name = y.name then 1 else similarity(x.name, y.name) end as name_alike,
      case when x.firm = y.firm then 1 else similarity(x.firm, y.firm) end as firm_alike
    from lead_likeness x cross join lateral (
      ${others(tx`o.phones && x.phones`)}
      union ${others(tx`o.name = x.name and (o.firm = x.firm or o.domain = x.domain)`)}
      union ${others(tx`o.mailbox = x.mailbox`)}
      union ${others(tx`o.local % x.local and o.domain = x.domain`)}
      union ${others(tx`o.local = x.local and similarity(o.domain, x.domain) >= ${WITH_NAME}`)}
    ) y where x.lead_id = any(${leads}::uuid[])`
}

/** A pair, the smaller id first. */
export interface Pair extends Likeness {
  a: string
  b: string
}
/** Keeps who may be one with some leads, instead of what was kept of them; who was found to be two stays so. @returns whether something of it is new */
export async function keepPairs(tx: Tx, leads: string[], pairs: Pair[], at: Date): Promise<boolean> {
  const rows = pairs as never
  const gone = await tx`delete from likely_pair p where (p.a = any(${leads}::uuid[]) or p.b = any(${leads}::uuid[])) and p.apart_at is null
    and not exists (select from jsonb_to_recordset(${rows}::jsonb) as r(a uuid, b uuid) where r.a = p.a and r.b = p.b)`
  const kept = await tx`
    insert into likely_pair as p (a, b, found_at, strength, reasons)
    select r.a, r.b, ${at}, r.strength, r.reasons from jsonb_to_recordset(${rows}::jsonb) as r(a uuid, b uuid, strength real, reasons jsonb)
      join lead a on a.id = r.a join lead b on b.id = r.b
    on conflict (a, b) do update set strength = excluded.strength, reasons = excluded.reasons
      where p.strength <> excluded.strength or p.reasons <> excluded.reasons`
  return gone.count + kept.count > 0
}

const ordered = (one: string, other: string) => (one < other ? [one, other] : [other, one]) as [string, string]

/** Two are two, as somebody found: they are not brought up again. @returns false when one of them is not there */
export async function keepApart(tx: Db, one: string, other: string, by: string, at: Date): Promise<boolean> {
  const [a, b] = ordered(one, other)
  const kept = await tx`
    insert into likely_pair (a, b, found_at, strength, reasons, apart_at, apart_by)
    select a.id, b.id, ${at}, 0, '[]', ${at}, ${by} from lead a, lead b where a.id = ${a} and b.id = ${b}
    on conflict (a, b) do update set apart_at = excluded.apart_at, apart_by = excluded.apart_by`
  return kept.count > 0
}

/** They may be one after all. @returns false when nobody had said otherwise */
export async function notApart(tx: Db, one: string, other: string): Promise<boolean> {
  const [a, b] = ordered(one, other)
  const none = await tx`delete from likely_pair where a = ${a} and b = ${b} and apart_at is not null and strength = 0`
  const again = await tx`update likely_pair set apart_at = null, apart_by = null where a = ${a} and b = ${b} and apart_at is not null`
  return none.count + again.count > 0
}

export interface PairRow {
  a: string
  b: string
  foundAt: Date
  strength: number
  reasons: Likeness['reasons']
}
/** Pairs that wait for somebody to judge, the likeliest first. */
export const pairsWaiting = (db: Db, most: number) => db<PairRow[]>`
  select a, b, found_at, strength, reasons from likely_pair where apart_at is null order by strength desc, found_at desc, a limit ${most}`

/** A pair, whoever judged it; undefined when nobody found it. */
export async function pairOf(db: Db, one: string, other: string): Promise<PairRow | undefined> {
  const [a, b] = ordered(one, other)
  return (await db<PairRow[]>`select a, b, found_at, strength, reasons from likely_pair where a = ${a} and b = ${b}`)[0]
}
