import type { MergeStates } from '#core/leads/merge'
import type { Db, Tx } from '#db/client'

/** Two leads that are one: what hung on the one that went, where it is now, and how it comes back (docs/decisions/0062). */

/** What was handed over, by its id; an import's row by its place there, with whether it had made the lead. */
export interface Moved {
  entries: string[]
  consents: string[]
  deliveries: string[]
  meetings: string[]
  unfinished: string[]
  browsers: string[]
  claims: string[]
  /** Claims that were closed because the address came with the other one. */
  settled: string[]
  /** Whole rows of claims of an address that the other one claims, too, and the mails that hung on them. */
  doubled: { row: object; deliveries: string[] }[]
  imports: { import: string; n: number; fresh: boolean }[]
  lists: { list: string; addedAt: string }[]
  /** Files of notes and mails; missing of merges of before there were any. */
  files?: string[]
  /** Missing likewise. */
  conversations?: string[]
  /** Who was found to be somebody else than the one that went. */
  apart: object[]
}

/** A lead as it was, to come back: columns that are added later get what they begin with. */
export interface Merge {
  id: string
  gone: string
  kept: string
  root: string
  at: Date
  byId: string
  moved: Moved
  states: MergeStates
}

/** Who stands for some leads that went into others; those that stand for themselves are left out. */
export async function standFor(db: Db, leads: string[]): Promise<Map<string, string>> {
  const rows = await db<{ gone: string; root: string }[]>`select gone, root from lead_merge where gone = any(${leads}::uuid[])`
  return new Map(rows.map(r => [r.gone, r.root]))
}

/** Who stands for a lead: itself, or whom it went into. */
export const standingFor = async (db: Db, lead: string): Promise<string> => (await standFor(db, [lead])).get(lead) ?? lead

/** A query of the leads whose events are a lead's story: its own, and who went into it. */
export const ownStory = (db: Db, lead: string) => db`select ${lead}::uuid union all select gone from lead_merge where root = ${lead}`

/** The lists that a lead is on. */
export const listedOn = async (tx: Tx, lead: string): Promise<Moved['lists']> =>
  (await tx<{ list: string; addedAt: Date }[]>`select list_id as list, added_at from list_member where lead_id = ${lead}`).map(r => ({
    list: r.list,
    addedAt: r.addedAt.toISOString(),
  }))

/**
 * Hands over all that hangs on a lead to another, and takes the lead away: a copy of it stays. Both are locked.
 * @param id of the merge
 */
export async function takeIn(tx: Tx, m: { id: string; gone: string; kept: string; at: Date; by: string }): Promise<Moved> {
  const { gone, kept } = m
  const ids = async (rows: Promise<{ id: string }[]>) => (await rows).map(r => r.id)
  const lists = await listedOn(tx, gone)
  const apart = (
    await tx<
      { row: object }[]
    >`select to_jsonb(p) as row from likely_pair p where (p.a = ${gone} or p.b = ${gone}) and p.apart_at is not null`
  ).map(r => r.row)
  await tx`insert into lead_merge (id, gone, kept, root, at, by_id, row, moved, states)
    select ${m.id}, l.id, ${kept}, ${kept}, ${m.at}, ${m.by}, to_jsonb(l), '{}', '{}' from lead l where l.id = ${gone}`
  await tx`update lead_merge set root = ${kept} where root = ${gone}`

  const entries = await ids(tx`update entry set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const consents = await ids(tx`update consent set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const deliveries = await ids(tx`update delivery set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const meetings = await ids(tx`update meeting set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const unfinished = await ids(tx`update unfinished set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const browsers = await ids(tx`update visitor_lead set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const imports = await tx<Moved['imports']>`with had as (select import_id, n, fresh from import_row where lead_id = ${gone})
    , now as (update import_row r set lead_id = ${kept}, fresh = false from had h where r.import_id = h.import_id and r.n = h.n)
    select import_id as import, n, fresh from had`
  const both = await tx<{ row: object; own: string; other: string }[]>`
    select to_jsonb(g) as row, g.id as own, k.id as other from claimed_address g join claimed_address k on k.lead_id = ${kept} and k.email_key = g.email_key where g.lead_id = ${gone}`
  const doubled: Moved['doubled'] = []
  for (const { row, own, other } of both)
    doubled.push({ row, deliveries: await ids(tx`update delivery set claim_id = ${other} where claim_id = ${own} returning id`) })
  await tx`delete from claimed_address where id = any(${both.map(b => b.own)}::uuid[])`
  const claims = await ids(tx`update claimed_address set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const settled = await ids(tx`update claimed_address c set theirs = true, settled_at = ${m.at}, settled_by = ${m.by}
    from lead g where g.id = ${gone} and c.lead_id = ${kept} and c.email_key = g.email_key and c.settled_at is null returning c.id`)

  // By all that either is known by they are found from now on.
  await tx`update lead_key set lead_id = ${kept}, merge_id = coalesce(merge_id, ${m.id}) where lead_id in (${gone}, ${kept})`
  await tx`insert into lead_key (rule, key, lead_id, merge_id)
    select 'email', l.email_key, ${kept}::uuid, ${m.id}::uuid from lead l where l.id in (${gone}, ${kept}) and l.email_key is not null on conflict do nothing`

  // The last that happens to it: figures count it no more (its facets are null, and say so), its lists lose it.
  const off = lists.length ? { lists: { on: [], off: lists.map(l => l.list) } } : {}
  await tx`insert into lead_event (lead_id, version, at, cause, actor_id, changes, fit, interest, card, facets)
    select l.id, l.version + 1, ${m.at}, 'merged_into', ${m.by},
      ${off as never}::jsonb || jsonb_build_object('merged_into', jsonb_build_object('lead', k.id, 'name', ${nameOfLead(tx)})), l.fit, 0, l.card, 'null'::jsonb
    from lead l, lead k where l.id = ${gone} and k.id = ${kept}`
  await tx`delete from dry_run_lead where lead_id = ${gone}`
  await tx`delete from plan_run_lead where lead_id = ${gone}`
  // The same answer twice is one, also behind this.
  await tx`update reply set lead_id = ${kept} where lead_id = ${gone}`
  const conversations = await ids(tx`update conversation set lead_id = ${kept} where lead_id = ${gone} returning id`)
  const files = await ids(tx`update file set lead_id = ${kept} where lead_id = ${gone} returning id`)
  await tx`delete from lead where id = ${gone}`
  // Who is not the one that went is not the one that it went into either.
  await tx`insert into likely_pair (a, b, found_at, strength, reasons, apart_at, apart_by)
    select least(o.id, ${kept}::uuid), greatest(o.id, ${kept}::uuid), r.found_at, r.strength, r.reasons, r.apart_at, r.apart_by
    from jsonb_populate_recordset(null::likely_pair, ${apart as never}::jsonb) r
    join lead o on o.id = case when r.a = ${gone} then r.b else r.a end and o.id <> ${kept}
    on conflict (a, b) do nothing`
  return {
    entries,
    consents,
    deliveries,
    meetings,
    unfinished,
    browsers,
    claims,
    settled,
    doubled,
    imports: [...imports],
    lists,
    apart,
    files,
    conversations,
  }
}

/** How `k` is called. */
const nameOfLead = (db: Db) =>
  db`coalesce(nullif(trim(coalesce(k.first_name, '') || ' ' || coalesce(k.last_name, '')), ''), k.email, k.properties->>'phone', 'somebody')`

/** Writes down what a merge moved, and how the lead that was kept stood before and behind it. */
export const keepMerge = (tx: Tx, id: string, moved: Moved, states: MergeStates) =>
  tx`update lead_merge set moved = ${moved as never}, states = ${states as never} where id = ${id}`

/** A merge, locked: who comes second finds it gone. */
export const lockMerge = async (tx: Tx, id: string): Promise<Merge | undefined> =>
  (await tx<Merge[]>`select id, gone, kept, root, at, by_id, moved, states from lead_merge where id = ${id} for update`)[0]

/** The merges by which others went into a lead since a moment. */
export const mergesSince = (tx: Tx, kept: string, since: Date) =>
  tx<Pick<Merge, 'id' | 'moved' | 'states'>[]>`select id, moved, states from lead_merge where kept = ${kept} and at > ${since} for update`

/** Entries that came to a lead since a moment, with the questions they answer. */
export const entriesSince = (tx: Tx, lead: string, since: Date) => tx<
  {
    id: string
    at: Date
    key: string
    name: string
    answers: Record<string, string | string[]>
    result: unknown
    questions: { key: string; property: string | null }[]
  }[]
>`
  select e.id, e.at, p.key, p.name, e.answers, e.result, d.definition->'questions' as questions
  from entry e join point p on p.id = e.point_id join edition d on d.id = e.edition_id
  where e.lead_id = ${lead} and e.at > ${since} and e.state = 'complete' order by e.at`

/** Everything by which the one that went was known. */
export const keysOfMerge = async (tx: Tx, id: string): Promise<{ emails: string[] }> => {
  const [row] = await tx<{ emails: string[] }[]>`
    select array_remove(array_agg(distinct x), null) as emails from (
      select m.row->>'email_key' as x from lead_merge m where m.id = ${id}
      union all select k.row->>'email_key' from lead_merge m join lead_merge k on k.kept = m.gone where m.id = ${id}) s`
  return { emails: row!.emails ?? [] }
}

/**
 * Gives back all that a merge had handed over, and the lead with it, as it was. The one that was kept is locked. What came since
 * is not here: it stays, but for these entries.
 * @param entries that came since and are the other one's
 * @throws 23505 when somebody has its address meanwhile
 */
export async function giveBack(tx: Tx, { id, gone, root, moved, states }: Merge, entries: string[]): Promise<void> {
  // Its address is free again before it comes back.
  const { email, emailKey, confirmedAt, guardedAt } = states.before
  const moment = (at: number | null) => (at === null ? null : new Date(at))
  await tx`update lead l set email = ${email}, email_key = ${emailKey}, confirmed_at = ${moment(confirmedAt)}, guarded_at = ${moment(guardedAt)}
    from lead_merge m where m.id = ${id} and l.id = ${root} and l.email_key = m.row->>'email_key'`
  // A column that was made since has what it begins with; a label or a status may be there no more.
  const columns = await tx<{ name: string }[]>`
    select a.attname as name from pg_attribute a, lead_merge m
    where m.id = ${id} and a.attrelid = 'lead'::regclass and a.attnum > 0 and not a.attisdropped and m.row ? a.attname`
  const names = columns.map(c => c.name)
  await tx`insert into lead (${tx(names)}) select ${tx(names)} from (
    select (jsonb_populate_record(null::lead, m.row || jsonb_build_object(
      'label', (select key from label where key = m.row->>'label'), 'label_floor', (select key from label where key = m.row->>'label_floor'),
      'status', coalesce((select key from status where key = m.row->>'status'), (select key from status order by rank limit 1)),
      'version', (select max(version) from lead_event where lead_id = m.gone)))).* from lead_merge m where m.id = ${id}) r`
  const back = (table: string, ids: string[]) =>
    tx`update ${tx(table)} set lead_id = ${gone} where id = any(${ids}::uuid[]) and lead_id = ${root}`
  await back('entry', moved.entries)
  await back('consent', moved.consents)
  await back('delivery', moved.deliveries)
  await back('meeting', moved.meetings)
  await back('unfinished', moved.unfinished)
  await back('visitor_lead', moved.browsers)
  await back('claimed_address', moved.claims)
  await back('file', moved.files ?? [])
  await back('conversation', moved.conversations ?? [])
  if (entries.length) {
    await tx`update entry set lead_id = ${gone}, told_with = coalesce(told_with, ${root}) where id = any(${entries}::uuid[])`
    await tx`update consent set lead_id = ${gone} where entry_id = any(${entries}::uuid[])`
    await tx`update meeting set lead_id = ${gone} where entry_id = any(${entries}::uuid[])`
    await tx`update delivery set lead_id = ${gone} where entry_id = any(${entries}::uuid[]) and lead_id = ${root}`
  }
  await tx`update claimed_address set theirs = null, settled_at = null, settled_by = null where id = any(${moved.settled}::uuid[])`
  for (const { row, deliveries } of moved.doubled) {
    await tx`insert into claimed_address select (jsonb_populate_record(null::claimed_address, ${row as never}::jsonb)).*`
    await tx`update delivery set claim_id = ${(row as { id: string }).id} where id = any(${deliveries}::uuid[])`
  }
  await tx`update import_row r set lead_id = ${gone}, fresh = m.fresh from jsonb_to_recordset(${moved.imports as never}::jsonb) as m(import uuid, n int, fresh boolean)
    where r.import_id = m.import and r.n = m.n and r.lead_id = ${root}`
  await tx`insert into list_member (list_id, lead_id, added_at) select m.list, ${gone}, m."addedAt"
    from jsonb_to_recordset(${moved.lists as never}::jsonb) as m(list uuid, "addedAt" timestamptz) join list l on l.id = m.list and l.removed_at is null`
  // Who had gone into the one that comes back stands behind it again, with the keys of theirs.
  const within = await tx<{ id: string }[]>`
    with recursive own as (select id, gone from lead_merge where kept = ${gone} union all select m.id, m.gone from lead_merge m join own on m.kept = own.gone)
    update lead_merge m set root = ${gone} from own where m.id = own.id returning m.id`
  await tx`update lead_key set lead_id = ${gone} where merge_id = any(${within.map(w => w.id)}::uuid[])`
  await tx`delete from lead_key where merge_id = ${id}`
  await tx`insert into likely_pair (a, b, found_at, strength, reasons, apart_at, apart_by)
    select r.a, r.b, r.found_at, r.strength, r.reasons, r.apart_at, r.apart_by from jsonb_populate_recordset(null::likely_pair, ${moved.apart as never}::jsonb) r
    join lead a on a.id = r.a join lead b on b.id = r.b on conflict (a, b) do nothing`
  await tx`delete from lead_merge where id = ${id}`
}

/** The merges by which others went into a lead, the latest first. */
export const mergesOf = (db: Db, lead: string) => db<{ id: string; name: string; email: string | null; at: Date; by: string | null }[]>`
  select m.id, m.row->>'email' as email, m.at, b.name as by,
    coalesce(nullif(trim(coalesce(m.row->>'first_name', '') || ' ' || coalesce(m.row->>'last_name', '')), ''), m.row->>'email', m.row->'properties'->>'phone', 'somebody') as name
  from lead_merge m left join member b on b.id = m.by_id where m.kept = ${lead} order by m.at desc`

/** Whether browsers, by the spans that were handed over, did something since. */
export const browsersActive = async (tx: Tx, spans: string[], since: Date): Promise<boolean> =>
  (
    await tx`select from visitor_lead l join visit v on v.visitor_id = l.visitor_id and v.last_at > ${since} where l.id = any(${spans}::uuid[]) limit 1`
  ).length > 0

export interface HeldBy {
  updatedAt: Date
  holds: { entries: number; visits: number; mails: number; notes: number; lists: string[] }
}
/** What hangs on some leads, counted; of lists their names. */
export async function heldBy(db: Db, leads: string[]): Promise<Map<string, HeldBy>> {
  const rows = await db<({ id: string; updatedAt: Date } & HeldBy['holds'])[]>`
    select l.id, l.updated_at,
      (select count(*)::int from entry e where e.lead_id = l.id and e.state = 'complete') as entries,
      (select count(*)::int from visitor_lead b join visit v on v.visitor_id = b.visitor_id and v.last_at >= b.since and v.began_at < b.until
        where b.lead_id = l.id and b.undone_at is null) as visits,
      (select count(*)::int from delivery d where d.lead_id = l.id and d.member_id is null and d.sent_at is not null) as mails,
      (select count(*)::int from lead_event n where n.lead_id in (select l.id union all select gone from lead_merge where root = l.id) and n.changes ? 'note') as notes,
      array(select i.name from list_member m join list i on i.id = m.list_id and i.removed_at is null where m.lead_id = l.id order by i.name) as lists
    from lead l where l.id = any(${leads}::uuid[])`
  return new Map(rows.map(({ id, updatedAt, ...holds }) => [id, { updatedAt, holds }]))
}
