import type { PersonKey } from '#core/identity/same-person'
import type { TablePerson } from '#core/lists/people'
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
  madeAt: Date
  phase: 'people' | 'list' | 'done'
  position: number
  fresh: number
  known: number
}
export interface ImportRow {
  n: number
  person: StagedPerson
  leadId: string | null
}

/** Stages a table: all of it or nothing, and nobody is touched yet. */
export async function stageImport(
  tx: Tx,
  i: Pick<Import, 'id' | 'listId' | 'byId' | 'replaces' | 'madeAt'>,
  people: StagedPerson[],
): Promise<void> {
  await tx`insert into import (id, list_id, by_id, replaces, made_at, touched_at) values (${i.id}, ${i.listId}, ${i.byId}, ${i.replaces}, ${i.madeAt}, now())`
  const rows = people.map((person, n) => ({ n: n + 1, person }))
  await tx`insert into import_row (import_id, n, person) select ${i.id}, n, person from jsonb_to_recordset(${rows as never}::jsonb) as r(n int, person jsonb)`
}

/** Which of these addresses are known. */
export const addressesKnown = async (db: Db, keys: string[]): Promise<Set<string>> =>
  new Set((await db<{ emailKey: string }[]>`select email_key from lead where email_key = any(${keys})`).map(r => r.emailKey))

/** An import to go on with, locked: whoever comes meanwhile waits, and finds what is still to be done. */
export const lockImport = async (tx: Tx, id: string): Promise<Import | undefined> =>
  (
    await tx<Import[]>`
  select i.id, i.list_id, l.name as list_name, i.by_id, i.replaces, i.made_at, i.phase, i.position, i.fresh, i.known
  from import i join list l on l.id = i.list_id where i.id = ${id} for update of i`
  )[0]

/** The next rows behind a position. */
export const importRows = (tx: Tx, id: string, after: number, most: number) => tx<ImportRow[]>`
  select n, person, lead_id from import_row where import_id = ${id} and n > ${after} order by n limit ${most}`

/** Notes whose leads rows became, and how far the import came. */
export async function importCame(tx: Tx, i: Import, leads: { n: number; lead: string }[]): Promise<void> {
  if (leads.length) {
    await tx`update import_row r set lead_id = c.lead from jsonb_to_recordset(${leads as never}::jsonb) as c(n int, lead uuid) where r.import_id = ${i.id} and r.n = c.n`
  }
  await tx`update import set phase = ${i.phase}, position = ${i.position}, fresh = ${i.fresh}, known = ${i.known}, touched_at = now() where id = ${i.id}`
  if (i.phase === 'done') await tx`delete from import_row where import_id = ${i.id}`
}

/** Publishes the list: from one moment to the next all of the table are on it. */
export const publishImport = (tx: Tx, i: Import) => tx`
  insert into list_member (list_id, lead_id, added_at) select ${i.listId}, lead_id, ${i.madeAt} from import_row where import_id = ${i.id} and lead_id is not null
  on conflict do nothing`

/** Which of these an import has put on its list, where they were not before. */
export const publishedBy = async (tx: Tx, i: Import, leads: string[]): Promise<Set<string>> =>
  new Set(
    (await tx<{ leadId: string }[]>`select lead_id from list_member where list_id = ${i.listId} and lead_id = any(${leads}::uuid[]) and added_at = ${i.madeAt}`).map(
      r => r.leadId,
    ),
  )

/** Imports that nobody goes on with any more. */
export const importsLeft = async (db: Db, seconds: number): Promise<string[]> =>
  (
    await db<
      { id: string }[]
    >`select id from import where phase <> 'done' and touched_at < now() - ${seconds} * interval '1 second' order by touched_at`
  ).map(r => r.id)
