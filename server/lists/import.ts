import { same } from '#core/leads/fill-property'
import { identify } from '#core/identity/identify'
import { personKey, sameByOf } from '#core/identity/same-person'
import { whoKey, type Book } from '#core/leads/book'
import type { PersonCause, RowOwner } from '#core/leads/causes'
import { propertyOf, type LeadState } from '#core/leads/lead'
import type { TablePerson } from '#core/lists/people'
import { claimSilently } from '#db/claims'
import type { Sql, Tx } from '#db/client'
import { dropLeads } from '#db/drop-leads'
import {
  addressesKnown,
  importCame,
  importRows,
  importsLeft,
  lockImport,
  publishImport,
  publishedBy,
  rowsCame,
  rowsListed,
  rowsToUndo,
  sinceImport,
  stageImport,
  tellOwners,
  type Import,
  type ImportRow,
  type RowCame,
  type StagedPerson,
} from '#db/imports'
import { newId } from '#server/ids'
import { changeLeads, openBatch, withLists } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { readRuleset, type Ruleset } from '#server/ruleset'

/** So many people at once: entries wait for no more than these. */
const AT_ONCE = 500
/** While many of its people come by themselves, a piece may have to begin anew some times. */
const PATIENT_TRIES = 20
/** An import of which nothing was heard for so long was left, and is gone on with. */
const LEFT_SECONDS = 60

/** What came of an import, or of taking it back; `told`: members who got people by it. */
export interface Imported {
  id: string
  fresh: number
  known: number
  gone: number
  stayed: number
  leads: string[]
  told: string[]
}

/** How people are brought in. */
export interface Wished {
  /** What is known gives way to what the table says. */
  replace: boolean
  /** Who is to answer for those of whom nobody does: `nobody`, `plan`, or a member's id. */
  owners: string
}

/**
 * Puts people on a list. The table is staged whole; its people are taken in by five hundreds, each in a transaction of its own; the
 * list is published when all are there. What is interrupted is gone on with. Who is not known yet becomes a lead, scored and
 * labelled; of who is known, gaps are filled, or everything with `replace`. Who answers for some since is told once for all of them.
 */
export async function bringIn(
  sql: Sql,
  ruleset: Ruleset,
  list: { id: string },
  people: TablePerson[],
  { replace, owners }: Wished,
  by: string,
  at: number,
): Promise<Imported> {
  const id = newId(at)
  const known = await addressesKnown(
    sql,
    people.map(p => p.emailKey),
  )
  await sql.begin(tx =>
    stageImport(
      tx,
      { id, listId: list.id, byId: by, replaces: replace, owners, madeAt: new Date(at) },
      staged(people, ruleset.rules, known),
    ),
  )
  return await carryOn(sql, ruleset, id)
}

/**
 * Takes back what an import did, piece by piece. Who came new by it goes, unless something has happened to them since. Who stays is
 * taken from the list if the import put them there, and what it filled or gave is as before, where nobody has changed it since.
 * @returns undefined where it cannot be taken back: it is not done yet, is taken back already, or lies too far back
 */
export async function takeBack(sql: Sql, ruleset: Ruleset, id: string, by: string): Promise<Imported | undefined> {
  const begun = await sql.begin(async tx => {
    const now = await lockImport(tx, id)
    if (now?.phase !== 'done' || !(await rowsToUndo(tx, id, 0, 1)).length) return false
    await importCame(tx, { ...now, phase: 'undo', position: 0, undoneBy: by })
    return true
  })
  return begun ? await carryOn(sql, ruleset, id) : undefined
}

/** Goes on with imports that were left in the midst. @returns the leads that changed */
export async function goOnWithImports(sql: Sql): Promise<string[]> {
  const changed: string[] = []
  for (const id of await importsLeft(sql, LEFT_SECONDS)) changed.push(...(await carryOn(sql, await readRuleset(sql), id)).leads)
  return changed
}

/**
 * The people of a table with the keys by which they may be known beside their address: those that nobody else in the table has. A
 * number that an office shares makes no two people one.
 */
function staged(people: TablePerson[], rules: string[], known: Set<string>): StagedPerson[] {
  const keysOf = (p: TablePerson) =>
    known.has(p.emailKey)
      ? []
      : rules.flatMap(rule => personKey(sameByOf(rule), property => (property === 'email' ? p.email : p.values[property])) ?? [])
  const keyed = people.map(p => ({ person: p, keys: keysOf(p) }))
  const times = new Map<string, number>()
  for (const key of keyed.flatMap(k => k.keys).map(whoKey)) times.set(key, (times.get(key) ?? 0) + 1)
  return keyed.map(({ person: { email, emailKey, values }, keys }) => ({
    email,
    emailKey,
    values,
    keys: keys.filter(k => times.get(whoKey(k)) === 1),
  }))
}

async function carryOn(sql: Sql, ruleset: Ruleset, id: string): Promise<Imported> {
  const leads = new Set<string>()
  for (;;) {
    const { now, changed, told, done } = await retried(() => sql.begin(tx => onePiece(tx, ruleset, id)), PATIENT_TRIES)
    for (const lead of changed) leads.add(lead)
    const { fresh = 0, known = 0, gone = 0, stayed = 0 } = now ?? {}
    if (done) return { id, fresh, known, gone, stayed, leads: [...leads], told }
  }
}

/** How an import stands after a piece of it, and whose leads changed. */
interface Piece {
  now?: Import
  changed: string[]
  told: string[]
  done: boolean
}

/** Does the next piece of an import. */
async function onePiece(tx: Tx, ruleset: Ruleset, id: string): Promise<Piece> {
  const now = await lockImport(tx, id)
  if (!now || now.phase === 'done' || now.phase === 'undone') return { now, changed: [], told: [], done: true }
  if (now.phase === 'undo') return await undoSome(tx, ruleset, now)
  const rows = await importRows(tx, id, now.position, AT_ONCE)
  if (!rows.length) return await nextPhase(tx, now)
  const came = now.phase === 'people' ? await takeIn(tx, ruleset, now, rows) : await listed(tx, ruleset, now, rows)
  const after = { ...now, position: rows.at(-1)!.n, fresh: now.fresh + came.fresh, known: now.known + came.known }
  await importCame(tx, after)
  return { now: after, changed: came.leads, told: [], done: false }
}

async function nextPhase(tx: Tx, now: Import): Promise<Piece> {
  const isListed = now.phase === 'list'
  const after: Import = { ...now, phase: isListed ? 'done' : 'list', position: 0 }
  if (!isListed) await publishImport(tx, now)
  const told = isListed ? await tellOwners(tx, now, newId) : []
  await importCame(tx, after)
  return { now: after, changed: [], told, done: isListed }
}

interface Came {
  fresh: number
  known: number
  leads: string[]
}

const ownerOf = (owners: string): RowOwner => (owners === 'nobody' || owners === 'plan' ? owners : { member: owners })

async function takeIn(tx: Tx, ruleset: Ruleset, i: Import, rows: ImportRow[]): Promise<Came> {
  const at = i.madeAt.getTime()
  const batch = await openBatch(tx, ruleset, { emails: rows.map(r => r.person.emailKey), persons: rows.flatMap(r => r.person.keys), at })
  const claims: Parameters<typeof claimSilently>[1] = []
  const causes = rows.map(({ person: p }): PersonCause => {
    const { person, address } = identify({ keys: p.keys, email: { address: p.email, key: p.emailKey } }, who => found(batch.book, p, who))
    // Nobody is written to for a table.
    if (person && address === 'claimed' && !person.claims.some(c => c.key === p.emailKey)) {
      claims.push({ id: newId(at), lead: person.id, address: p.email, key: p.emailKey, at: i.madeAt })
    }
    return {
      kind: 'row',
      at,
      by: i.byId,
      lead: person?.id ?? null,
      address: { address: p.email, key: p.emailKey },
      values: p.values,
      replace: i.replaces,
      list: i.listName,
      owner: ownerOf(i.owners),
    }
  })
  const steps = await batch.apply(causes)
  if (claims.length) await claimSilently(tx, claims)
  const fresh = steps.filter(s => s.fresh).length
  const came = steps.map((s, n): RowCame => ({ n: rows[n]!.n, lead: s.lead.id, fresh: s.fresh, owner: s.owned ? s.lead.ownerId : null }))
  await rowsCame(tx, i.id, came)
  return { fresh, known: steps.length - fresh, leads: steps.map(s => s.lead.id) }
}

/** Somebody with a key: by their address, else where the names do not speak against it. */
function found(book: Book, p: StagedPerson, who: Parameters<typeof whoKey>[0]): LeadState | undefined {
  const lead = book.leads.get(whoKey(who))
  const fits = (property: string) =>
    !p.values[property] || !propertyOf(lead!, property) || same(p.values[property], propertyOf(lead!, property)!)
  return lead && (who.rule === 'email' || ['first_name', 'last_name'].every(fits)) ? lead : undefined
}

async function listed(tx: Tx, ruleset: Ruleset, now: Import, rows: ImportRow[]): Promise<Came> {
  const { listId: list } = now
  const fresh = await publishedBy(
    tx,
    now,
    rows.flatMap(r => r.leadId ?? []),
  )
  if (fresh.size) await rowsListed(tx, now.id, [...fresh])
  const steps = await changeLeads(
    tx,
    ruleset,
    rows.flatMap(r =>
      r.leadId ? [{ kind: 'listed' as const, at: Date.now(), by: null, lead: r.leadId, list, isNew: fresh.has(r.leadId) }] : [],
    ),
  )
  return { fresh: 0, known: 0, leads: steps.map(s => s.lead.id) }
}

/** Takes back the next rows of an import. */
async function undoSome(tx: Tx, ruleset: Ruleset, now: Import): Promise<Piece> {
  const rows = await rowsToUndo(tx, now.id, now.position, AT_ONCE)
  const leads = rows.map(r => r.leadId)
  const at = Date.now()
  // Locked first: what is asked behind it holds until the end.
  const batch = await openBatch(tx, withLists(ruleset), { ids: leads, at })
  const since = new Map((rows.length ? await sinceImport(tx, now, leads) : []).map(s => [s.leadId, s]))
  const gone = rows.flatMap(r => (r.fresh && since.get(r.leadId)?.touched === false ? [r.leadId] : []))
  const stays = rows.filter((r, i) => since.has(r.leadId) && !gone.includes(r.leadId) && leads.indexOf(r.leadId) === i)
  await batch.apply(
    stays.map(r => ({
      kind: 'row_undone',
      at,
      by: now.undoneBy,
      lead: r.leadId,
      table: now.listName,
      list: r.listed ? now.listId : null,
      filled: r.fresh ? [] : since.get(r.leadId)!.filled,
      owner: r.fresh ? null : r.ownerId,
    })),
  )
  await dropLeads(tx, gone)
  const after: Import = {
    ...now,
    phase: rows.length ? 'undo' : 'undone',
    position: rows.at(-1)?.n ?? now.position,
    gone: now.gone + gone.length,
    stayed: now.stayed + stays.filter(r => r.fresh).length,
  }
  await importCame(tx, after)
  return { now: after, changed: leads, told: [], done: !rows.length }
}
