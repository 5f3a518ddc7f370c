import { compiled, fragment, type Column, type Fragment } from '#core/conditions/sql'
import type { Condition, ActivityKind, ActivityTest } from '#core/conditions/condition'
import type { Known, PastActivity } from '#core/segments/person'
import type { Segment } from '#core/segments/segment'
import type { Db, Sql, Tx } from '#db/client'

/** All segments by name. */
export const segments = (db: Db) => db<Segment[]>`select id, name, condition from segment where removed_at is null order by lower(name)`
/** @returns false when another has this name */
export async function saveSegment(db: Db, s: Segment, at: Date): Promise<boolean> {
  const [taken] = await db`select 1 from segment where lower(name) = lower(${s.name}) and removed_at is null and id <> ${s.id}`
  if (taken) return false
  await db`insert into segment (id, name, condition, made_at, updated_at) values (${s.id}, ${s.name}, ${s.condition as never}, ${at}, ${at})
    on conflict (id) do update set name = excluded.name, condition = excluded.condition, updated_at = excluded.updated_at, removed_at = null`
  return true
}
/** @returns whether there is such a segment */
export const removeSegment = async (db: Db, id: string, at: Date): Promise<boolean> =>
  (await db`update segment set removed_at = ${at} where id = ${id} and removed_at is null`).count > 0

/** A fragment of SQL in a query of the client's. */
export function asSql(db: Db, { strings, values }: Fragment) {
  const template = Object.assign([...strings], { raw: strings }) as unknown as TemplateStringsArray
  return db(template, ...values as never[])
}

/** A condition, segments written out, over the lead `l`. @param now milliseconds since 1970 */
export const overLeads = (db: Db, condition: Condition, now: number) => asSql(db, compiled(condition, { attribute: leadColumn, did: test => didFragment(test, now), now }))

const day = (moment: string) => `to_char(${moment} at time zone 'UTC', 'YYYY-MM-DD')`
/** Visits that belong to lead `l`: its browsers', while they were its own. Machines' do not count. */
const VISITS = `from visitor_lead v join visit t on t.visitor_id = v.visitor_id and t.began_at >= v.since and t.began_at < v.until where v.lead_id = l.id and v.undone_at is null and not t.robot`
const ONES: Record<string, string> = {
  'property.email': 'l.email', 'property.first_name': 'l.first_name', 'property.last_name': 'l.last_name', 'property.company': 'l.company',
  'label': 'l.label', 'status': 'l.status', 'owner': 'l.owner_id::text', 'fit': 'l.fit::text', 'interest': 'l.interest::text',
  'created': day('l.created_at'), 'status_since': day('l.status_at'), 'waiting': `case when l.waiting_since is null then 'no' else 'yes' end`, 'given': `case when l.given_at is null then 'no' else 'yes' end`,
  'last_entry': `(select ${day('max(e.at)')} from entry e where e.lead_id = l.id and e.state = 'complete')`,
  'last_visit': `(select ${day('max(t.last_at)')} ${VISITS})`,
  'source.first': `(select t.source ${VISITS} order by t.began_at, t.id limit 1)`, 'source.latest': `(select t.source ${VISITS} order by t.began_at desc, t.id desc limit 1)`,
}
const raw = (text: string) => fragment([text])
/** One text or a list of them in a piece of JSON, as texts. */
const textsOf = (json: Fragment): Fragment => fragment`select jsonb_array_elements_text(case jsonb_typeof(${json}) when 'array' then ${json} else jsonb_build_array(${json}) end) as v`

function leadColumn(attribute: string): Column | null {
  if (Object.hasOwn(ONES, attribute)) return { one: raw(ONES[attribute]!) }
  if (attribute === 'tag') return { many: raw('select unnest(l.tags) as v') }
  if (attribute === 'list') return { many: raw('select g.list_id::text as v from list_member g join list i on i.id = g.list_id and i.removed_at is null where g.lead_id = l.id') }
  return attribute.startsWith('property.') ? { many: textsOf(fragment`(l.properties -> ${attribute.slice(9)}::text)`) } : null
}

const EVENT_ATTRIBUTES: Record<string, string> = { 'page.path': 'e.path', 'page.title': 'e.title', 'point': `e.data ->> 'point'`, 'question': `e.data ->> 'question'`, 'mark': `e.data ->> 'mark'`, 'file': `e.data ->> 'file'`, 'event': `e.data ->> 'name'` }
const VISIT_ATTRIBUTES: Record<string, string> = { 'visit.source': 't.source', 'visit.device': 't.device', 'visit.language': 't.language', 'visit.place': 't.place', 'visit.pages': 't.pages::text' }

function eventColumn(attribute: string): Column | null {
  if (Object.hasOwn(EVENT_ATTRIBUTES, attribute)) return { one: raw(EVENT_ATTRIBUTES[attribute]!) }
  return attribute.startsWith('event.') ? { one: fragment`e.data -> 'properties' ->> ${attribute.slice(6)}::text` } : null
}
function visitColumn(attribute: string): Column | null {
  if (Object.hasOwn(VISIT_ATTRIBUTES, attribute)) return { one: raw(VISIT_ATTRIBUTES[attribute]!) }
  return attribute.startsWith('utm.') ? { one: fragment`t.utm ->> ${attribute.slice(4)}::text` } : null
}
function answersColumn(attribute: string): Column | null {
  if (attribute === 'point') return { one: raw('p.key') }
  return attribute.startsWith('answer.') ? { many: textsOf(fragment`(e.answers -> ${attribute.slice(7)}::text)`) } : null
}

const DAY = 86_400_000
/** The leads who did something so often: worked out once for all of them. */
function didFragment({ did, where, times, days }: ActivityTest, now: number): Fragment {
  const within = (moment: string) => days === null ? raw('true') : fragment`${raw(moment)} >= ${new Date(now - days * DAY).toISOString()}::timestamptz`
  const which = (column: (attribute: string) => Column | null) => where ? compiled(where, { attribute: column, did: () => raw('false'), now }) : raw('true')
  const often = (whose: string) => times === 1 ? raw('') : fragment`group by ${raw(whose)} having count(*) >= ${times}::int`
  if (did === 'entry') return fragment`l.id in (select e.lead_id from entry e join point p on p.id = e.point_id where e.state = 'complete' and e.lead_id is not null and ${within('e.at')} and ${which(answersColumn)} ${often('e.lead_id')})`
  if (did === 'unfinished') return fragment`l.id in (select e.lead_id from unfinished e left join point p on p.id = e.point_id where e.lead_id is not null and e.sent_at is null and e.finished_at is null and ${within('e.last_at')} and ${which(attribute => attribute === 'form' ? { one: raw('e.form') } : answersColumn(attribute))} ${often('e.lead_id')})`
  if (did === 'visit') return fragment`l.id in (select v.lead_id from visitor_lead v join visit t on t.visitor_id = v.visitor_id and t.began_at >= v.since and t.began_at < v.until
    where v.undone_at is null and not t.robot and ${within('t.began_at')} and ${which(visitColumn)} ${often('v.lead_id')})`
  return fragment`l.id in (select v.lead_id from visitor_lead v join trail_event e on e.visitor_id = v.visitor_id and e.at >= v.since and e.at < v.until
    where v.undone_at is null and e.kind = ${did}::text and ${within('e.at')} and ${which(eventColumn)} and not exists (select from visit t where t.id = e.visit_id and t.robot) ${often('v.lead_id')})`
}

/**
 * Reads for conditions over all leads. Somebody with ten thousand events looks to the planner like everybody else, and going
 * through the trail person by person then takes many times what reading it through takes: so it is read through.
 */
export async function readThrough<T>(sql: Sql, read: (tx: Tx) => Promise<T>): Promise<T> {
  const { result } = await sql.begin('read only', async (tx) => {
    await tx`set local enable_nestloop = off`
    return { result: await read(tx) }
  }) as { result: T }
  return result
}

/** How many leads a condition holds for. */
export const countFor = async (sql: Sql, condition: Condition, now: number): Promise<number> => await readThrough(sql, async tx =>
  (await tx<{ n: number }[]>`select count(*)::int as n from lead l where ${overLeads(tx, condition, now)}`)[0]!.n)

/** How many leads a condition holds for, of how many, and the most interested of them: read once. */
export const whoIsIn = async (sql: Sql, condition: Condition, now: number, most: number): Promise<{ leads: number; of: number; some: string[] }> => await readThrough(sql, async tx =>
  (await tx<{ leads: number; of: number; some: string[] }[]>`with who as materialized (select l.id, l.interest from lead l where ${overLeads(tx, condition, now)})
    select (select count(*)::int from who) as leads, (select count(*)::int from lead) as of, array(select id from who order by interest desc, id limit ${most}) as some`)[0]!)

/** Whether a condition holds for a lead. */
export const holdsForLead = async (db: Db, condition: Condition, lead: string, now: number): Promise<boolean> =>
  (await db`select 1 from lead l where l.id = ${lead} and ${overLeads(db, condition, now)}`).length > 0

interface KnownRow {
  id: string; lists: string[]; fit: number; interest: number; statusSince: string; firstSource: string | null; latestSource: string | null
  lastVisit: string | null
}
const MOST_ACTIVITIES = 5_000

/** All that conditions may ask about leads, beside what stands on them. Of very long trails the latest part. */
export async function knownOf(db: Db, leads: string[]): Promise<Map<string, Known>> {
  const [rows, activities] = await Promise.all([
    db<KnownRow[]>`select l.id, array(select g.list_id::text from list_member g join list i on i.id = g.list_id and i.removed_at is null where g.lead_id = l.id) as lists, l.fit, l.interest, ${db.unsafe(ONES.status_since!)} as status_since,
      ${db.unsafe(ONES['source.first']!)} as first_source, ${db.unsafe(ONES['source.latest']!)} as latest_source, ${db.unsafe(ONES.last_visit!)} as last_visit from lead l where l.id = any(${leads}::uuid[])`,
    Promise.all(leads.map(async lead => [lead, await activitiesOf(db, db`(select v.visitor_id, v.since, v.until from visitor_lead v where v.lead_id = ${lead} and v.undone_at is null)`, lead)] as const)),
  ])
  const done = new Map(activities)
  return new Map(rows.map(({ id, ...row }) => [id, { ...row, activities: done.get(id) ?? [] }]))
}

/** What a browser did that is nobody's yet. */
export const activitiesOfVisitor = (db: Db, visitor: string): Promise<PastActivity[]> => activitiesOf(db, db`(select ${visitor}::uuid as visitor_id,
  coalesce((select max(coalesce(o.undone_at, o.until)) from visitor_lead o where o.visitor_id = ${visitor}), '-infinity') as since, 'infinity'::timestamptz as until)`, null)

/** What a browser did since it was last somebody else's, whoever is said to be behind it now. */
export const activitiesOfBrowser = (db: Db, visitor: string): Promise<PastActivity[]> => activitiesOf(db, db`(select ${visitor}::uuid as visitor_id,
  coalesce((select max(coalesce(o.undone_at, o.until)) from visitor_lead o
    where o.visitor_id = ${visitor} and (o.undone_at is not null or o.until < 'infinity')), '-infinity') as since, 'infinity'::timestamptz as until)`, null)

export interface BrowserEntry {
  at: Date; point: string; answers: Record<string, string | string[]>
  questions: { key: string; property: string | null; choices: { value: string; tag?: string }[] }[]; tags: string[] | null; lists: string[] | null
}
/** What was sent from a browser since it was last somebody else's, the latest first. */
export const entriesOfBrowser = (db: Db, visitor: string) => db<BrowserEntry[]>`
  select e.at, p.key as point, e.answers, d.definition -> 'questions' as questions, d.definition -> 'afterwards' -> 'tags' as tags, d.definition -> 'afterwards' -> 'lists' as lists
  from visitor_lead v join entry e on e.lead_id = v.lead_id and e.visitor_id = v.visitor_id join point p on p.id = e.point_id join edition d on d.id = e.edition_id
  where v.visitor_id = ${visitor} and v.until = 'infinity' and v.undone_at is null and e.state = 'complete' order by e.at desc limit 50`

async function activitiesOf(db: Db, spans: ReturnType<Db>, lead: string | null): Promise<PastActivity[]> {
  const [events, visits, entries, unfinished] = await Promise.all([
    db<{ kind: ActivityKind; at: Date; path: string; title: string | null; data: Record<string, unknown> | null }[]>`
      select e.kind, e.at, e.path, e.title, e.data from ${spans} v join trail_event e on e.visitor_id = v.visitor_id and e.at >= v.since and e.at < v.until
      where e.kind <> 'read' and not exists (select from visit t where t.id = e.visit_id and t.robot) order by e.at desc limit ${MOST_ACTIVITIES}`,
    db<{ at: Date; source: string; device: string; language: string | null; place: string | null; pages: number; utm: Record<string, string> }[]>`
      select t.began_at as at, t.source, t.device, t.language, t.place, t.pages, t.utm from ${spans} v join visit t on t.visitor_id = v.visitor_id and t.began_at >= v.since and t.began_at < v.until where not t.robot limit ${MOST_ACTIVITIES}`,
    lead === null ? [] : db<{ at: Date; point: string; answers: Record<string, string | string[]> }[]>`select e.at, p.key as point, e.answers from entry e join point p on p.id = e.point_id where e.lead_id = ${lead} and e.state = 'complete'`,
    lead === null ? [] : db<{ at: Date; point: string | null; form: string | null; answers: Record<string, string | string[]> }[]>`select e.last_at as at, p.key as point, e.form, e.answers from unfinished e left join point p on p.id = e.point_id where e.lead_id = ${lead} and e.sent_at is null and e.finished_at is null`,
  ])
  const texts = (prefix: string, values: object | null | undefined) => Object.fromEntries(Object.entries(values ?? {}).map(([k, v]) => [prefix + k, Array.isArray(v) ? v.map(String) : String(v)]))
  return [
    ...events.map(({ kind, at, path, title, data }) => ({ kind, at: at.getTime(), attributes: { 'page.path': path, 'page.title': title, 'point': data?.point, 'question': data?.question, 'mark': data?.mark, 'file': data?.file, 'event': data?.name, ...texts('event.', data?.properties as object) } as PastActivity['attributes'] })),
    ...visits.map(({ at, source, device, language, place, pages, utm }) => ({ kind: 'visit' as const, at: at.getTime(), attributes: { 'visit.source': source, 'visit.device': device, 'visit.language': language, 'visit.place': place, 'visit.pages': String(pages), ...texts('utm.', utm) } })),
    ...entries.map(({ at, point, answers }) => ({ kind: 'entry' as const, at: at.getTime(), attributes: entryAttributes(point, answers) })),
    ...unfinished.map(({ at, point, form, answers }) => ({ kind: 'unfinished' as const, at: at.getTime(), attributes: { ...entryAttributes(point, answers), form } })),
  ]
}

/** What conditions may ask of an entry. */
export const entryAttributes = (point: string | null, answers: Record<string, string | string[]>): PastActivity['attributes'] => ({ point, ...Object.fromEntries(Object.entries(answers).map(([k, v]) => [`answer.${k}`, v])) })

/** Where a lead came from first and lately: the sources of their visits. */
export async function sourcesOf(db: Db, lead: string): Promise<{ first: string | null; latest: string | null }> {
  const [row] = await db<{ first: string | null; latest: string | null }[]>`select ${db.unsafe(ONES['source.first']!)} as first, ${db.unsafe(ONES['source.latest']!)} as latest from lead l where l.id = ${lead}`
  return row ?? { first: null, latest: null }
}
