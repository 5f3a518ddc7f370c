import { getQuery, type H3Event } from 'h3'
import type { Condition } from '#core/conditions/condition'
import { cameSince, COUNTED_NAMES, countedFilter, passedSince, type CountedQuery } from '#core/figures/counted-filter'
import { parseEmail } from '#core/identity/email'
import type { Flaw } from '#core/flaws'
import { expanded } from '#core/segments/segment'
import type { Sql } from '#db/client'
import type { Filter } from '#db/lead-list'
import { listReadings, longReadings } from '#server/database'
import { problem } from '#server/problem'
import type { Ruleset } from '#server/ruleset'
import { readTests } from '#server/segments/read'
import { parseJson } from '#server/wire'

const UUID = /^([0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}|none)$/i

/**
 * Reads the filters that lists of leads share out of the query: label, owner, status
 * (each may come several times), list, tag, search, email, waiting, submitted, segment.
 * @throws 422 naming what cannot be read, or is not known here
 */
export function readFilter(
  event: H3Event,
  own: string[],
  segments: Map<string, Condition>,
): { filter: Filter; query: Record<string, string | undefined>; impossible: boolean } {
  const raw = getQuery(event)
  const flaws: Flaw[] = []
  const many = (name: string) => (raw[name] === undefined || raw[name] === '' ? undefined : [raw[name]].flat().map(String))
  const one = (name: string) => {
    const values = many(name)
    if (values && values.length > 1) flaws.push({ field: name, message: 'Send this once.' })
    return values?.[0]
  }
  const known = ['label', 'owner', 'status', 'tag', 'search', 'email', 'waiting', 'list', 'segment', 'submitted', ...own]
  for (const name of Object.keys(raw))
    if (!known.includes(name)) flaws.push({ field: name.slice(0, 60), message: `There is no such filter. There are: ${known.join(', ')}.` })
  const owner = many('owner')
  if (owner?.some(o => !UUID.test(o))) flaws.push({ field: 'owner', message: 'An owner is a member’s id, or “none”.' })
  const list = many('list')
  if (list?.some(l => !UUID.test(l) || l === 'none')) flaws.push({ field: 'list', message: 'A list is named by its id.' })
  const segment = one('segment')
  if (segment !== undefined && !segments.has(segment)) flaws.push({ field: 'segment', message: 'There is no segment with this id.' })
  const submitted = one('submitted')
  if (submitted !== undefined && submitted !== 'yes' && submitted !== 'no')
    flaws.push({ field: 'submitted', message: 'Send submitted=yes or submitted=no, or leave it out.' })
  const waiting = one('waiting')
  if (waiting !== undefined && waiting !== 'true') flaws.push({ field: 'waiting', message: 'Send waiting=true, or leave it out.' })
  const email = one('email')
  const key = email === undefined ? undefined : parseEmail(email)?.key
  const filter: Filter = {
    label: many('label'),
    owner,
    status: many('status'),
    tag: one('tag'),
    search: one('search')?.slice(0, 200),
    waiting: waiting === 'true',
    emailKey: key,
    list,
    submitted: submitted as Filter['submitted'],
    ...(segment !== undefined && { condition: expanded({ attribute: 'segment', is: 'equal', value: segment }, segments) }),
  }
  const query = Object.fromEntries(own.map(name => [name, one(name)]))
  if (flaws.length) throw problem(422, 'The query cannot be read; see the list.', flaws)
  // What is no address belongs to nobody: an empty list, not an error.
  return { filter, query, impossible: email !== undefined && !key }
}

/** The team's own list can be filtered by more: the point of an entry (its id), and any condition, as JSON. */
export function readTeamFilter(event: H3Event, own: string[], ruleset: Ruleset) {
  const read = readFilter(event, ['point', 'condition', 'said', ...COUNTED_NAMES, ...own], ruleset.segments)
  const { point, condition, said } = read.query
  if (point !== undefined && !UUID.test(point))
    throw problem(422, 'The query cannot be read; see the list.', [{ field: 'point', message: 'A form is named by its id.' }])
  const counted = countedFilter(read.query as CountedQuery)
  if (counted && 'flaw' in counted)
    throw problem(422, 'The query cannot be read; see the list.', [{ field: 'passed', message: counted.flaw }])
  const { passed, came, ...rest } = counted ?? {}
  const now = Date.now()
  const whom = counted && {
    ...rest,
    ...(passed && { passed: { what: passed.what, since: passedSince(passed.days, now) } }),
    ...(came !== undefined && { came: cameSince(came, now, ruleset.house.zone) }),
  }
  const asked = condition === undefined ? null : expanded(readTests(parseJson(condition) as object, ruleset), ruleset.segments)
  const both = asked && read.filter.condition ? { all: [read.filter.condition, asked] } : (asked ?? read.filter.condition)
  return {
    ...read,
    filter: {
      ...read.filter,
      ...(point && { point }),
      ...(said && { said: said.slice(0, 200) }),
      ...(whom && { counted: whom }),
      ...(both && { condition: both }),
    } as Filter,
  }
}

/** A whole number out of a query. @throws 422 when it is none or out of bounds */
export function wholeNumber(text: string | undefined, field: string, usual: number, least: number, most: number): number {
  if (text === undefined) return usual
  const value = Number(text)
  if (!Number.isInteger(value) || value < least || value > most)
    throw problem(422, 'The query cannot be read; see the list.', [{ field, message: `Send a whole number from ${least} to ${most}.` }])
  return value
}

/** The connections that a list is read by: what a condition asks for may take longer, and must not take the others'. */
export const readingsFor = (filter: Filter): Sql => (filter.condition ? longReadings() : listReadings())
