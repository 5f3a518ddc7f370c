import type { Language } from '#core/languages/language'
import type { Joined, Span } from '#core/leads/join-browser'
import type { TrailEvent } from '#core/trail/events'
import type { Db, Statement, Tx } from '#db/client'
import { unnameExperiments } from '#db/variants'

export const DEVICES = ['computer', 'phone', 'tablet', 'other'] as const
export interface Visit {
  id: string
  visitor: string
  site: string
  referrer: string | null
  utm: Record<string, string>
  source: string
  language: string | null
  device: (typeof DEVICES)[number]
  place: string | null
  robot: boolean
}
/** Events of one visit that came together; the batch's id counts once. */
export interface TrailBatch {
  id: string
  visit: Visit
  events: TrailEvent[]
}

const iso = (ms: number) => new Date(ms).toISOString()

/**
 * Keeps events with their visits, in one statement. A batch that was taken before is passed over as a whole;
 * a visit stays its own visitor's, and came from where one of its pages was entered from, in whichever order they arrive.
 * @returns the ids of the batches that were new
 */
export async function keepEvents(tx: Db, given: TrailBatch[], at: Date): Promise<Set<string>> {
  const batches = [...new Map(given.map(b => [b.id, b])).values()]
  const heads = batches.map((b, i) => ({ ...b.visit, b: i, batch: b.id, first: iso(Math.min(...b.events.map(e => e.at))) }))
  // A thousand events may come in one go: what they share goes once, and names are short.
  const rows = batches.flatMap((b, i) =>
    b.events.map(e => ({ b: i, t: e.at, k: e.kind, p: e.path, ...(e.title !== null && { n: e.title }), ...(e.data && { d: e.data }) })),
  )
  const fresh = await tx<{ id: string }[]>`
    with fresh as (
      insert into trail_batch (id, at) select distinct id, ${at}::timestamptz from unnest(${batches.map(b => b.id)}::uuid[], ${batches.map(b => b.visit.visitor)}::uuid[]) as b(id, visitor)
      where not exists (select from forgotten_visitor f where f.visitor_id = b.visitor) on conflict do nothing returning id),
    head as materialized (
      select v.* from jsonb_to_recordset(${heads as never}::jsonb) as v(b int, batch uuid, first timestamptz, id uuid, visitor uuid, site text, referrer text, utm jsonb, source text, language text, device text, place text, robot boolean)
      join fresh on fresh.id = v.batch),
    r as materialized (
      select h.id as visit, h.visitor, to_timestamp(e.t / 1000.0) as at, e.k as kind, e.p as path, e.n as title, e.d as data
      from jsonb_to_recordset(${rows as never}::jsonb) as e(b int, t bigint, k text, p text, n text, d jsonb) join head h on h.b = e.b),
    kept as (
      insert into trail_event (at, visitor_id, visit_id, kind, path, title, data) select at, visitor, visit, kind, path, title, data from r where kind <> 'gone'),
    seen as (
      select visit, min(at) as began, max(at) as last, count(*) filter (where kind = 'page') as pages,
        case when max(at) filter (where kind = 'gone') >= coalesce(max(at) filter (where kind <> 'gone'), '-infinity') then max(at) end as gone,
        (array_agg(path order by at desc))[1] as path, (array_agg(title order by at desc) filter (where kind = 'page'))[1] as title from r group by visit),
    visits as (
      insert into visit (id, visitor_id, site, began_at, last_at, gone_at, pages, path, title, referrer, utm, source, language, device, place, robot)
      select distinct on (v.id) v.id, v.visitor, v.site, s.began, s.last, s.gone, s.pages, s.path, s.title, v.referrer, v.utm, v.source, v.language, v.device, v.place, v.robot
      from head v join seen s on s.visit = v.id order by v.id, v.source = 'direct', v.first
      on conflict (id) do update set began_at = least(visit.began_at, excluded.began_at), last_at = greatest(visit.last_at, excluded.last_at),
        gone_at = case when excluded.last_at >= visit.last_at then excluded.gone_at else visit.gone_at end, pages = visit.pages + excluded.pages,
        referrer = case when visit.source = 'direct' then excluded.referrer else visit.referrer end, utm = case when visit.source = 'direct' then excluded.utm else visit.utm end,
        source = case when visit.source = 'direct' then excluded.source else visit.source end, robot = visit.robot and excluded.robot,
        path = case when excluded.last_at >= visit.last_at then excluded.path else visit.path end,
        title = case when excluded.last_at >= visit.last_at and (excluded.title is not null or excluded.path <> visit.path) then excluded.title else visit.title end
      where visit.visitor_id = excluded.visitor_id)
    select id from fresh`
  return new Set(fresh.map(f => f.id))
}

/** Whose these browsers are now, by browser. */
export async function leadsOfVisitors(db: Db, visitors: string[]): Promise<Map<string, string>> {
  const rows = await db<{ visitorId: string; leadId: string }[]>`
    select visitor_id, lead_id from visitor_lead where visitor_id = any(${visitors}::uuid[]) and until = 'infinity' and undone_at is null`
  return new Map(rows.map(r => [r.visitorId, r.leadId]))
}

export interface EarningRow {
  visitorId: string
  kind: string
  at: Date
  path: string
  title: string | null
  data: TrailEvent['data']
}
/** Pages that these browsers read, and events of theirs, that belong to no lead yet: of whom nobody is behind, since somebody last was. */
export const unclaimedActivities = (db: Db, visitors: string[]) => db<EarningRow[]>`
  select e.visitor_id, e.kind, e.at, e.path, e.title, e.data
  from (select b.id, coalesce(max(coalesce(v.undone_at, v.until)), '-infinity') as since
    from unnest(${visitors}::uuid[]) as b(id) left join visitor_lead v on v.visitor_id = b.id group by b.id) b
  join trail_event e on e.visitor_id = b.id and e.at >= b.since
  where b.since < 'infinity' and e.kind in ('page', 'event') order by e.at limit 2000`

/** The same of a lead's browsers, while they were the lead's. */
export const activitiesOfLead = (db: Db, lead: string) => db<EarningRow[]>`
  select e.visitor_id, e.kind, e.at, e.path, e.title, e.data from visitor_lead v join trail_event e on e.visitor_id = v.visitor_id and e.at >= v.since and e.at < v.until
  where v.lead_id = ${lead} and v.undone_at is null and e.kind in ('page', 'event') order by e.at limit 2000`

interface SpanRow {
  id: string
  visitorId: string
  leadId: string
  since: number
  until: number
  undone: number | null
}
/** Whose some browsers were, and when. */
export async function spansOf(db: Db, visitors: string[]): Promise<Map<string, Span[]>> {
  const ms = (moment: string) => db.unsafe(`(extract(epoch from ${moment}) * 1000)::float8`)
  const rows = await db<
    SpanRow[]
  >`select id, visitor_id, lead_id, ${ms('since')} as since, ${ms('until')} as until, ${ms('undone_at')} as undone
    from visitor_lead where visitor_id = any(${visitors}::uuid[])`
  const spans = new Map(visitors.map(v => [v, [] as Span[]]))
  for (const { id, visitorId, leadId, since, until, undone } of rows)
    spans.get(visitorId)!.push({ id, visitor: visitorId, lead: leadId, since, until, undone })
  return spans
}

/** Writes down whose browsers are from now on, and until when they were somebody else's. Whom another process named meanwhile throws 23505. */
export function writeJoined(tx: Db, joined: Joined[]): Statement[] {
  const moment = (ms: number) => (ms === Infinity ? 'infinity' : ms === -Infinity ? '-infinity' : iso(ms))
  const begins = joined.flatMap(j => j.begins ?? [])
  const fresh = new Set(begins.map(s => s.id))
  const ends = joined.flatMap(j => (j.ends && !fresh.has(j.ends.id) ? [{ id: j.ends.id, until: moment(j.ends.until) }] : []))
  const rows = begins.map(s => ({ id: s.id, visitor: s.visitor, lead: s.lead, since: moment(s.since), until: moment(s.until) }))
  return [
    ...(ends.length
      ? [
          tx`update visitor_lead v set until = r.until from jsonb_to_recordset(${ends as never}::jsonb) as r(id uuid, until timestamptz) where v.id = r.id`,
        ]
      : []),
    ...(rows.length
      ? [
          tx`insert into visitor_lead (id, visitor_id, lead_id, since, until)
      select id, visitor, lead, since, until from jsonb_to_recordset(${rows as never}::jsonb) as r(id uuid, visitor uuid, lead uuid, since timestamptz, until timestamptz)`,
        ]
      : []),
  ]
}

/** It is shown that a browser is a lead's: they confirmed an entry that was sent from it, or opened a mailed link in it. */
export const proveVisitor = (db: Db, lead: string, visitor: string, at: Date) => db`
  update visitor_lead set proven_at = ${at} where visitor_id = ${visitor} and lead_id = ${lead} and until = 'infinity' and undone_at is null and proven_at is null`

/** The lead whose browser this was shown to be; null where it is only said. */
export const provenLead = async (db: Db, visitor: string): Promise<string | null> =>
  (
    await db<{ leadId: string }[]>`select lead_id from visitor_lead
    where visitor_id = ${visitor} and until = 'infinity' and undone_at is null and proven_at is not null`
  )[0]?.leadId ?? null

export interface LeadVisitor {
  visitorId: string
  since: Date | null
  proven: boolean
  device: string | null
  visits: number
  lastAt: Date | null
}
/** The browsers that a lead was known by, the latest first. */
export const visitorsOfLead = (db: Db, lead: string) => db<LeadVisitor[]>`
  select v.visitor_id, min(t.began_at) as since, (array_agg(t.device order by t.last_at desc))[1] as device,
    count(t.id)::int as visits, max(t.last_at) as last_at, bool_or(v.proven_at is not null) as proven
  from visitor_lead v left join visit t on t.visitor_id = v.visitor_id and t.last_at >= v.since and t.began_at < v.until
  where v.lead_id = ${lead} and v.undone_at is null group by v.visitor_id order by max(t.last_at) desc nulls last`

/** Takes a browser from a lead: what was done with it is nobody's again. @returns whether it was theirs */
export const partVisitor = async (db: Db, lead: string, visitor: string, at: Date): Promise<boolean> =>
  (await db`update visitor_lead set undone_at = ${at} where lead_id = ${lead} and visitor_id = ${visitor} and undone_at is null`).count > 0

/** Gives a browser back to a lead that it was taken from. @returns false when it is somebody else's by now */
export const joinAgain = async (db: Db, lead: string, visitor: string): Promise<boolean> =>
  (
    await db`update visitor_lead v set undone_at = null where lead_id = ${lead} and visitor_id = ${visitor} and undone_at is not null
    and not exists (select from visitor_lead o where o.visitor_id = v.visitor_id and o.id <> v.id and o.undone_at is null and o.until > v.since and o.since < v.until)`
  ).count > 0

/** Takes everything away that a browser did. @returns the leads it was joined to */
export async function forgetVisitor(tx: Tx, visitor: string): Promise<string[]> {
  const rows = await tx<{ leadId: string }[]>`delete from visitor_lead where visitor_id = ${visitor} returning lead_id`
  await tx`delete from trail_event where visitor_id = ${visitor}`
  await tx`delete from visit where visitor_id = ${visitor}`
  await unnameExperiments(tx, visitor)
  // What was said stays with us; whose browser it was does not.
  await tx`update conversation set visitor_id = null where visitor_id = ${visitor}`
  await tx`insert into forgotten_visitor (visitor_id, at) values (${visitor}, now()) on conflict do nothing`
  const typed = await tx<{ leadId: string | null }[]>`delete from unfinished where visitor_id = ${visitor} returning lead_id`
  rows.push(...typed.flatMap(t => (t.leadId ? [{ leadId: t.leadId }] : [])))
  return [...new Set(rows.map(r => r.leadId))]
}

export interface LiveVisit {
  id: string
  site: string
  path: string
  title: string | null
  beganAt: Date
  lastAt: Date
  goneAt: Date | null
  pages: number
  source: string
  device: string
  place: string | null
  language: string | null
  /** They had been there before this visit. */
  returning: boolean
  leadId: string | null
  trail: TrailEvent[]
}
/** Who is on the site: visits in which something happened since then, the latest first, with what they did. */
export const visitsNow = (db: Db, since: Date, most: number) => db<LiveVisit[]>`
  select v.id, v.site, v.path, v.title, v.began_at, v.last_at, v.gone_at, v.pages, v.source, v.device, v.place, v.language,
    exists (select from visit o where o.visitor_id = v.visitor_id and o.began_at < v.began_at) as returning,
    (select lead_id from visitor_lead l where l.visitor_id = v.visitor_id and l.until = 'infinity' and l.undone_at is null) as lead_id,
    ${visitEvents(db)} as trail
  from visit v where v.last_at >= ${since} and not v.robot order by v.last_at desc limit ${most}`

/** The events of a visit `v`, as the fold takes them; the last ones of very long visits. */
export const visitEvents = (
  db: Db,
  within = db``,
) => db`coalesce((select jsonb_agg(jsonb_build_object('kind', e.kind, 'at', (extract(epoch from e.at) * 1000)::bigint, 'path', e.path, 'title', e.title, 'data', e.data) order by e.at)
    from (select * from trail_event e where e.visitor_id = v.visitor_id and e.visit_id = v.id and e.at >= v.began_at and e.at <= v.last_at ${within} order by e.at desc limit 300) e), '[]'::jsonb)`

export const visitsLately = async (db: Db, since: Date): Promise<number> =>
  (await db<{ n: number }[]>`select count(*)::int as n from visit where last_at >= ${since} and not robot`)[0]!.n

export interface SiteSettings {
  agreement: 'own' | 'site' | 'not_needed'
  notice: string
  style: string | null
  origins: string[]
  parameters: string[]
  retentionMonths: number
  keepUnfinished: boolean
  mailUnfinished: boolean
  /** Of the notice. */
  language: Language
}
export const siteSettings = async (db: Db): Promise<SiteSettings> =>
  (
    await db<
      SiteSettings[]
    >`select agreement, notice, style, origins, parameters, retention_months, keep_unfinished, mail_unfinished, language from site`
  )[0]!
export const saveSite = (db: Db, s: SiteSettings) => db`
  update site set agreement = ${s.agreement}, notice = ${s.notice}, style = ${s.style}, origins = ${s.origins}, parameters = ${s.parameters}, retention_months = ${s.retentionMonths}, keep_unfinished = ${s.keepUnfinished}, mail_unfinished = ${s.mailUnfinished}, language = ${s.language}`

/** Makes sure that there are parts for the months around a day. */
export const makeParts = (db: Db, ...days: Date[]) =>
  Promise.all(days.map(d => db`select make_trail_part(${d.toISOString().slice(0, 10)}::date)`))

/** Drops the parts that lie wholly before a day, and the visits that ended before it. @returns the parts' names */
export async function dropParts(db: Db, before: Date): Promise<string[]> {
  const month = before.toISOString().slice(0, 7).replace('-', '_')
  const parts = await db<{ name: string }[]>`
    select c.relname as name from pg_inherits i join pg_class c on c.oid = i.inhrelid where i.inhparent = 'trail_event'::regclass and c.relname ~ '^trail_event_[0-9]{4}_[0-9]{2}$' and c.relname < ${`trail_event_${month}`} order by 1`
  for (const { name } of parts) await db`drop table ${db(name)}`
  if (parts.length) await db`delete from visit where last_at < ${before}`
  return parts.map(p => p.name)
}

export async function forgetBatches(db: Db, before: Date): Promise<void> {
  await db`delete from trail_batch where at < ${before}`
  await db`delete from forgotten_visitor where at < ${before}`
}

export const visitorOfVisit = async (db: Db, visit: string): Promise<string | null> =>
  (await db<{ visitorId: string }[]>`select visitor_id from visit where id = ${visit}`)[0]?.visitorId ?? null
