import type { Filled } from '#core/events/kinds/brought-in'
import type { PersonKey } from '#core/identity/same-person'
import type { TablePerson } from '#core/lists/people'
import { knownAddresses } from '#db/leads'
import type { Db, Tx } from '#db/client'

/** A person of a table, with the keys beside the address by which they may be known. */
export interface StagedPerson extends Pick<TablePerson, 'email' | 'emailKey' | 'values'> {
  keys: PersonKey[]
}
export interface Import {
  id: string
  listId: string
  listName: string
  byId: string | null
  replaces: boolean
  /** Who is to answer for people of whom nobody does: `nobody`, `plan`, or a member's id. */
  owners: string
  madeAt: Date
  phase: 'people' | 'list' | 'done' | 'undo' | 'undone'
  position: number
  fresh: number
  known: number
  gone: number
  stayed: number
  undoneBy: string | null
}
export interface ImportRow {
  n: number
  person: StagedPerson
  leadId: string | null
}
/** What became of a row. */
export interface RowCame {
  n: number
  lead: string
  fresh: boolean
  owner: string | null
}

/** Stages a table: all of it or nothing, and nobody is touched yet. */
export async function stageImport(
  tx: Tx,
  i: Pick<Import, 'id' | 'listId' | 'byId' | 'replaces' | 'owners' | 'madeAt'>,
  people: StagedPerson[],
): Promise<void> {
  await tx`
    insert into import (id, list_id, by_id, replaces, owners, made_at, total, touched_at)
    values (${i.id}, ${i.listId}, ${i.byId}, ${i.replaces}, ${i.owners}, ${i.madeAt}, ${people.length}, now())`
  const rows = people.map((person, n) => ({ n: n + 1, person }))
  await tx`insert into import_row (import_id, n, person) select ${i.id}, n, person from jsonb_to_recordset(${rows as never}::jsonb) as r(n int, person jsonb)`
}

/** Which of these addresses are known. */
export const addressesKnown = async (db: Db, keys: string[]): Promise<Set<string>> =>
  new Set((await knownAddresses(db, keys)).map(r => r.emailKey))

/** An import to go on with, locked: whoever comes meanwhile waits, and finds what is still to be done. */
export const lockImport = async (tx: Tx, id: string): Promise<Import | undefined> =>
  (
    await tx<Import[]>`
  select i.id, i.list_id, l.name as list_name, i.by_id, i.replaces, i.owners, i.made_at, i.phase, i.position, i.fresh, i.known, i.gone, i.stayed, i.undone_by
  from import i join list l on l.id = i.list_id where i.id = ${id} for update of i`
  )[0]

/** The next rows behind a position. */
export const importRows = (tx: Tx, id: string, after: number, most: number) => tx<ImportRow[]>`
  select n, person, lead_id from import_row where import_id = ${id} and n > ${after} order by n limit ${most}`

/** Notes whose leads rows became. */
export const rowsCame = (tx: Tx, id: string, rows: RowCame[]) => tx`
  update import_row r set lead_id = c.lead, fresh = c.fresh, owner_id = c.owner
  from jsonb_to_recordset(${rows as never}::jsonb) as c(n int, lead uuid, fresh boolean, owner uuid) where r.import_id = ${id} and r.n = c.n`

/** Notes which of these leads were not on the list before. */
export const rowsListed = (tx: Tx, id: string, leads: string[]) =>
  tx`update import_row set listed = true where import_id = ${id} and lead_id = any(${leads}::uuid[])`

/** Notes how far an import came. What its table said of people is forgotten when they are taken in. */
export async function importCame(tx: Tx, i: Import): Promise<void> {
  await tx`update import set phase = ${i.phase}, position = ${i.position}, fresh = ${i.fresh}, known = ${i.known},
    gone = ${i.gone}, stayed = ${i.stayed}, undone_by = ${i.undoneBy}, touched_at = now() where id = ${i.id}`
  if (i.phase === 'done') await tx`update import_row set person = null where import_id = ${i.id}`
  if (i.phase === 'undone') await tx`delete from import_row where import_id = ${i.id}`
}

/** Publishes the list: from one moment to the next all of the table are on it. */
export const publishImport = (tx: Tx, i: Import) => tx`
  insert into list_member (list_id, lead_id, added_at) select ${i.listId}, lead_id, ${i.madeAt} from import_row where import_id = ${i.id} and lead_id is not null
  on conflict do nothing`

/** Which of these an import has put on its list, where they were not before. */
export const publishedBy = async (tx: Tx, i: Import, leads: string[]): Promise<Set<string>> =>
  new Set(
    (
      await tx<
        { leadId: string }[]
      >`select lead_id from list_member where list_id = ${i.listId} and lead_id = any(${leads}::uuid[]) and added_at = ${i.madeAt}`
    ).map(r => r.leadId),
  )

/** Tells those who answer for its people since, once each for all of them, but not who brought them in. @param newId of a notice */
export async function tellOwners(tx: Tx, i: Import, newId: () => string): Promise<string[]> {
  const owners = await tx<{ member: string; people: number }[]>`
    select owner_id as member, count(*)::int as people from import_row
    where import_id = ${i.id} and owner_id is not null and owner_id is distinct from ${i.byId} group by 1`
  const rows = owners.map(o => ({ id: newId(), ...o }))
  if (rows.length) {
    await tx`
      insert into delivery (id, kind, channel, at, due_at, member_id, list_id, recipient, recipient_name, subject, body)
      select r.id, 'notice', 'mail', now(), now(), m.id, ${i.listId}, m.email, m.name,
        case r.people when 1 then 'One person' else r.people || ' people' end || ' of “' || ${i.listName}::text || '” are yours now',
        coalesce((select name from member where id = ${i.byId}), 'Somebody') || ' brought them in with a table, and you answer for them from now on.'
      from jsonb_to_recordset(${rows as never}::jsonb) as r(id uuid, member uuid, people int) join member m on m.id = r.member`
  }
  return owners.map(o => o.member)
}

/** Imports that nobody goes on with any more. */
export const importsLeft = async (db: Db, seconds: number): Promise<string[]> =>
  (
    await db<{ id: string }[]>`
      select id from import where phase not in ('done', 'undone') and touched_at < now() - ${seconds} * interval '1 second' order by touched_at`
  ).map(r => r.id)

/** A row to be taken back. */
export interface UndoneRow {
  n: number
  leadId: string
  fresh: boolean
  listed: boolean
  ownerId: string | null
}
export const rowsToUndo = (tx: Tx, id: string, after: number, most: number) => tx<UndoneRow[]>`
  select n, lead_id, fresh, listed, owner_id from import_row where import_id = ${id} and n > ${after} and lead_id is not null order by n limit ${most}`

/** Causes that are no doing of anybody's: time that passes, a new scorecard, the list that is published. */
const NOBODYS = ['due', 'ruleset', 'listed']

/**
 * What is to be known of leads before an import is taken back; they are locked. `touched`: something else has happened to them
 * since, or another table names them, too. `filled`: what the import filled.
 */
export const sinceImport = (tx: Tx, i: Import, leads: string[]) => tx<{ leadId: string; touched: boolean; filled: Filled[] }[]>`
  select l.id as lead_id,
    exists (select from lead_event e where e.lead_id = l.id and e.cause <> all(${NOBODYS})
        and e.version > (select max(o.version) from lead_event o where o.lead_id = l.id and o.cause = 'row' and o.at = ${i.madeAt}))
      or exists (select from import_row o where o.lead_id = l.id and o.import_id <> ${i.id})
      or exists (select from entry e where e.lead_id = l.id) or exists (select from visitor_lead v where v.lead_id = l.id) as touched,
    coalesce((select jsonb_agg(f) from lead_event e cross join jsonb_array_elements(e.changes -> 'brought_in' -> 'filled') f
      where e.lead_id = l.id and e.cause = 'row' and e.at = ${i.madeAt}), '[]') as filled
  from lead l where l.id = any(${leads}::uuid[])`

/** An import as a list shows it. */
export interface ImportListing {
  id: string
  madeAt: Date
  by: string | null
  phase: Import['phase']
  position: number
  total: number
  fresh: number
  known: number
  gone: number
  stayed: number
  /** Whether it can be taken back still. */
  undoable: boolean
}
/** What was brought onto a list lately, the latest first. */
export const importsOf = (db: Db, list: string, since: Date) => db<ImportListing[]>`
  select i.id, i.made_at, m.name as by, i.phase, i.position, i.total, i.fresh, i.known, i.gone, i.stayed,
    i.phase = 'done' and exists (select from import_row r where r.import_id = i.id) as undoable
  from import i left join member m on m.id = i.by_id where i.list_id = ${list} and i.made_at > ${since} order by i.made_at desc limit 20`

/** What can be taken back no more: of imports that are so old. */
export const forgetRows = (db: Db, before: Date) =>
  db`delete from import_row r using import i where i.id = r.import_id and i.phase = 'done' and i.made_at < ${before}`
