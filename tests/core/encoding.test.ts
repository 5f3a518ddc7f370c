import fc from 'fast-check'
import iconv from 'iconv-lite'
import { describe, expect, it } from 'vitest'
import { NoText, readText } from '#core/lists/encoding'
import type { Encoding } from '#core/lists/encodings'

const TABLE =
  'E-mail;Vorname;Ort\r\nantje.mueller@gaerten.example;Änne;Köln\r\njosé@huerto.example;José;Málaga\r\nfrançoise@serre.example;Françoise;Nîmes\r\n'
const written = (text: string, encoding: string, addBOM = false) => new Uint8Array(iconv.encode(text, encoding, { addBOM }))

describe('a table’s letters', () => {
  it.each([
    ['utf-8', 'utf8', false],
    ['utf-8', 'utf8', true],
    ['utf-16le', 'utf16le', true],
    ['utf-16be', 'utf16be', true],
    ['utf-16le', 'utf16le', false],
    ['utf-16be', 'utf16be', false],
    ['windows-1252', 'latin1', false],
  ] as const)('are read as %s where they are written so (%s, mark %s)', (encoding, as, mark) => {
    expect(readText(written(TABLE, as, mark))).toEqual({ text: TABLE, encoding })
  })
  it.each([
    ['windows-1252', 'latin1', 'Vorname;Ort\nJürgen;Köln\nBjörn;Münster\n'],
    ['windows-1252', 'latin1', 'E-mail;Name\na@glass.example;José\n'],
    [
      'iso-8859-2',
      'iso-8859-2',
      'E-mail;Imię;Miasto\nlucja@szklarnia.example;Łucja Wiśniewska;Łódź\nzofia@szklarnia.example;Zofia Żurek;Gdańsk\n',
    ],
    [
      'windows-1250',
      'win1250',
      'E-mail;Imię;Miasto\nlucja@szklarnia.example;Łucja Wiśniewska;Łódź\nzofia@szklarnia.example;Zofia Żurek;Gdańsk\n',
    ],
    ['windows-1253', 'win1253', 'E-mail;Όνομα;Πόλη\nnikos@thermokipio.example;Νίκος;Αθήνα\n'],
  ] as const)('are told to be %s by a short table (%s)', (encoding, as, table) => {
    expect(readText(written(table, as))).toEqual({ text: table, encoding })
  })
  it('of the West are not taken for others by what stands in the addresses', () => {
    fc.assert(
      fc.property(fc.stringMatching(/^[a-z0-9]{6,12}$/), fc.stringMatching(/^[a-z0-9]{6,12}$/), (one, two) => {
        const table = `E-mail;First name;Size\n${one}@guests.example;Änn;Over 200 m²\n${two}@guests.example;"Bo;b";\n${one}@guests.example;Änne;enormous\n`
        expect(readText(written(table, 'latin1'))).toEqual({ text: table, encoding: 'windows-1252' })
      }),
      { numRuns: 500 },
    )
  })
  it('are read as somebody says who sees that they are wrong', () => {
    const bytes = written('Imię;Miasto\nŁucja;Łódź\n', 'win1250')
    expect(readText(bytes, 'windows-1250').text).toContain('Łucja;Łódź')
    expect(readText(written('Prénom;Ville\nHélène;Orléans\n', 'macintosh'), 'macintosh').text).toContain('Hélène;Orléans')
  })
  it('never fail on text, and nothing of ASCII is lost, whatever the rest is', () => {
    const line = fc.stringMatching(/^[a-z@.;]{1,40}$/)
    fc.assert(
      fc.property(
        fc.array(line, { minLength: 1, maxLength: 20 }),
        fc.array(fc.integer({ min: 0xa1, max: 0xff }), { maxLength: 30 }),
        (lines, odd) => {
          const bytes = new Uint8Array([...Buffer.from(lines.join('\n') + '\n'), ...odd])
          expect(readText(bytes).text.startsWith(lines.join('\n'))).toBe(true)
        },
      ),
    )
  })
  it.each([
    ['a spreadsheet', [0x50, 0x4b, 3, 4, 20, 0], /save it as CSV/],
    ['something else', [1, 0, 0, 7, 0, 9, 0, 0], /not text/],
  ])('of %s are no text, and it is said what to do', (_, bytes, words) => {
    expect(() => readText(new Uint8Array(bytes))).toThrow(NoText)
    expect(() => readText(new Uint8Array(bytes))).toThrow(words)
    expect(readText(new Uint8Array(bytes), 'utf-8' satisfies Encoding).encoding).toBe('utf-8')
  })
})
