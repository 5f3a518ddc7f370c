import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { merge, onlyDifference, same } from '#core/points/merge'

const question = fc.record({ key: fc.constantFrom('a', 'b', 'c', 'd', 'e'), label: fc.string({ maxLength: 3 }), required: fc.boolean() })
const definition = fc.record({
  title: fc.string({ maxLength: 3 }),
  tags: fc.uniqueArray(fc.constantFrom('x', 'y', 'z')),
  questions: fc.uniqueArray(question, { selector: q => q.key, maxLength: 5 }),
})

describe('two who change the same thing', () => {
  it('agree when only one changed something, whoever it was', () => {
    fc.assert(
      fc.property(definition, definition, (base, changed) => {
        expect(merge(base, changed, base)).toEqual({ merged: changed, conflicts: [] })
        expect(merge(base, base, changed)).toEqual({ merged: changed, conflicts: [] })
        expect(merge(base, changed, changed).merged).toEqual(changed)
      }),
    )
  })
  it('lose nothing that they added, and no text that only one of them wrote', () => {
    fc.assert(
      fc.property(definition, definition, definition, (base, mine, theirs) => {
        const { merged } = merge(base, mine, theirs)
        const known = new Set(base.questions.map(q => q.key))
        for (const q of [...mine.questions, ...theirs.questions])
          if (!known.has(q.key)) expect(merged.questions.map(m => m.key)).toContain(q.key)
        expect(new Set(merged.questions.map(q => q.key)).size).toBe(merged.questions.length)
        for (const was of base.questions) {
          const [m, t, now] = [mine, theirs, merged].map(d => d.questions.find(q => q.key === was.key))
          if (m && t && m.label !== was.label && t.label === was.label) expect(now!.label).toBe(m.label)
          if (m && t && m.label === was.label && t.label !== was.label) expect(now!.label).toBe(t.label)
          if (!m && t && same(t, was)) expect(now).toBeUndefined()
          if (!m && t && !same(t, was)) expect(now).toEqual(t)
        }
      }),
    )
  })
  it('are told what both changed; mine stands', () => {
    const base = { title: 'A', questions: [{ key: 'q', label: 'Old' }], tags: ['x'] }
    const result = merge(
      base,
      { ...base, title: 'Mine', tags: ['x', 'm'] },
      {
        title: 'Theirs',
        questions: [
          { key: 'q', label: 'New' },
          { key: 'r', label: 'R' },
        ],
        tags: ['t'],
      },
    )
    expect(result).toEqual({
      merged: {
        title: 'Mine',
        questions: [
          { key: 'q', label: 'New' },
          { key: 'r', label: 'R' },
        ],
        tags: ['m', 't'],
      },
      conflicts: ['title'],
    })
  })
  it('keep a new order with what the other added in its place', () => {
    const items = (...keys: string[]) => keys.map(key => ({ key }))
    expect(merge(items('a', 'b', 'c'), items('c', 'a', 'b'), items('a', 'n', 'b', 'c')).merged.map(i => i.key)).toEqual([
      'c',
      'a',
      'n',
      'b',
    ])
    expect(merge(items('a', 'b', 'c'), items('a', 'b', 'c', 'm'), items('b', 'a', 'c')).merged.map(i => i.key)).toEqual([
      'b',
      'a',
      'c',
      'm',
    ])
  })
  it('differ in one place, or in more', () => {
    const d = { title: 'A', questions: [{ key: 'q', label: 'Old' }] }
    expect(onlyDifference(d, { ...d, title: 'B' })).toBe('title')
    expect(onlyDifference(d, { ...d, questions: [{ key: 'q', label: 'New' }] })).toBe('questions.0.label')
    expect(onlyDifference(d, { title: 'B', questions: [{ key: 'q', label: 'New' }] })).toBeNull()
    expect(onlyDifference(d, { ...d, questions: [] })).toBe('questions')
    expect(onlyDifference(d, structuredClone(d))).toBeNull()
  })
  it('can take one change back and keep what came after', () => {
    const before = { title: 'A', intro: '', tags: [] as string[] }
    const after = { ...before, title: 'B' }
    expect(merge(after, before, { ...after, intro: 'Later' }).merged).toEqual({ title: 'A', intro: 'Later', tags: [] })
  })
})
