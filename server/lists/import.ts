import { same } from '#core/leads/fill-property'
import { identify } from '#core/identity/identify'
import { personKey, sameByOf } from '#core/identity/same-person'
import { whoKey, type Book } from '#core/leads/book'
import type { PersonCause } from '#core/leads/causes'
import { propertyOf, type LeadState } from '#core/leads/lead'
import type { TablePerson } from '#core/lists/people'
import { claimSilently } from '#db/claims'
import type { Sql, Tx } from '#db/client'
import {
  addressesKnown,
  importCame,
  importRows,
  importsLeft,
  lockImport,
  publishImport,
  publishedBy,
  stageImport,
  type Import,
  type ImportRow,
  type StagedPerson,
} from '#db/imports'
import { newId } from '#server/ids'
import { changeLeads, openBatch } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { readRuleset, type Ruleset } from '#server/ruleset'

/** So many people at once: entries wait for no more than these. */
const AT_ONCE = 500
/** While many of its people come by themselves, a piece may have to begin anew some times. */
const PATIENT_TRIES = 20
/** An import of which nothing was heard for so long was left, and is gone on with. */
const LEFT_SECONDS = 60

/** What came of an import. */
export interface Imported {
  fresh: number
  known: number
  leads: string[]
}

/**
 * Puts people on a list. The table is staged whole; its people are taken in by five hundreds, each in a transaction of its own; the
 * list is published when all are there. What is interrupted is gone on with. Who is not known yet becomes a lead without an owner,
 * scored and labelled, whom nobody is told of; of who is known, gaps are filled, or everything with `replace`.
 */
export async function bringIn(
  sql: Sql,
  ruleset: Ruleset,
  list: { id: string },
  people: TablePerson[],
  replace: boolean,
  by: string,
  at: number,
): Promise<Imported> {
  const id = newId(at)
  const known = await addressesKnown(
    sql,
    people.map(p => p.emailKey),
  )
  await sql.begin(tx =>
    stageImport(tx, { id, listId: list.id, byId: by, replaces: replace, madeAt: new Date(at) }, staged(people, ruleset.rules, known)),
  )
  return await carryOn(sql, ruleset, id)
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
    const piece = await retried(() => sql.begin(tx => onePiece(tx, ruleset, id)), PATIENT_TRIES)
    for (const lead of piece.leads) leads.add(lead)
    if (piece.done) return { fresh: piece.fresh, known: piece.known, leads: [...leads] }
  }
}

/** Does the next piece of an import. */
async function onePiece(tx: Tx, ruleset: Ruleset, id: string): Promise<Imported & { done: boolean }> {
  const now = await lockImport(tx, id)
  if (!now || now.phase === 'done') return { fresh: now?.fresh ?? 0, known: now?.known ?? 0, leads: [], done: true }
  const rows = await importRows(tx, id, now.position, AT_ONCE)
  if (!rows.length) {
    const isListed = now.phase === 'list'
    if (!isListed) await publishImport(tx, now)
    await importCame(tx, { ...now, phase: isListed ? 'done' : 'list', position: 0 }, [])
    return { fresh: now.fresh, known: now.known, leads: [], done: isListed }
  }
  const came = now.phase === 'people' ? await takeIn(tx, ruleset, now, rows) : await listed(tx, ruleset, now, rows)
  const after = { ...now, position: rows.at(-1)!.n, fresh: now.fresh + came.fresh, known: now.known + came.known }
  await importCame(tx, after, came.rows)
  return { fresh: after.fresh, known: after.known, leads: came.leads, done: false }
}

interface Came {
  fresh: number
  known: number
  leads: string[]
  rows: { n: number; lead: string }[]
}

async function takeIn(tx: Tx, ruleset: Ruleset, { listName, byId, replaces, madeAt }: Import, rows: ImportRow[]): Promise<Came> {
  const at = madeAt.getTime()
  const batch = await openBatch(tx, ruleset, { emails: rows.map(r => r.person.emailKey), persons: rows.flatMap(r => r.person.keys), at })
  const claims: Parameters<typeof claimSilently>[1] = []
  const causes = rows.map(({ person: p }): PersonCause => {
    const { person, address } = identify({ keys: p.keys, email: { address: p.email, key: p.emailKey } }, who => found(batch.book, p, who))
    // Nobody is written to for a table.
    if (person && address === 'claimed' && !person.claims.some(c => c.key === p.emailKey)) {
      claims.push({ id: newId(at), lead: person.id, address: p.email, key: p.emailKey, at: madeAt })
    }
    return {
      kind: 'row',
      at,
      by: byId,
      lead: person?.id ?? null,
      address: { address: p.email, key: p.emailKey },
      values: p.values,
      replace: replaces,
      list: listName,
    }
  })
  const steps = await batch.apply(causes)
  if (claims.length) await claimSilently(tx, claims)
  const fresh = steps.filter(s => s.fresh).length
  return {
    fresh,
    known: steps.length - fresh,
    leads: steps.map(s => s.lead.id),
    rows: steps.map((s, i) => ({ n: rows[i]!.n, lead: s.lead.id })),
  }
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
  const fresh = await publishedBy(tx, now, rows.flatMap(r => r.leadId ?? []))
  const steps = await changeLeads(
    tx,
    ruleset,
    rows.flatMap(r => (r.leadId ? [{ kind: 'listed' as const, at: Date.now(), by: null, lead: r.leadId, list, isNew: fresh.has(r.leadId) }] : [])),
  )
  return { fresh: 0, known: 0, leads: steps.map(s => s.lead.id), rows: [] }
}
