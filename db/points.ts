import type { Closing } from '#core/points/closing'
import type { PageDefinition } from '#core/pages/definition'
import { completedPage } from '#core/pages/schema'
import type { PointDefinition } from '#core/points/definition'
import type { AskingKind, PointKind } from '#core/points/kinds'
import { completed } from '#core/points/shapes/definition'
import type { Db, Statement } from '#db/client'
import { styled } from '#db/styles'

interface PointOf<Kind, Definition> {
  id: string
  key: string
  slug: string
  name: string
  kind: Kind
  /** The name under which it is found; null at the application's own address. */
  host: string | null
  workingCopy: Definition
  revision: number
  updatedAt: Date
  archivedAt: Date | null
  /** The live edition, when there is one. */
  live: { id: string; number: number; revision: number; madeAt: Date; madeBy: string | null; definition: Definition } | null
  /** The moment at which a working copy, as it was then, goes live by itself, and why it could not when that had come. */
  goingLive: { at: string; revision: number; by: string | null; flaw: string | null } | null
}
export type Point = PointOf<AskingKind, PointDefinition>
export type Page = PointOf<'page', PageDefinition>
export type AnyPoint = Point | Page

const columns = (db: Db) => db`
  p.id, p.key, p.slug, p.name, p.kind, p.host, ${styled(db, 'p.working_copy')} as working_copy, p.revision, p.updated_at, p.archived_at,
  case when e.id is not null then jsonb_build_object('id', e.id, 'number', e.number, 'revision', e.revision, 'definition', ${styled(db, 'e.definition')},
    'madeAt', e.made_at, 'madeBy', (select name from member where id = e.made_by)) end as live,
  (select jsonb_build_object('at', g.at, 'revision', g.revision, 'by', (select name from member where id = g.made_by), 'flaw', g.flaw) from going_live g where g.point_id = p.id) as going_live
  from point p left join edition e on e.id = p.live_edition`

function whole<P extends AnyPoint>([row]: P[]): P | undefined {
  if (!row) return undefined
  const complete = (row.kind === 'page' ? completedPage : completed) as (d: P['workingCopy']) => P['workingCopy']
  return { ...row, workingCopy: complete(row.workingCopy), live: row.live && { ...row.live, definition: complete(row.live.definition) } }
}
export async function pointById(db: Db, id: string): Promise<Point | undefined> {
  return whole(await db<Point[]>`select ${columns(db)} where p.id = ${id} and p.kind <> 'page'`)
}
export async function pointByKey(db: Db, key: string): Promise<Point | undefined> {
  return whole(await db<Point[]>`select ${columns(db)} where p.key = ${key} and p.kind <> 'page' and p.archived_at is null`)
}
/** A form or a page. */
export async function anyById(db: Db, id: string): Promise<AnyPoint | undefined> {
  return whole(await db<AnyPoint[]>`select ${columns(db)} where p.id = ${id}`)
}
/** What stands at an address, also at one that it had before: then its `slug` is another. */
export async function anyBySlug(db: Db, slug: string): Promise<AnyPoint | undefined> {
  return whole(
    await db<
      AnyPoint[]
    >`select ${columns(db)} where (p.slug = ${slug} or p.former_slugs @> ${[slug]}) and p.archived_at is null order by p.slug <> ${slug} limit 1`,
  )
}
/** The live landing page at an address; null when there is none. */
export async function livePage(db: Db, slug: string): Promise<Page | null> {
  const page = whole(await db<Page[]>`select ${columns(db)} where p.slug = ${slug} and p.kind = 'page' and p.archived_at is null`)
  return page?.live ? page : null
}

/** Gives a point another address; the one before leads there. @returns false when another point has it, or had it */
export async function changeSlug(db: Db, id: string, slug: string): Promise<boolean> {
  const { count } =
    await db`update point set former_slugs = array_remove(former_slugs, ${slug}) || case when slug <> ${slug} then array[slug] else '{}' end, slug = ${slug}
    where id = ${id} and not exists (select from point o where o.id <> ${id} and (o.slug = ${slug} or o.former_slugs @> ${[slug]}))`
  return count === 1
}

export interface Edition {
  id: string
  number: number
  definition: PointDefinition
}

export async function editionById(db: Db, id: string): Promise<Edition | undefined> {
  const [row] = await db<Edition[]>`select id, number, ${styled(db, 'definition')} as definition from edition where id = ${id}`
  return row && { ...row, definition: completed(row.definition) }
}
/** An edition of a page, to look at or to go back to. */
export async function pageEdition(
  db: Db,
  page: string,
  number: number,
): Promise<{ number: number; definition: PageDefinition } | undefined> {
  const [row] = await db<
    { number: number; definition: PageDefinition }[]
  >`select number, ${styled(db, 'definition')} as definition from edition where point_id = ${page} and number = ${number}`
  return row && { ...row, definition: completedPage(row.definition) }
}
/** An edition of a point, live or not: entries count against the one they were shown. */
export async function editionOf(db: Db, point: string, number: number): Promise<Edition | undefined> {
  const [row] = await db<
    Edition[]
  >`select id, number, ${styled(db, 'definition')} as definition from edition where point_id = ${point} and number = ${number}`
  return row && { ...row, definition: completed(row.definition) }
}

export interface EditionRow {
  number: number
  name: string | null
  madeAt: Date
  madeBy: string | null
  live: boolean
  entries: number
}
/** All editions of a point with how many entries each got, the newest first. */
export const editionsOf = (db: Db, point: string) => db<EditionRow[]>`
  select d.number, d.name, d.made_at, m.name as made_by, p.live_edition = d.id as live, (select count(*) from entry where point_id = p.id and edition_id = d.id and state = 'complete') as entries
  from edition d join point p on p.id = d.point_id left join member m on m.id = d.made_by where d.point_id = ${point} order by d.number desc`

/** Calls an edition something; null: by its number alone. @returns false without such an edition */
export const nameEdition = async (db: Db, point: string, number: number, name: string | null): Promise<boolean> =>
  (await db`update edition set name = ${name} where point_id = ${point} and number = ${number}`).count > 0

export interface CopyRow {
  via: string
  page: string | null
  edition: number
  entries: number
  lastAt: Date
}
/** Where entries of a point came from lately: the newest edition that each copy on each page showed. */
export const copiesOf = (db: Db, point: string, since: Date) => db<CopyRow[]>`
  select e.via, e.page, (array_agg(d.number order by e.at desc))[1] as edition, count(*) as entries, max(e.at) as last_at
  from entry e join edition d on d.id = e.edition_id
  where e.point_id = ${point} and e.at > ${since} and e.state <> 'refused' and e.via <> 'archive'
  group by e.via, e.page order by last_at desc limit 50`

/**
 * How people fared with an edition: the median time, in seconds, from the first sight to sending, and of how
 * many; how many of those who agreed to be counted began, and how many finished.
 */
export async function paceOf(
  db: Db,
  edition: { id: string; number: number },
  point: string,
): Promise<{ seconds: number | null; entries: number; started: number; finished: number }> {
  const [row] = await db<{ seconds: number | null; entries: number; started: number; finished: number }[]>`
    select percentile_cont(0.5) within group (order by took_ms) filter (where took_ms is not null) / 1000.0 as seconds, count(took_ms) as entries, count(visitor_id) as finished,
      (select coalesce(sum(started), 0) from point_count where point_id = ${point} and edition = ${edition.number}) as started
    from entry where edition_id = ${edition.id} and state = 'complete'`
  return row!
}

export interface PointRow {
  id: string
  key: string
  slug: string
  name: string
  kind: string
  title: string
  questions: number
  liveNumber: number | null
  changed: boolean
  updatedAt: Date
  lastEntryAt: Date | null
  /** When the live edition takes entries; null when nothing is live. */
  closing: Closing | null
  /** Pages with a plain copy that asked an old edition when it was last used. */
  stale: number
  /** What the live edition of a quiz sorts people into. */
  results: { key: string; title: string }[] | null
}

/** All points in use, or all that were put away, with how they do; the latest entries first. */
export const pointRows = (db: Db, putAway = false) => db<PointRow[]>`
  select p.id, p.key, p.slug, p.name, p.kind, p.working_copy->>'title' as title, jsonb_array_length(p.working_copy->'questions') as questions,
    e.number as live_number, e.id is not null and e.revision <> p.revision as changed, p.updated_at, e.definition->'closing' as closing,
    (select jsonb_agg(jsonb_build_object('key', r->>'key', 'title', r->>'title')) from jsonb_array_elements(e.definition->'quiz'->'results') r) as results,
    (select count(*) from (select distinct on (x.page) d.number from entry x join edition d on d.id = x.edition_id
      where x.point_id = p.id and x.via = 'plain' and x.at > now() - interval '90 days' and x.state = 'complete' order by x.page, x.at desc) last where last.number < e.number) as stale,
    n.last_entry_at
  from point p left join edition e on e.id = p.live_edition
  left join lateral (select at as last_entry_at from entry where point_id = p.id and state = 'complete' order by at desc limit 1) n on true
  where p.archived_at is ${putAway ? db`not null` : db`null`} and p.kind <> 'page'
  order by n.last_entry_at desc nulls last, p.created_at desc`

export interface PageRow {
  id: string
  key: string
  slug: string
  name: string
  title: string
  liveNumber: number | null
  changed: boolean
  updatedAt: Date
  /** The form that stands on it, as its working copy says. */
  point: { id: string; name: string } | null
  lastEntryAt: Date | null
}

/** All landing pages in use with the entries that came through them; the latest first. */
export const pageRows = (db: Db, putAway = false) => db<PageRow[]>`
  select p.id, p.key, p.slug, p.name, p.working_copy->>'title' as title, e.number as live_number, e.id is not null and e.revision <> p.revision as changed, p.updated_at,
    (select jsonb_build_object('id', f.id, 'name', f.name) from point f where f.key = jsonb_path_query_first(p.working_copy, '$.blocks[*] ? (@.kind == "point").point') #>> '{}') as point,
    n.last_entry_at
  from point p left join edition e on e.id = p.live_edition
  left join lateral (select at as last_entry_at from entry where landing_id = p.id and state = 'complete' order by at desc limit 1) n on true
  where p.archived_at is ${putAway ? db`not null` : db`null`} and p.kind = 'page'
  order by n.last_entry_at desc nulls last, p.created_at desc`

/** The forms that may stand on a page: by key, and whether they are live. */
export const pointsToPlace = (db: Db) => db<{ id: string; key: string; name: string; live: boolean }[]>`
  select id, key, name, live_edition is not null as live from point where kind <> 'page' and archived_at is null order by lower(name)`

export async function addPoint(
  db: Db,
  p: { id: string; key: string; slug: string; name: string; kind: PointKind; workingCopy: PointDefinition | PageDefinition },
): Promise<void> {
  await db`insert into point ${db({ id: p.id, key: p.key, slug: p.slug, name: p.name, kind: p.kind, working_copy: p.workingCopy as never })}`
}

/** The first of `slug`, `slug-2`, `slug-3`… that no point has. */
export async function freeSlug(db: Db, slug: string): Promise<string> {
  const taken = new Set(
    (
      await db<{ slug: string }[]>`select slug from point where slug = ${slug} or slug like ${`${slug}-%`}
    union all select unnest(former_slugs) from point`
    ).map(r => r.slug),
  )
  for (let n = 1; ; n++) {
    const next = n === 1 ? slug : `${slug}-${n}`
    if (!taken.has(next)) return next
  }
}

/**
 * Saves a working copy, if nobody else did since it was read.
 * @returns the new revision, or null when `revision` is no longer the newest
 */
export async function saveWorkingCopy(
  db: Db,
  id: string,
  revision: number,
  name: string,
  definition: PointDefinition | PageDefinition,
): Promise<number | null> {
  const [row] = await db<{ revision: number }[]>`
    update point set working_copy = ${definition as never}, name = ${name}, revision = revision + 1, updated_at = now()
    where id = ${id} and revision = ${revision} returning revision`
  return row?.revision ?? null
}

/** Makes the working copy an edition and sets it live. Null when the revision is no longer the newest. */
export const publish = (
  db: Db,
  p: { id: string; revision: number; edition: string; by: string | null; at: Date },
): Promise<number | null> =>
  liveEdition(
    db,
    p,
    db`select id, working_copy as definition, revision, ${p.by}::uuid as by from point where id = ${p.id} and revision = ${p.revision} for update`,
  )

/**
 * Makes an edition of what a query says and sets it live; what was to go live later is older, and does not any more.
 * @param source a point's `id`, the `definition`, its `revision`, and `by` whom
 * @returns its number; null when the query says nothing
 */
export async function liveEdition(db: Db, p: { edition: string; at: Date }, source: Statement): Promise<number | null> {
  const [row] = await db<{ number: number }[]>`
    with source as (${source}),
    made as (
      insert into edition (id, point_id, number, definition, revision, made_by, made_at)
      select ${p.edition}, s.id, coalesce((select max(number) from edition where point_id = s.id), 0) + 1, s.definition, s.revision, s.by, ${p.at}
      from source s returning id, point_id, number),
    planned as (delete from going_live g using made where g.point_id = made.point_id)
    update point set live_edition = made.id from made where point.id = made.point_id returning made.number`
  return row?.number ?? null
}

/** Takes a point away, or brings it back. Its entries stay; what was to go live later does not any more. */
export async function archivePoint(db: Db, id: string, archived: boolean): Promise<boolean> {
  await db`delete from going_live where point_id = ${id}`
  return (await db`update point set archived_at = ${archived ? new Date() : null} where id = ${id}`).count === 1
}

/** What each live form asks for and does. */
export async function liveDefinitions(db: Db): Promise<{ name: string; definition: PointDefinition }[]> {
  const rows = await db<
    { name: string; definition: PointDefinition }[]
  >`select p.name, e.definition from point p join edition e on e.id = p.live_edition where p.kind <> 'page' and p.archived_at is null`
  return rows.map(r => ({ ...r, definition: completed(r.definition) }))
}

/** The names of all points, by their keys; put away ones as well. */
export const pointNames = async (db: Db): Promise<Map<string, string>> =>
  new Map((await db<{ key: string; name: string }[]>`select key, name from point`).map(p => [p.key, p.name]))

/** How all other points are called that were not put away. */
export const otherNames = async (db: Db, id: string): Promise<string[]> =>
  (await db<{ name: string }[]>`select name from point where id <> ${id} and archived_at is null`).map(p => p.name)
