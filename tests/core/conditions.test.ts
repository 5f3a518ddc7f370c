import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds, readCondition, type Condition, type DeedKind, type DeedTest } from '#core/conditions'
import * as asked from '#core/conditions-facts'
import { inWords } from '#core/conditions-words'
import { personFacts, pastOf, type Known } from '#core/segments/person'
import { MOST_WRITTEN, writtenOut, writtenSize } from '#core/segments/segment'
import type { LeadState } from '#core/leads'

const anything = () => true
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
      const read = readCondition(JSON.parse(JSON.stringify(condition)), 'condition', anything)
      expect(holds(read, facts({ a: 'x' }))).toBe(holds(condition, facts({ a: 'x' })))
    }))
    expect(() => readCondition({ all: [{ fact: 'a', is: 'one_of', value: 'x' }] }, 'condition', anything)).toThrow('condition.all.0.value must be a list')
    expect(() => readCondition({ all: [], any: [] }, 'condition', anything)).toThrow('stand alone')
    let deep: unknown = { fact: 'a', is: 'filled' }
    for (let n = 0; n < 30; n++) deep = { all: [deep] }
    expect(() => readCondition(deep, 'condition', anything)).toThrow('nested')
  })
  const inherited = ['toString', 'constructor', '__proto__', 'hasOwnProperty', 'valueOf']
  it.each(inherited.flatMap(name => [name, `property.${name}`, `answer.${name}`, `event.${name}`, `utm.${name}`, `page.query.${name}`]))('nobody is asked for %s, in any place', (fact) => {
    for (const askable of [asked.ABOUT_PERSON, asked.ABOUT_ENTRY, asked.ABOUT_ANSWERS, asked.ABOUT_PAGE, asked.ABOUT_VISITOR, ...Object.values(asked.ABOUT_DEED)])
      expect(() => readCondition({ any: [{ fact, is: 'filled' }] }, 'condition', askable)).toThrow('condition.any.0.fact asks for')
    for (const did of ['page', 'visit', 'entry', 'unfinished', 'seen', 'mark', 'file', 'event'])
      expect(() => readCondition({ did, where: { fact, is: 'filled' } }, 'when', asked.ABOUT_PERSON)).toThrow('when.where.fact asks for')
    // And if one stood there all the same, nobody would have it.
    const person = { properties: {}, tags: [] } as unknown as LeadState
    const past = { deeds: [{ kind: 'event', at: 1, facts: {} }] } as unknown as Known
    expect(holds({ fact, is: 'filled' }, personFacts(person, past))).toBe(false)
    expect(pastOf(past.deeds, 2).did({ did: 'event', where: { fact, is: 'filled' }, times: 1, days: null })).toBe(false)
  })
  it('name at most two hundred values, and only what can be asked there', () => {
    const many = (n: number) => ({ fact: 'tag', is: 'one_of', value: Array.from({ length: n }, (_, i) => `t${i}`) })
    expect(readCondition(many(200), 'condition', asked.ABOUT_PERSON)).toEqual(many(200))
    expect(() => readCondition(many(201), 'condition', asked.ABOUT_PERSON)).toThrow('condition.value must have at most 200')
    expect(() => readCondition({ fact: 'page.path', is: 'filled' }, 'condition', asked.ABOUT_PERSON)).toThrow('asks for “page.path”')
    expect(() => readCondition({ did: 'page', where: { fact: 'label', is: 'filled' } }, 'condition', asked.ABOUT_PERSON)).toThrow('condition.where.fact')
    expect(() => readCondition({ did: 'page' }, 'condition', asked.ABOUT_ANSWERS)).not.toThrow()
  })
  it('are bounded by what they become once segments are written out, without writing them', () => {
    const names = (n: number, of: string): Condition => ({ any: Array.from({ length: n }, () => ({ fact: 'segment', is: 'equal', value: of })) })
    const segments = new Map<string, Condition>([['leaf', { fact: 'tag', is: 'filled' }]])
    for (let level = 1; level <= 9; level++) segments.set(`level${level}`, names(100, level === 1 ? 'leaf' : `level${level - 1}`))
    expect(writtenSize(names(3, 'leaf'), segments)).toBe(7)
    expect(writtenSize(names(1, 'level9'), segments)).toBeGreaterThan(1e18)
    expect(writtenOut(names(1, 'level9'), segments)).toEqual({ any: [] })
    expect(writtenSize(names(1, 'level1'), segments)).toBeLessThan(MOST_WRITTEN)
    expect(JSON.stringify(writtenOut(names(1, 'level1'), segments)).match(/"tag"/g)).toHaveLength(100)
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
