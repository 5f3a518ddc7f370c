import type postgres from 'postgres'
import type { Db, Statement } from '#db/client'

/** A piece of a statement: SQL, with values and other pieces where it has gaps. */
export class Piece {
  constructor(readonly sql: TemplateStringsArray, readonly gaps: unknown[]) {}
}

/** A piece out of a template literal. Values become parameters, pieces stand where they are. */
export const piece = (sql: TemplateStringsArray, ...gaps: unknown[]): Piece => new Piece(sql, gaps)

/** A number for each place in our code that a piece comes from. */
const places = new WeakMap<TemplateStringsArray, number>()
let count = 0
const placeOf = ({ sql }: Piece): number => places.get(sql) ?? (places.set(sql, ++count), count)

/** Texts of statements, by the places their pieces come from. */
const texts = new Map<string, string>()

/**
 * The statement that a piece is, prepared. Its text is put together once for each way in which pieces are combined;
 * a batch of entries is made of some twenty of them, and is written a hundred times a second.
 */
export function statement<T extends readonly object[] = postgres.Row[]>(db: Db, whole: Piece): postgres.PendingQuery<T & Iterable<NonNullable<T[number]>>> {
  const values: unknown[] = []
  let key = ''
  const visit = (p: Piece): void => {
    key += `${placeOf(p)}(`
    for (const gap of p.gaps) if (gap instanceof Piece) visit(gap)
      else {
        values.push(gap)
        key += ','
      }
    key += ')'
  }
  visit(whole)
  let text = texts.get(key)
  if (text === undefined) texts.set(key, text = written(whole, { n: 0 }))
  return db.unsafe(text, values as never[], { prepare: true }) as never
}

const written = ({ sql, gaps }: Piece, at: { n: number }): string =>
  gaps.reduce<string>((text, gap, i) => text + (gap instanceof Piece ? written(gap, at) : `$${++at.n}`) + sql[i + 1], sql[0]!)

/**
 * Some statements that write, as parts of one: one way to the database and back. All of them see what was there before,
 * and references between what they write are checked at the end.
 */
export function atOnce(db: Db, parts: (Piece | 0)[]): Statement[] {
  const named = parts.flatMap((part, i) => part ? [NAMED[i]!(part)] : [])
  return named.length ? [statement(db, piece`with ${named.reduce((all, part) => piece`${all}, ${part}`)} select`)] : []
}

const NAMED = [
  (p: Piece) => piece`first as (${p})`, (p: Piece) => piece`second as (${p})`, (p: Piece) => piece`third as (${p})`, (p: Piece) => piece`fourth as (${p})`,
  (p: Piece) => piece`fifth as (${p})`, (p: Piece) => piece`sixth as (${p})`, (p: Piece) => piece`seventh as (${p})`, (p: Piece) => piece`eighth as (${p})`,
]
