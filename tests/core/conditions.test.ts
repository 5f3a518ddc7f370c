import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds, readCondition, type Condition, type DeedKind, type DeedTest } from '#core/conditions'
import { inWords } from '#core/conditions-words'

const facts = (known: Record<string, unknown>) => (name: string) => known[name]
const leaf = fc.record({ fact: fc.constantFrom('a', 'b'), is: fc.constantFrom('equal', 'not_equal', 'contains', 'filled', 'empty', 'at_least'), value: fc.constantFrom('x', 'X', '2', 3) }) as fc.Arbitrary<Condition>
const tree = fc.letrec<{ node: Condition }>(tie => ({
  node: fc.oneof({ maxDepth: 3 }, leaf, fc.record({ all: fc.array(tie('node'), { maxLength: 3 }) }), fc.record({ any: fc.array(tie('node'), { maxLength: 3 }) }), fc.record({ none: fc.array(tie('node'), { maxLength: 3 }) })),
})).node
const known = fc.dictionary(fc.constantFrom('a', 'b'), fc.oneof(fc.constantFrom('x', 'xy', '', '5'), fc.array(fc.constantFrom('x', 'y'))))

describe('conditions', () => {
  it('compare texts without regard to case, lists by any of their items, and numbers as numbers', () => {
    const f = facts({ sector: 'School', tag: ['a', 'Visit'], size: '120' })
    expect(holds({ fact: 'sector', is: 'one_of', value: ['council', 'school'] }, f)).toBe(true)
    expect(holds({ fact: 'tag', is: 'equal', value: 'visit' }, f)).toBe(true)
    expect(holds({ fact: 'tag', is: 'not_equal', value: 'visit' }, f)).toBe(false)
    expect(holds({ fact: 'size', is: 'at_least', value: 99 }, f)).toBe(true)
    expect(holds({ fact: 'unknown', is: 'contains', value: '' }, f)).toBe(false)
    expect(holds({ fact: 'unknown', is: 'empty' }, f)).toBe(true)
  })
  it('hold to De Morgan: none is the opposite of any', () => {
    fc.assert(fc.property(fc.array(tree, { maxLength: 4 }), known, (parts, k) => {
      expect(holds({ none: parts }, facts(k))).toBe(!holds({ any: parts }, facts(k)))
    }))
  })
  it('read back what was written, and refuse the rest with the place', () => {
    fc.assert(fc.property(tree, (condition) => {
      const read = readCondition(JSON.parse(JSON.stringify(condition)))
      expect(holds(read, facts({ a: 'x' }))).toBe(holds(condition, facts({ a: 'x' })))
    }))
    expect(() => readCondition({ all: [{ fact: 'a', is: 'one_of', value: 'x' }] })).toThrow('condition.all.0.value must be a list')
    expect(() => readCondition({ all: [], any: [] })).toThrow('stand alone')
    let deep: unknown = { fact: 'a', is: 'filled' }
    for (let n = 0; n < 30; n++) deep = { all: [deep] }
    expect(() => readCondition(deep)).toThrow('nested')
  })
  it('read as a sentence', () => {
    const names = { fact: (n: string) => n, value: (_: string, v: unknown) => `“${v}”` }
    expect(inWords({ all: [{ fact: 'Sector', is: 'one_of', value: ['school', 'council'] }, { any: [{ fact: 'Tag', is: 'filled' }, { fact: 'Size', is: 'at_least', value: 3 }] }] }, names))
      .toBe('Sector is “school” or “council” and (Tag is known or Size is at least “3”)')
    const deed = (did: DeedKind, more: object = {}): DeedTest => ({ did, where: null, times: 1, days: null, ...more })
    const read = (condition: Condition) => inWords(condition, names)
    expect(read({ all: [deed('page', { times: 2, days: 30 }), { none: [deed('entry', { where: { fact: 'the form', is: 'equal', value: 'Visit' } })] }] }))
      .toBe('read a page at least 2 times in the last 30 days and never sent an entry (the form is “Visit”)')
    expect(read({ any: [{ none: [deed('visit', { days: 7 }), deed('entry')] }, { fact: 'Tag', is: 'empty' }] })).toBe('(not once visited the site in the last 7 days and never sent an entry) or Tag is not known')
    expect(read({ none: [deed('page', { times: 2 }), { fact: 'Tag', is: 'filled' }] })).toBe('not (read a page at least 2 times or Tag is known)')
    expect([read({ none: [] }), read({ all: [] }), read({ any: [] })]).toEqual(['always', 'always', 'never'])
  })
})
