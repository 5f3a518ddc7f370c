import type { ActivityTest, Condition } from '#core/conditions/condition'
import { compiled, fragment, type Column, type Fragment } from '#core/conditions/sql'
import { raw, textsIn } from '#core/leads/attributes/columns'
import { attributeOf, ownName } from '#core/leads/attributes/registry'
import type { Db } from '#db/client'

/** A fragment of SQL in a query of the client's. */
export function asSql(db: Db, { strings, values }: Fragment) {
  const template = Object.assign([...strings], { raw: strings }) as unknown as TemplateStringsArray
  return db(template, ...(values as never[]))
}

/** A condition, segments written out, over the lead `l`. @param now milliseconds since 1970 */
export const overLeads = (db: Db, condition: Condition, now: number) =>
  asSql(db, compiled(condition, { attribute: name => leadColumn(name, now), did: test => didFragment(test, now), now }))

function leadColumn(name: string, now: number): Column | null {
  const attribute = attributeOf(name)
  return attribute ? attribute.sql(now, ownName(attribute, name)) : null
}

const EVENT_ATTRIBUTES: Record<string, string> = {
  'page.path': 'e.path',
  'page.title': 'e.title',
  point: `e.data ->> 'point'`,
  question: `e.data ->> 'question'`,
  mark: `e.data ->> 'mark'`,
  file: `e.data ->> 'file'`,
  event: `e.data ->> 'name'`,
}
const VISIT_ATTRIBUTES: Record<string, string> = {
  'visit.source': 't.source',
  'visit.device': 't.device',
  'visit.language': 't.language',
  'visit.place': 't.place',
  'visit.pages': 't.pages::text',
}

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
  return attribute.startsWith('answer.') ? textsIn(raw('e.answers'), attribute.slice(7)) : null
}
const unfinishedColumn = (attribute: string): Column | null => (attribute === 'form' ? { one: raw('e.form') } : answersColumn(attribute))

const DAY = 86_400_000

/** Where one kind of activity stands, whose it is, when it was, and what may be asked about it. */
interface Source {
  from: string
  /** What counts, beside what a test asks. */
  counts: Fragment
  /** Whose it is, where it is nobody's browser that says so. */
  lead: string | null
  at: string
  column: (attribute: string) => Column | null
}

/** @param did of events of a trail, their kind */
function sourceOf(did: ActivityTest['did']): Source {
  if (did === 'entry') {
    return {
      from: 'entry e join point p on p.id = e.point_id',
      counts: raw(`e.state = 'complete'`),
      lead: 'e.lead_id',
      at: 'e.at',
      column: answersColumn,
    }
  }
  if (did === 'unfinished') {
    const counts = raw('e.sent_at is null and e.finished_at is null')
    return {
      from: 'unfinished e left join point p on p.id = e.point_id',
      counts,
      lead: 'e.lead_id',
      at: 'e.last_at',
      column: unfinishedColumn,
    }
  }
  if (did === 'visit') return { from: 'visit t', counts: raw('not t.robot'), lead: null, at: 't.began_at', column: visitColumn }
  const counts = fragment`e.kind = ${did}::text and not exists (select from visit t where t.id = e.visit_id and t.robot)`
  return { from: 'trail_event e', counts, lead: null, at: 'e.at', column: eventColumn }
}
const visitorOf = ({ at }: Source) => (at.startsWith('t.') ? 't.visitor_id' : 'e.visitor_id')

function which({ where, days }: ActivityTest, source: Source, now: number): Fragment {
  const within = days === null ? raw('true') : fragment`${raw(source.at)} >= ${new Date(now - days * DAY).toISOString()}::timestamptz`
  const like = where ? compiled(where, { attribute: source.column, did: () => raw('false'), now }) : raw('true')
  return fragment`${source.counts} and ${within} and ${like}`
}

/** The leads who did something so often: worked out once for all of them. */
function didFragment(test: ActivityTest, now: number): Fragment {
  const source = sourceOf(test.did)
  const often = (whose: string) => (test.times === 1 ? raw('') : fragment`group by ${raw(whose)} having count(*) >= ${test.times}::int`)
  if (source.lead) {
    return fragment`l.id in (select ${raw(source.lead)} from ${raw(source.from)} where ${raw(source.lead)} is not null and ${which(test, source, now)} ${often(source.lead)})`
  }
  const spans = raw(`join visitor_lead v on v.visitor_id = ${visitorOf(source)} and ${source.at} >= v.since and ${source.at} < v.until`)
  return fragment`l.id in (select v.lead_id from ${raw(source.from)} ${spans} where v.undone_at is null and ${which(test, source, now)} ${often('v.lead_id')})`
}

/**
 * When somebody did something, the latest first, as many as a test asks for: in milliseconds since 1970, as an array.
 * @param spans a query of browsers and of the time in which they were theirs: visitor_id, since, until
 * @param lead whose it is, beside those browsers; null: nobody's yet
 */
export function momentsFragment(test: ActivityTest, spans: Fragment, lead: Fragment | null, now: number): Fragment {
  const source = sourceOf(test.did)
  const ms = raw(`floor(extract(epoch from ${source.at}) * 1000)::bigint`)
  const latest = fragment`order by ${raw(source.at)} desc limit ${test.times}::int`
  if (source.lead) {
    return lead
      ? fragment`array(select ${ms} from ${raw(source.from)} where ${raw(source.lead)} = ${lead} and ${which(test, source, now)} ${latest})`
      : raw(`array[]::bigint[]`)
  }
  const mine = raw(`${visitorOf(source)} = v.visitor_id and ${source.at} >= v.since and ${source.at} < v.until`)
  return fragment`array(select ${ms} from ${spans} v join ${raw(source.from)} on ${mine} where ${which(test, source, now)} ${latest})`
}
