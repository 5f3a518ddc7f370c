import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { foldQuotes } from '#core/mails/incoming'

describe('a mail that came in', () => {
  it.each([
    [
      'Tuesday suits.\n\nOn Mon, 2 Feb 2026, Jonah Birkett wrote:\n> When may I call?',
      'Tuesday suits.',
      'On Mon, 2 Feb 2026, Jonah Birkett wrote:\n> When may I call?',
    ],
    ['Gern.\r\n\r\nAm 02.02.2026 um 10:00 schrieb Jonah:\r\n> Wann?', 'Gern.', 'Am 02.02.2026 um 10:00 schrieb Jonah:\n> Wann?'],
    [
      'Oui.\n\nLe lun. 2 févr. 2026 à 10:00, Jonah Birkett <r123@replies.larkmoss.example>\na écrit :\n> Quand ?',
      'Oui.',
      'Le lun. 2 févr. 2026 à 10:00, Jonah Birkett <r123@replies.larkmoss.example>\na écrit :\n> Quand ?',
    ],
    ['Yes\n\n-----Original Message-----\nFrom: Jonah', 'Yes', '-----Original Message-----\nFrom: Jonah'],
    ['Monday.\n\n-- \nEdda Moss\nHead of garden', 'Monday.', '-- \nEdda Moss\nHead of garden'],
    ['Monday -- or Tuesday\n--- or later', 'Monday -- or Tuesday\n--- or later', ''],
    ['Below.\n> one\n> two\n', 'Below.', '> one\n> two'],
    ['> You asked: how large?\nForty square metres.', '> You asked: how large?\nForty square metres.', ''],
    ['On Monday we wrote: nothing', 'On Monday we wrote: nothing', ''],
    ['> only a quote', '> only a quote', ''],
    ['', '', ''],
  ])('%j: what is new and what is quoted', (whole, text, quoted) => expect(foldQuotes(whole)).toEqual({ text, quoted }))
  it('loses no word, whatever it says', () => {
    const line = fc.oneof(fc.string(), fc.constantFrom('> quoted', 'On Mon, 2 Feb, X wrote:', '', '-- ', '-----Original Message-----'))
    fc.assert(
      fc.property(fc.array(line, { maxLength: 12 }), lines => {
        const whole = lines.join('\n')
        const { text, quoted } = foldQuotes(whole)
        const bare = (s: string) => s.replace(/\s+/g, '')
        expect(bare(text + quoted)).toBe(bare(whole))
        if (bare(whole)) expect(text).not.toBe('')
      }),
    )
  })
})
