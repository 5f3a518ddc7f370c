import type { Condition } from '#core/conditions/condition'
import type { CountedFilter } from '#core/figures/counted-filter'
import type { Db, Sql } from '#db/client'
import { overLeads } from '#db/conditions'
import { leadsWhoseWords } from '#db/said'
import { readThrough } from '#db/segments'

export interface Filter {
  label?: string[]
  owner?: string[]
  status?: string[]
  tag?: string
  /** Words that must all appear in name, company or address. */
  search?: string
  emailKey?: string
  /** Words that stand in a note, or in a mail to or from them. */
  said?: string
  /** Those whom a figure counts; moments in milliseconds since 1970. */
  counted?: Omit<CountedFilter, 'passed' | 'came'> & { passed?: { what: string; since: number }; came?: number }
  /** On one of these lists. */
  list?: string[]
  /** Who sent an entry of this point. */
  point?: string
  /** Only people who wait for an answer. */
  waiting?: boolean
  /** For whom this holds; segments written out. */
  condition?: Condition
  /** `no`: only who typed something and never sent it. `yes`: only the others. */
  submitted?: 'yes' | 'no'
}

export type SortKey = 'name' | 'company' | 'label' | 'interest' | 'fit' | 'owner' | 'status' | 'created' | 'updated' | 'waiting'

const WORDS = `(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '') || ' ' || coalesce(l.company, '') || ' ' || coalesce(l.email, '') || ' '
  || coalesce(l.properties->>'phone', ''))`
/** So few mails are looked for where words begin: anywhere in them they would be in half of all. */
const FEW_LETTERS = /^[\p{L}\p{N}]{1,2}$/u

/** A number as people write it: it is kept with its country's, without the zero in front and without spaces (E.164). */
const NUMBER = /^\+?[\d\s()./-]{5,}$/

/** Whether all words of a search are in somebody's name, company, address or number. */
function searched(db: Db, search: string) {
  const number = NUMBER.test(search.trim()) ? search.replace(/\D/g, '').replace(/^0+/, '') : ''
  const words = number ? [number] : search.trim().split(/\s+/).filter(Boolean).slice(0, 6)
  const found = (word: string) =>
    FEW_LETTERS.test(word)
      ? db`and ${db.unsafe(WORDS)} ~* ${`\\m${word}`}`
      : db`and ${db.unsafe(WORDS)} ilike ${`%${word.replace(/[\\%_]/g, '\\$&')}%`}`
  return words.length ? words.map(found) : db``
}

const UUID = /^[0-9a-f-]{36}$/i

/** The people of a figure: by what is kept of each lead to count it (core/figures/facets). */
function whoAreCounted(db: Db, c: NonNullable<Filter['counted']>) {
  const { passed, came, firstPoint, firstSource, ever, stage } = c
  const cohort = firstPoint !== undefined || firstSource !== undefined || came !== undefined
  return db`${passed ? db`and (l.counted->'last'->>${passed.what})::float8 >= ${passed.since}` : db``}
    ${cohort ? db`and l.counted->'first'->>0 <> ''` : db``}
    ${firstPoint !== undefined ? db`and l.counted->'first'->>0 = ${firstPoint}` : db``}
    ${firstSource !== undefined ? db`and l.counted->'first'->>1 = ${firstSource}` : db``}
    ${came !== undefined ? db`and l.created_at >= to_timestamp(${came}::float8 / 1000)` : db``}
    ${ever ? db`and l.counted->'qualified' = 'true'` : db``}
    ${stage ? db`and l.status in (select key from status where stage = ${stage})` : db``}`
}

/** The filters of a list, over the lead `l`. */
export function where(db: Db, f: Filter) {
  const none = (values: string[]) => values.includes('none')
  const owners = f.owner?.filter(o => UUID.test(o))
  return db`where true
    ${f.label ? db`and (l.label = any(${f.label}) ${none(f.label) ? db`or l.label is null` : db``})` : db``}
    ${owners ? db`and (l.owner_id = any(${owners}::uuid[]) ${none(f.owner!) ? db`or l.owner_id is null` : db``})` : db``}
    ${f.status ? db`and l.status = any(${f.status})` : db``}
    ${f.tag ? db`and ${f.tag} = any(l.tags)` : db``}
    ${f.emailKey ? db`and l.email_key = ${f.emailKey}` : db``}
    ${f.list ? db`and exists (select from list_member g where g.lead_id = l.id and g.list_id = any(${f.list}::uuid[]))` : db``}
    ${f.point ? db`and exists (select from entry e where e.lead_id = l.id and e.point_id = ${f.point} and e.state = 'complete')` : db``}
    ${f.waiting ? db`and l.waiting_since is not null` : db``}
    ${f.submitted ? db`and (l.submitted_at is null) = ${f.submitted === 'no'}` : db``}
    ${f.counted ? whoAreCounted(db, f.counted) : db``}
    ${f.said?.trim() ? db`and l.id in ${leadsWhoseWords(db, f.said)}` : db``}
    ${f.condition ? db`and ${overLeads(db, f.condition, Date.now())}` : db``}
    ${searched(db, f.search ?? '')}`
}

const NAME = `lower(coalesce(nullif(trim(coalesce(l.first_name, '') || ' ' || coalesce(l.last_name, '')), ''), l.email, l.properties->>'phone'))`

/** What leads may be sorted by: a column or an expression of their own, or words of the house, in the house's order. */
const OWN: Partial<
  Record<
    SortKey,
    {
      by: string
      isAlways?: boolean
      /** What is null where it is not known, by which index, where that is another expression. */ unknown?: string
      /** The same, the quickest to judge row by row. */ known?: string
    }
  >
> = {
  name: { by: NAME, known: `coalesce(l.email, ${NAME})` },
  company: { by: 'lower(l.company)', unknown: 'l.company', known: 'l.company' },
  waiting: { by: 'l.waiting_since' },
  interest: { by: 'l.interest_key', isAlways: true },
  fit: { by: 'l.fit', isAlways: true },
  created: { by: 'l.created_at', isAlways: true },
  updated: { by: 'l.updated_at', isAlways: true },
}
/** Of the house's words: what each lead has one of, and all there are, in order. Whose leads have none comes last, either way. */
const WORDED: Partial<Record<SortKey, { column: string; all: string }>> = {
  label: { column: 'l.label', all: 'select key::text as word, rank::text as place from label' },
  status: { column: 'l.status', all: 'select key::text as word, rank::text as place from status' },
  owner: { column: 'l.owner_id', all: 'select id as word, lower(name) as place from member' },
}

export interface Page {
  from: number
  size: number
}
/** How many are counted; of more it is only said that they are more. */
export const MOST_COUNTED = 10_000
/** Of those whom a search finds fewer: each has to be looked at. */
export const MOST_FOUND = 1_000

/** The ids of one page of leads, in order. */
async function idsOf(db: Db, f: Filter, sort: SortKey, down: boolean, { from, size }: Page): Promise<string[]> {
  const way = db.unsafe(down ? 'desc' : 'asc')
  const inVariant = WORDED[sort]
  if (inVariant) {
    const column = db.unsafe(inVariant.column)
    const some = (which: ReturnType<Db>) =>
      db`select l.id from lead l ${where(db, f)} and ${which} order by l.id ${way} limit ${from + size}`
    // Of words that the filter leaves out nobody has to be looked for.
    const wanted = f[sort as 'label' | 'status' | 'owner']
    const asked = wanted ? db` where ${db.unsafe(sort === 'owner' ? 'id::text' : 'key')} = any(${wanted})` : db``
    const place = sort === 'owner' ? db`w.place` : db`w.place::numeric`
    const rows = await db<{ id: string }[]>`
      select id from (
        select 0 as last, row_number() over (order by ${place} ${way}, p.id ${way}) as nth, p.id
        from (${db.unsafe(inVariant.all)}${asked}) w cross join lateral (${some(db`${column} = w.word`)}) p
        union all select 1, row_number() over (order by n.id ${way}), n.id from (${some(db`${column} is null`)}) n
      ) x order by last, nth limit ${size} offset ${from}`
    return rows.map(r => r.id)
  }
  const { by, isAlways, unknown = by, known: isKnown = by } = OWN[sort]!
  const expression = db.unsafe(by)
  const known = isAlways ? db`` : db`and ${db.unsafe(isKnown)} is not null`
  const rows = await db<
    { id: string }[]
  >`select l.id from lead l ${where(db, f)} ${known} order by ${expression} ${way}, l.id ${way} limit ${size} offset ${from}`
  if (isAlways || rows.length === size) return rows.map(r => r.id)
  // Of whom it is not known, behind the others.
  const before =
    from > 0 && !rows.length
      ? (await db<{ n: number }[]>`select count(*)::int as n from lead l ${where(db, f)} ${known}`)[0]!.n
      : from + rows.length
  const rest = await db<{ id: string }[]>`select l.id from lead l ${where(db, f)} and ${db.unsafe(unknown)} is null order by l.id ${way}
    limit ${size - rows.length} offset ${Math.max(0, from - before)}`
  return [...rows, ...rest].map(r => r.id)
}

/** How many there are: no more than `MOST_COUNTED` (`MOST_FOUND`), and whether there are more. */
export interface LeadCount {
  total: number
  more: boolean
}
/** Where a condition says who is meant, the trail is read through. */
const reading = <T>(sql: Sql, f: Filter, read: (db: Db) => Promise<T>): Promise<T> => (f.condition ? readThrough(sql, read) : read(sql))

/** How many leads filters fit. */
export const countLeads = (sql: Sql, f: Filter): Promise<LeadCount> => reading(sql, f, db => counted(db, f))

async function counted(db: Db, f: Filter): Promise<LeadCount> {
  const most = f.search?.trim() ? MOST_FOUND : MOST_COUNTED
  const [count] = await db<
    { total: number }[]
  >`select count(*)::int as total from (select 1 from lead l ${where(db, f)} limit ${most + 1}) x`
  return { total: Math.min(count!.total, most), more: count!.total > most }
}

/** The ids of one page of leads, sorted in the database, and how many there are. */
export const leadIds = (sql: Sql, f: Filter, sort: SortKey, down: boolean, page: Page): Promise<LeadCount & { ids: string[] }> =>
  reading(sql, f, async db => {
    const [ids, count] = await Promise.all([idsOf(db, f, sort, down, page), counted(db, f)])
    return { ids, ...count }
  })

/** As `leadIds`, where counting would take longer than finding some: how many there are at least, and whether there are more. */
export const firstLeadIds = (sql: Sql, f: Filter, sort: SortKey, down: boolean, page: Page): Promise<LeadCount & { ids: string[] }> =>
  reading(sql, f, async db => {
    const found = await idsOf(db, f, sort, down, { ...page, size: page.size + 1 })
    const ids = found.slice(0, page.size)
    return { ids, total: ids.length ? page.from + ids.length : 0, more: found.length > page.size }
  })

/** The ids of those whom filters fit, no more than so many. */
export const idsWithin = async (db: Db, f: Filter, most: number): Promise<string[]> =>
  (await db<{ id: string }[]>`select l.id from lead l ${where(db, f)} limit ${most}`).map(r => r.id)
