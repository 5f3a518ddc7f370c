import fc from 'fast-check'
import { expect, it } from 'vitest'
import type { Db } from '#db/client'
import { atOnce, fragment, statement, type Fragment } from '#db/fragment'

/** What would be sent. */
interface Sent {
  text: string
  values: unknown[]
  options: object
}
const db = { unsafe: (text: string, values: unknown[], options: object): Sent => ({ text, values, options }) } as unknown as Db
const sent = (p: Fragment) => statement(db, p) as unknown as Sent

interface Made {
  made: Fragment
  text: (value: () => string) => string
  values: unknown[]
}
/** Pieces, and what they should come to. */
const { node } = fc.letrec<{ node: Made }>(tie => ({
  node: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    fc.anything().map(v => ({ made: fragment`a = ${v}`, text: (value: () => string) => `a = ${value()}`, values: [v] })),
    fc.constant<Made>({ made: fragment`true`, text: () => 'true', values: [] }),
    fc.tuple(tie('node'), fc.string(), tie('node')).map(([l, v, r]) => ({
      made: fragment`(${l.made} or b = ${v} or ${r.made})`,
      text: (value: () => string) => `(${l.text(value)} or b = ${value()} or ${r.text(value)})`,
      values: [...l.values, v, ...r.values],
    })),
    fc.tuple(tie('node'), tie('node')).map(([l, r]) => ({
      made: fragment`(${l.made} and ${r.made})`,
      text: (value: () => string) => `(${l.text(value)} and ${r.text(value)})`,
      values: [...l.values, ...r.values],
    })),
  ),
}))

it('numbers the values of nested fragments in their order, however they are combined', () => {
  fc.assert(
    fc.property(node, ({ made, text, values }) => {
      let n = 0
      const { text: got, values: given, options } = sent(made)
      expect([got, options]).toEqual([text(() => `$${++n}`), { prepare: true }])
      expect(given).toEqual(values)
    }),
    { numRuns: 500 },
  )
})

it('never takes a value for SQL, whatever it looks like', () => {
  for (const value of [{ sql: ['; drop table lead'], gaps: [] }, '$1', '; drop table lead', [fragment`x`]]) {
    const { text, values } = sent(fragment`select ${value}`)
    expect(text).toBe('select $1')
    expect(values).toEqual([value])
  }
})

it('makes one statement of several that write, and none of nothing', () => {
  expect(atOnce(db, [0, 0])).toEqual([])
  const [one] = atOnce(db, [fragment`insert ${1}`, 0, fragment`update ${2}`]) as unknown as Sent[]
  expect(one!.text).toBe('with first as (insert $1), third as (update $2) select')
  expect(one!.values).toEqual([1, 2])
})
