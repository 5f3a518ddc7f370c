import type { Case } from '#core/capture/case'
import type { Db, Statement, Tx } from '#db/client'

/** Writes down which addresses entries claimed, and that they were asked. */
export function insertClaims(tx: Db, cases: Case[]): Statement[] {
  const rows = cases.flatMap(c =>
    c.claim
      ? [
          {
            id: c.claim.id,
            lead_id: c.lead.id,
            address: c.claim.address,
            email_key: c.claim.key,
            entry_id: c.intake.entryId,
            at: new Date(c.intake.at).toISOString(),
            asks: c.mails.some(l => l.kind === 'confirm'),
          },
        ]
      : [],
  )
  return rows.length
    ? [
        tx`insert into claimed_address (id, lead_id, address, email_key, entry_id, claimed_at, asked_at)
    select distinct on (lead_id, email_key) id, lead_id, address, email_key, entry_id, at, case when bool_or(asks) over (partition by lead_id, email_key) then at end
    from jsonb_to_recordset(${rows as never}::jsonb) as r(id uuid, lead_id uuid, address text, email_key text, entry_id uuid, at timestamptz, asks boolean) order by lead_id, email_key, at
    on conflict (lead_id, email_key) do update set asked_at = coalesce(claimed_address.asked_at, excluded.asked_at)`,
      ]
    : []
}

/** Claims without an entry, of people who were brought in: nobody is written to. */
export const claimSilently = (tx: Tx, rows: { id: string; lead: string; address: string; key: string; at: Date }[]) => tx`
  insert into claimed_address (id, lead_id, address, email_key, claimed_at)
  select id, lead, address, key, at from jsonb_to_recordset(${rows as never}::jsonb) as r(id uuid, lead uuid, address text, key text, at timestamptz)
    on conflict do nothing`

export interface ClaimRow {
  id: string
  leadId: string
  address: string
  emailKey: string
  claimedAt: Date
  confirmedAt: Date | null
  settledAt: Date | null
  theirs: boolean | null
}
const columns = (db: Db) => db`c.id, c.lead_id, c.address, c.email_key, c.claimed_at, c.confirmed_at, c.settled_at, c.theirs`

export const claimById = async (db: Db, id: string): Promise<ClaimRow | undefined> =>
  (
    await db<ClaimRow[]>`select ${columns(db)} from claimed_address c
  where c.id = ${id}`
  )[0]

/** The claim of an address on a lead, where nobody has judged it. */
export const openClaim = async (db: Db, lead: string, key: string): Promise<ClaimRow | undefined> =>
  (
    await db<
      ClaimRow[]
    >`select ${columns(db)} from claimed_address c where c.lead_id = ${lead} and c.email_key = ${key} and c.settled_at is null`
  )[0]

/** The claims of a lead that nobody has judged, the oldest first. */
export const claimsOf = (db: Db, lead: string) => db<ClaimRow[]>`select ${columns(db)} from claimed_address c
  where c.lead_id = ${lead} and c.settled_at is null order by c.claimed_at, c.id`

/** What else is known of a confirmed claim: whether another lead has the address, or confirmed it, and how many others of this lead were confirmed. */
export async function aroundClaim(tx: Tx, c: ClaimRow): Promise<{ takenElsewhere: boolean; rivals: number }> {
  const [row] = await tx<{ taken: boolean; rivals: number }[]>`select
    exists (select from lead l where l.email_key = ${c.emailKey} and l.id <> ${c.leadId})
      or exists (select from lead_key k where k.rule = 'email' and k.key = ${c.emailKey} and k.lead_id <> ${c.leadId})
      or exists (select from claimed_address o where o.email_key = ${c.emailKey} and o.lead_id <> ${c.leadId} and o.confirmed_at is not null
        and o.theirs is not false) as taken,
    (select count(*)::int from claimed_address o where o.lead_id = ${c.leadId} and o.id <> ${c.id} and o.confirmed_at is not null
      and o.settled_at is null) as rivals`
  return { takenElsewhere: row!.taken, rivals: row!.rivals }
}

/** @returns false when it had been confirmed before */
export const confirmClaim = async (tx: Tx, id: string, at: Date): Promise<boolean> =>
  (
    await tx`update claimed_address set confirmed_at = ${at}
  where id = ${id} and confirmed_at is null`
  ).count > 0

/** How a claim was judged, and by whom; null: it settled itself. */
export const settleClaim = (tx: Tx, id: string, theirs: boolean, by: string | null, at: Date) => tx`
  update claimed_address set theirs = ${theirs}, settled_at = ${at}, settled_by = ${by} where id = ${id}`

/** Keeps the address that a lead had as one that is not theirs. */
export const setAddressAside = (tx: Tx, id: string, lead: string, by: string, at: Date) => tx`
  insert into claimed_address (id, lead_id, address, email_key, claimed_at, settled_at, settled_by, theirs)
  select ${id}, l.id, l.email, l.email_key, ${at}, ${at}, ${by}, false from lead l where l.id = ${lead} and l.email is not null
  on conflict (lead_id, email_key) do update set theirs = false, settled_at = excluded.settled_at, settled_by = excluded.settled_by`

/** What waited for a claim goes out, or never will. */
export const releaseLetters = (tx: Tx, claim: string, at: Date) => tx`
  update delivery set due_at = ${at}::timestamptz + days * interval '1 day' where claim_id = ${claim} and due_at is null and sent_at is null and dropped is null`
export const dropClaimed = (tx: Tx, claim: string) => tx`update delivery set dropped = 'not theirs'
  where claim_id = ${claim} and sent_at is null and (dropped is null or dropped = 'gave up')`

export interface WaitingClaim {
  id: string
  leadId: string
  address: string
  confirmedAt: Date
  firstName: string | null
  lastName: string | null
  company: string | null
  email: string | null
  properties: Record<string, string | string[]>
  elsewhere: string | null
}
/** Addresses that were confirmed and wait for somebody to judge, with the lead that has the address already, if one has. */
export const claimsToJudge = (db: Db, most: number) => db<WaitingClaim[]>`
  select c.id, c.lead_id, c.address, c.confirmed_at, l.first_name, l.last_name, l.company, l.email, l.properties,
    (select o.id from lead o where o.email_key = c.email_key and o.id <> l.id) as elsewhere
  from claimed_address c join lead l on l.id = c.lead_id where c.confirmed_at is not null and c.settled_at is null order by c.confirmed_at desc limit ${most}`
