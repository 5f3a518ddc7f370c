import type postgres from 'postgres'
import type { Db, Statement } from '#db/client'

/** A fragment of a statement: SQL, with values and other fragments where it has gaps. */
export class Fragment {
  constructor(
    readonly sql: TemplateStringsArray,
    readonly gaps: unknown[],
  ) {}
}

/** A fragment out of a template literal. Values become parameters, fragments stand where they are. */
export const fragment = (sql: TemplateStringsArray, ...gaps: unknown[]): Fragment => new Fragment(sql, gaps)

/** A number for each place in our code that a fragment comes from. */
const places = new WeakMap<TemplateStringsArray, number>()
let count = 0
const placeOf = ({ sql }: Fragment): number => places.get(sql) ?? (places.set(sql, ++count), count)

/** Texts of statements, by the places their fragments come from. */
const texts = new Map<string, string>()

/**
 * The statement that a fragment is, prepared. Its text is put together once for each way in which fragments are combined;
 * a batch of entries is made of some twenty of them, and is written a hundred times a second.
 */
export function statement<T extends readonly object[] = postgres.Row[]>(
  db: Db,
  whole: Fragment,
): postgres.PendingQuery<T & Iterable<NonNullable<T[number]>>> {
  const values: unknown[] = []
  let key = ''
  const visit = (p: Fragment): void => {
    key += `${placeOf(p)}(`
    for (const gap of p.gaps)
      if (gap instanceof Fragment) visit(gap)
      else {
        values.push(gap)
        key += ','
      }
    key += ')'
  }
  visit(whole)
  let text = texts.get(key)
  if (text === undefined) texts.set(key, (text = written(whole, { n: 0 })))
  return db.unsafe(text, values as never[], { prepare: true }) as never
}

const written = ({ sql, gaps }: Fragment, at: { n: number }): string =>
  gaps.reduce<string>((text, gap, i) => text + (gap instanceof Fragment ? written(gap, at) : `$${++at.n}`) + sql[i + 1], sql[0]!)

/**
 * Some statements that write, as parts of one: one way to the database and back. All of them see what was there before,
 * and references between what they write are checked at the end.
 */
export function atOnce(db: Db, parts: (Fragment | 0)[]): Statement[] {
  const named = parts.flatMap((part, i) => (part ? [NAMED[i]!(part)] : []))
  return named.length ? [statement(db, fragment`with ${named.reduce((all, part) => fragment`${all}, ${part}`)} select`)] : []
}

const NAMED = [
  (p: Fragment) => fragment`first as (${p})`,
  (p: Fragment) => fragment`second as (${p})`,
  (p: Fragment) => fragment`third as (${p})`,
  (p: Fragment) => fragment`fourth as (${p})`,
  (p: Fragment) => fragment`fifth as (${p})`,
  (p: Fragment) => fragment`sixth as (${p})`,
  (p: Fragment) => fragment`seventh as (${p})`,
  (p: Fragment) => fragment`eighth as (${p})`,
]
