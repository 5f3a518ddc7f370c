import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { BadTable, rowsOf } from '#core/lists/rows'

const cell = fc.stringMatching(/^[a-z ",;\n]{0,8}$/)
const quoted = (text: string) => `"${text.replaceAll('"', '""')}"`

describe('the rows of a table', () => {
  it('know in which line they begin, whatever stands in their cells, with either line end and empty lines between', () => {
    const row = fc.record({ cells: fc.array(cell, { minLength: 2, maxLength: 4 }), empty: fc.nat({ max: 2 }) })
    fc.assert(
      fc.property(fc.array(row, { minLength: 1, maxLength: 8 }), fc.constantFrom('\n', '\r\n', '\r'), fc.boolean(), (rows, end, mark) => {
        let line = 1
        const expected = rows.map(({ cells, empty }) => {
          line += empty
          const begins = line
          line += cells.join('').split('\n').length
          return { line: begins, cells }
        })
        const csv = rows
          .map(({ cells, empty }) => `${'\n'.repeat(empty)}${cells.map(quoted).join()}\n`)
          .join('')
          .replaceAll('\n', end)
        expect(rowsOf((mark ? '\ufeff' : '') + csv)).toEqual(expected)
      }),
    )
  })
  it('take a quotation mark in the midst of a cell for what it is', () => {
    expect(rowsOf('a;b\n12" pipe;"x" y\n').map(r => r.cells)).toEqual([
      ['a', 'b'],
      ['12" pipe', '"x" y'],
    ])
  })
  it('that cannot be told apart are named by their line, in words of ours', () => {
    for (const csv of ['a,b\r\n1,"x\r\ny"\r\n\r\n2,"open\r\n3,z\r\n', `a,b\n1,"x\ny"\n\n2,"${'long '.repeat(30_000)}"\n`]) {
      expect(() => rowsOf(csv)).toThrow(BadTable)
      expect(() => rowsOf(csv)).toThrow('In the row that begins in line 5, a quotation mark (") opens and nothing closes it.')
    }
  })
})
