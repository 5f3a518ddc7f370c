import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fileAnswer } from '#core/chat/file-answer'
import { NOTE_LIMITS, notesIn } from '#core/chat/notes-in'
import { inPool, poolOf, poolsWithout, toPool } from '#core/chat/pools'
import { blankQuestion } from '#core/points/definition'
import { PLAIN_READING } from '#core/points/values'

describe('notes out of a text', () => {
  it('begin at headings of the first two levels; what stands before the first goes by the text’s name', () => {
    expect(notesIn('Before\n# One\r\nFirst\n### Inside\nmore\n## Two\n\nSecond\n## Empty\n', 'guide')).toEqual([
      { title: 'guide', body: 'Before' },
      { title: 'One', body: 'First\n### Inside\nmore' },
      { title: 'Two', body: 'Second' },
    ])
  })
  it('fit, are told apart by their titles, and lose no word', () => {
    const line = fc.oneof(fc.string({ maxLength: 900 }), fc.constantFrom('# A', '## A', '## Prices', '', '#none', 'x'.repeat(9000)))
    fc.assert(
      fc.property(fc.array(line, { maxLength: 14 }), lines => {
        const text = lines.join('\n')
        const notes = notesIn(text, 'name')
        expect(notes.every(n => n.title.length <= NOTE_LIMITS.title && n.body.length > 0 && n.body.length <= NOTE_LIMITS.body)).toBe(true)
        expect(new Set(notes.map(n => n.title.toLowerCase())).size).toBe(notes.length)
        const bare = (s: string) => s.replace(/\s+/g, '')
        const bodies = text
          .replace(/\r\n?/g, '\n')
          .split('\n')
          .filter(l => !/^#{1,2} +./.test(l))
          .join('')
        expect(bare(notes.map(n => n.body).join(''))).toBe(bare(bodies))
      }),
    )
  })
})

describe('an answer of files', () => {
  const question = blankQuestion({ key: 'plan', kind: 'file', label: 'A plan?', required: true, limits: { least: 2, most: 3 } })
  it('is the names of those that came, as many as are asked for; words are none', () => {
    expect(fileAnswer(question, ['a.pdf', 'b.pdf'], PLAIN_READING)).toEqual({ value: ['a.pdf', 'b.pdf'] })
    expect(fileAnswer(question, ['a.pdf'], PLAIN_READING)).toEqual({ flaw: expect.stringContaining('2') })
    expect(fileAnswer(question, 'a.pdf', PLAIN_READING)).toEqual({ flaw: PLAIN_READING.say('chooseFile') })
    expect(fileAnswer(question, [], PLAIN_READING)).toEqual({ flaw: PLAIN_READING.say('chooseFile') })
    expect(fileAnswer({ ...question, required: false }, '', PLAIN_READING)).toEqual({ value: '' })
  })
})

describe('the people of a lane', () => {
  const lanes = [
    { key: 'schools', pool: [{ member: 'a', share: 1 }] },
    { key: 'empty', pool: [] },
  ]
  const members = [{ id: 'a' }, { id: 'b' }]
  it('are asked for by its key; where it is gone, everybody is', () => {
    expect([poolOf(toPool('schools')), poolOf('plan')]).toEqual(['schools', null])
    expect([inPool(lanes, 'schools', members), inPool(lanes, 'gone', members), inPool(lanes, null, members)]).toEqual([
      [{ id: 'a' }],
      members,
      members,
    ])
  })
  it('leave to others what is theirs, but nobody what a lane without people has', () => {
    expect([poolsWithout(lanes, 'a'), poolsWithout(lanes, 'b')]).toEqual([[], ['schools']])
  })
})
