import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { common, concerns, EVERYTHING, joined, readTopics, TOPICS, topicsOf, topicsQuery, type Topics } from '#core/live/topics'

const ids = fc.uniqueArray(fc.constantFrom('a', 'b', 'c', 'd'), { minLength: 1, maxLength: 4 })
const topics = fc.dictionary(fc.constantFrom(...TOPICS), fc.oneof(fc.constant<true>(true), ids), {
  noNullPrototype: true,
}) as fc.Arbitrary<Topics>
/** All pairs of topic and id, from a few ids: what topics stand for. */
const pairs = (t: Topics) =>
  TOPICS.flatMap(topic =>
    ['a', 'b', 'c', 'd', 'e']
      .filter(id => t[topic] === true || (t[topic] as string[] | undefined)?.includes(id))
      .map(id => `${topic} ${id}`),
  )

describe('topics', () => {
  it('are joined and cut as sets are', () => {
    fc.assert(
      fc.property(topics, topics, (a, b) => {
        expect(new Set(pairs(joined(a, b)))).toEqual(new Set([...pairs(a), ...pairs(b)]))
        expect(pairs(common(a, b))).toEqual(pairs(a).filter(pair => pairs(b).includes(pair)))
        expect(concerns(a, b)).toBe(pairs(common(a, b)).length > 0)
        expect(concerns(EVERYTHING, a)).toBe(Object.keys(a).length > 0)
      }),
    )
  })
  it('go through an address unchanged', () => {
    fc.assert(
      fc.property(topics, a => {
        expect(readTopics(Object.fromEntries(new URLSearchParams(topicsQuery(a))))).toEqual(a)
      }),
    )
    expect(readTopics({ other: 'x' })).toEqual({})
    expect(topicsOf({ leads: ['a'], jobs: true } as Topics)).toEqual({ leads: ['a'] })
  })
  it.each([[''], [' '], ['a,,b'], ['a b'], [['a', 'b']], ['*,a'], [Array.from({ length: 501 }, (_, i) => i).join(',')]])(
    'do not take %j for ids',
    said => {
      expect(readTopics({ leads: said })).toMatch(/^“leads” cannot be read: write \* for all, or up to 500 ids/)
    },
  )
})
