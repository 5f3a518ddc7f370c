/**
 * What may change that somebody looks at, or keeps in memory. `notices` goes by the member whom they are for,
 * `drafts` and `presence` (who has it open) by the point.
 */
export const TOPICS = [
  'leads',
  'notices',
  'points',
  'drafts',
  'lists',
  'segments',
  'properties',
  'scorecard',
  'plan',
  'dryRun',
  'styles',
  'colleagues',
  'appearing',
  'site',
  'review',
  'trail',
  'deliveries',
  'presence',
  'conversations',
  'notes',
] as const
export type Topic = (typeof TOPICS)[number]

/** What changed, or what somebody looks at: of each topic those with these ids, or (`true`) whatever there is. */
export type Topics = Partial<Record<Topic, true | string[]>>

/** Said where it is not known what changed. */
export const EVERYTHING: Topics = Object.fromEntries(TOPICS.map(topic => [topic, true]))

/** Only the topics of an object that may hold more. */
export const topicsOf = (a: Topics): Topics => common(a, EVERYTHING)

/** What is in one or the other. */
export function joined(a: Topics, b: Topics): Topics {
  const all: Topics = {}
  for (const topic of TOPICS) {
    const [x, y] = [a[topic], b[topic]]
    const both = x === true || y === true ? true : [...new Set([...(x ?? []), ...(y ?? [])])]
    if (both === true || both.length) all[topic] = both
  }
  return all
}

/** What is in both. */
export function common(a: Topics, b: Topics): Topics {
  const all: Topics = {}
  for (const topic of TOPICS) {
    const [x, y] = [a[topic], b[topic]]
    if (!x || !y) continue
    const both = x === true ? y : y === true ? x : x.filter(id => y.includes(id))
    if (both === true || both.length) all[topic] = both
  }
  return all
}

/** Whether who looks at `a` must hear of `b`. */
export const concerns = (a: Topics, b: Topics): boolean => Object.keys(common(a, b)).length > 0

/** Topics as the query of an address: `leads=*&drafts=ID,ID`. */
export const topicsQuery = (a: Topics): string =>
  new URLSearchParams(Object.entries(topicsOf(a)).map(([topic, ids]) => [topic, ids === true ? '*' : ids.join(',')])).toString()

const MOST_IDS = 500
const ID = /^[\w-]{1,64}$/

/**
 * Reads what `topicsQuery` writes; what else the address holds is left alone.
 * @returns a sentence when something of it cannot be read
 */
export function readTopics(query: Record<string, unknown>): Topics | string {
  const all: Topics = {}
  for (const topic of TOPICS) {
    const said = query[topic]
    if (said === undefined) continue
    const ids = typeof said === 'string' ? said.split(',') : []
    if (said === '*') all[topic] = true
    else if (ids.length > 0 && ids.length <= MOST_IDS && ids.every(id => ID.test(id))) all[topic] = [...new Set(ids)]
    else return `“${topic}” cannot be read: write * for all, or up to ${MOST_IDS} ids with commas between.`
  }
  return all
}
