import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds, readCondition, type Condition, type ActivityKind, type ActivityTest } from '#core/conditions/condition'
import * as asked from '#core/conditions/askable'
import { inWords } from '#core/conditions/words'
import { pastOf, type PastActivity } from '#core/leads/past'
import { judgeLead } from '#core/leads/about'
import { needsOf, nothingBeside } from '#core/leads/needs'
import { MOST_EXPANDED, expanded, expandedSize } from '#core/segments/segment'
import type { LeadState } from '#core/leads/lead'

const anything = () => true
const attributes = (known: Record<string, unknown>) => (name: string) => known[name]
const leaf = fc.record({
  attribute: fc.constantFrom('a', 'b'),
  is: fc.constantFrom('equal', 'not_equal', 'contains', 'filled', 'empty', 'at_least'),
  value: fc.constantFrom('x', 'X', '2', 3),
}) as fc.Arbitrary<Condition>
const tree = fc.letrec<{ node: Condition }>(tie => ({
  node: fc.oneof(
    { maxDepth: 3 },
    leaf,
    fc.record({ all: fc.array(tie('node'), { maxLength: 3 }) }),
    fc.record({ any: fc.array(tie('node'), { maxLength: 3 }) }),
    fc.record({ none: fc.array(tie('node'), { maxLength: 3 }) }),
  ),
})).node
const known = fc.dictionary(fc.constantFrom('a', 'b'), fc.oneof(fc.constantFrom('x', 'xy', '', '5'), fc.array(fc.constantFrom('x', 'y'))))

describe('conditions', () => {
  it('compare texts without regard to case, lists by any of their items, and numbers as numbers', () => {
    const f = attributes({ sector: 'School', tag: ['a', 'Visit'], size: '120' })
    expect(holds({ attribute: 'sector', is: 'one_of', value: ['council', 'school'] }, f)).toBe(true)
    expect(holds({ attribute: 'tag', is: 'equal', value: 'visit' }, f)).toBe(true)
    expect(holds({ attribute: 'tag', is: 'not_equal', value: 'visit' }, f)).toBe(false)
    expect(holds({ attribute: 'size', is: 'at_least', value: 99 }, f)).toBe(true)
    expect(holds({ attribute: 'unknown', is: 'contains', value: '' }, f)).toBe(false)
    expect(holds({ attribute: 'unknown', is: 'empty' }, f)).toBe(true)
  })
  it('hold to De Morgan: none is the opposite of any', () => {
    fc.assert(
      fc.property(fc.array(tree, { maxLength: 4 }), known, (parts, k) => {
        expect(holds({ none: parts }, attributes(k))).toBe(!holds({ any: parts }, attributes(k)))
      }),
    )
  })
  it('read back what was written, and refuse the rest with the place', () => {
    fc.assert(
      fc.property(tree, condition => {
        const read = readCondition(JSON.parse(JSON.stringify(condition)), 'condition', anything)
        expect(holds(read, attributes({ a: 'x' }))).toBe(holds(condition, attributes({ a: 'x' })))
      }),
    )
    expect(() => readCondition({ all: [{ attribute: 'a', is: 'one_of', value: 'x' }] }, 'condition', anything)).toThrow(
      'condition.all.0.value must be a list',
    )
    expect(() => readCondition({ all: [], any: [] }, 'condition', anything)).toThrow('stand alone')
    let deep: unknown = { attribute: 'a', is: 'filled' }
    for (let n = 0; n < 30; n++) deep = { all: [deep] }
    expect(() => readCondition(deep, 'condition', anything)).toThrow('nested')
  })
  const inherited = ['toString', 'constructor', '__proto__', 'hasOwnProperty', 'valueOf']
  it.each(inherited.flatMap(name => [name, `property.${name}`, `answer.${name}`, `event.${name}`, `utm.${name}`, `page.query.${name}`]))(
    'nobody is asked for %s, in any place',
    attribute => {
      for (const askable of [
        asked.ABOUT_PERSON,
        asked.ABOUT_ENTRY,
        asked.ABOUT_ANSWERS,
        asked.ABOUT_PAGE,
        asked.ABOUT_VISITOR,
        ...Object.values(asked.ABOUT_ACTIVITY),
      ])
        expect(() => readCondition({ any: [{ attribute, is: 'filled' }] }, 'condition', askable)).toThrow(
          'condition.any.0.attribute asks for',
        )
      for (const did of ['page', 'visit', 'entry', 'unfinished', 'seen', 'mark', 'file', 'event'])
        expect(() => readCondition({ did, where: { attribute, is: 'filled' } }, 'when', asked.ABOUT_PERSON)).toThrow(
          'when.where.attribute asks for',
        )
      // And if one stood there all the same, nobody would have it.
      const person = { properties: {}, tags: [] } as unknown as LeadState
      const past: PastActivity[] = [{ kind: 'event', at: 1, attributes: {} }]
      const about = { lead: person, beside: nothingBeside(needsOf([])), now: 2, halfLifeDays: 1 }
      expect(judgeLead({ attribute, is: 'filled' }, about)).toEqual({ holds: false, until: Infinity })
      expect(pastOf(past, 2).did({ did: 'event', where: { attribute, is: 'filled' }, times: 1, days: null })).toBe(false)
    },
  )
  it('name at most two hundred values, and only what can be asked there', () => {
    const many = (n: number) => ({ attribute: 'tag', is: 'one_of', value: Array.from({ length: n }, (_, i) => `t${i}`) })
    expect(readCondition(many(200), 'condition', asked.ABOUT_PERSON)).toEqual(many(200))
    expect(() => readCondition(many(201), 'condition', asked.ABOUT_PERSON)).toThrow('condition.value must have at most 200')
    expect(() => readCondition({ attribute: 'page.path', is: 'filled' }, 'condition', asked.ABOUT_PERSON)).toThrow('asks for “page.path”')
    expect(() => readCondition({ did: 'page', where: { attribute: 'label', is: 'filled' } }, 'condition', asked.ABOUT_PERSON)).toThrow(
      'condition.where.attribute',
    )
    expect(() => readCondition({ did: 'page' }, 'condition', asked.ABOUT_ANSWERS)).not.toThrow()
  })
  it('are bounded by what they become once segments are written out, without writing them', () => {
    const names = (n: number, of: string): Condition => ({
      any: Array.from({ length: n }, () => ({ attribute: 'segment', is: 'equal', value: of })),
    })
    const segments = new Map<string, Condition>([['leaf', { attribute: 'tag', is: 'filled' }]])
    for (let level = 1; level <= 9; level++) segments.set(`level${level}`, names(100, level === 1 ? 'leaf' : `level${level - 1}`))
    expect(expandedSize(names(3, 'leaf'), segments)).toBe(7)
    expect(expandedSize(names(1, 'level9'), segments)).toBeGreaterThan(1e18)
    expect(expanded(names(1, 'level9'), segments)).toEqual({ any: [] })
    expect(expandedSize(names(1, 'level1'), segments)).toBeLessThan(MOST_EXPANDED)
    expect(JSON.stringify(expanded(names(1, 'level1'), segments)).match(/"tag"/g)).toHaveLength(100)
  })
  it('read as a sentence', () => {
    const names = { attribute: (n: string) => n, value: (_: string, v: unknown) => `“${v}”` }
    expect(
      inWords(
        {
          all: [
            { attribute: 'Sector', is: 'one_of', value: ['school', 'council'] },
            {
              any: [
                { attribute: 'Tag', is: 'filled' },
                { attribute: 'Size', is: 'at_least', value: 3 },
              ],
            },
          ],
        },
        names,
      ),
    ).toBe('Sector is “school” or “council” and (Tag is known or Size is at least “3”)')
    const activity = (did: ActivityKind, more: object = {}): ActivityTest => ({ did, where: null, times: 1, days: null, ...more })
    const read = (condition: Condition) => inWords(condition, names)
    expect(
      read({
        all: [
          activity('page', { times: 2, days: 30 }),
          { none: [activity('entry', { where: { attribute: 'the form', is: 'equal', value: 'Visit' } })] },
        ],
      }),
    ).toBe('read a page at least 2 times in the last 30 days and never sent an entry (the form is “Visit”)')
    expect(read({ any: [{ none: [activity('visit', { days: 7 }), activity('entry')] }, { attribute: 'Tag', is: 'empty' }] })).toBe(
      '(not once visited the site in the last 7 days and never sent an entry) or Tag is not known',
    )
    expect(read({ none: [activity('page', { times: 2 }), { attribute: 'Tag', is: 'filled' }] })).toBe(
      'not (read a page at least 2 times or Tag is known)',
    )
    expect([read({ none: [] }), read({ all: [] }), read({ any: [] })]).toEqual(['always', 'always', 'never'])
  })
})

it('a condition of an archive from before, which calls an attribute a fact, is read as one', () => {
  expect(readCondition({ all: [{ fact: 'tag', is: 'equal', value: 'x' }] }, 'when', asked.ABOUT_PERSON)).toEqual({
    all: [{ attribute: 'tag', is: 'equal', value: 'x' }],
  })
})
