import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { guessColumns, readPeople, type RowCounts } from '#core/lists/people'
import { PLAIN_READING } from '#core/points/values'
import type { Property, PropertyKind } from '#core/properties/kinds'

const property = (key: string, label: string, kind: PropertyKind, more: Partial<Property> = {}) =>
  ({ key, label, kind, choices: [], retired: false, ...more }) as unknown as Property
const PROPERTIES = [
  property('email', 'Email', 'email'),
  property('first_name', 'First name', 'short_text'),
  property('last_name', 'Last name', 'short_text'),
  property('company', 'Company', 'short_text'),
  property('sector', 'Sector', 'one_of', {
    choices: [
      { value: 'school', text: 'A school' },
      { value: 'garden', text: 'A market garden' },
    ],
  }),
  property('crops', 'Crops', 'some_of', {
    choices: [
      { value: 'kale', text: 'Kale' },
      { value: 'sea_kale', text: 'Sea kale' },
    ],
  }),
  property('visited', 'Visited', 'yes_no'),
  property('area', 'Area', 'number'),
  property('plan', 'Plan', 'file'),
  property('old', 'Old', 'short_text', { retired: true }),
]
const readAs = (counts: RowCounts, headers: string[], ...rows: string[][]) =>
  readPeople(
    rows.map((cells, i) => ({ line: i + 2, cells })),
    guessColumns(headers, PROPERTIES),
    PROPERTIES,
    PLAIN_READING,
    counts,
  )
const read = (headers: string[], ...rows: string[][]) => readAs('together', headers, ...rows)

describe('the columns of a table', () => {
  it('are known by what people call them, in any writing', () => {
    const filled = guessColumns(['E-MAIL', 'Given name', 'Surname', 'Firm', 'sector', 'Old', 'Plan', 'Shoe size', ''], PROPERTIES).map(
      c => c.property,
    )
    expect(filled).toEqual(['email', 'first_name', 'last_name', 'company', 'sector', null, null, null, null])
  })
  it('fill each property once, whatever they are called', () => {
    const header = fc.oneof(
      fc.constantFrom('Email', 'e-mail address', 'Name', 'surname', 'FIRST NAME', 'forename', 'Company', 'Firm'),
      fc.string({ maxLength: 12 }),
    )
    fc.assert(
      fc.property(fc.array(header, { maxLength: 12 }), headers => {
        const columns = guessColumns(headers, PROPERTIES)
        expect(columns.map(c => c.header)).toEqual(headers)
        const filled = columns.flatMap(c => c.property ?? [])
        expect(new Set(filled).size).toBe(filled.length)
      }),
    )
  })
})

describe('the people of a table', () => {
  it('are one person where they come twice, with the later line’s words and the first one’s address', () => {
    const { people, flaws } = read(
      ['Email', 'First name', 'Company'],
      ['Ada@School.example', 'Ada', ''],
      ['bo@garden.example', 'Bo', 'Garden'],
      [' ada@SCHOOL.example ', '', 'School'],
      ['', ' ', ''],
    )
    expect(flaws).toEqual([])
    expect(people).toEqual([
      { line: 2, email: 'Ada@School.example', emailKey: 'ada@school.example', values: { first_name: 'Ada', company: 'School' } },
      { line: 3, email: 'bo@garden.example', emailKey: 'bo@garden.example', values: { first_name: 'Bo', company: 'Garden' } },
    ])
  })
  it('are as the row says that counts, and it is said which rows were the same person', () => {
    const rows = [
      ['Email', 'First name', 'Company'],
      ['ada@x.example', 'Ada', 'School'],
      ['bo@x.example', 'Bo', ''],
      ['ADA@x.example', 'Adela', ''],
    ] as [string[], ...string[][]]
    const ada = (counts: RowCounts) => readAs(counts, ...rows).people[0]!.values
    expect([ada('together'), ada('last'), ada('first')]).toEqual([
      { first_name: 'Adela', company: 'School' },
      { first_name: 'Adela' },
      { first_name: 'Ada', company: 'School' },
    ])
    expect(readAs('first', ...rows).repeats).toEqual([{ email: 'ada@x.example', lines: [2, 4] }])
  })
  it('have choices by what is kept and by what people read', () => {
    const headers = ['Email', 'Sector', 'Crops', 'Visited']
    const values = (...cells: string[]) => read(headers, ['a@b.example', ...cells]).people[0]!.values
    expect(values('A SCHOOL', 'kale; Sea-Kale', 'x')).toEqual({ sector: 'school', crops: ['kale', 'sea_kale'], visited: 'yes' })
    expect(values('garden', 'sea_kale', 'No')).toEqual({ sector: 'garden', crops: ['sea_kale'], visited: 'no' })
  })
  it('are told from flaws by the line, and one wrong cell costs only itself', () => {
    const { people, flaws } = read(
      ['Email', 'Sector', 'Area'],
      ['at home', 'school', '3'],
      ['', 'school', '3'],
      ['cy@lane.example', 'A lighthouse', '12'],
      ['di@lane.example', 'school', 'wide'],
    )
    expect(flaws.map(f => f.line)).toEqual([2, 3, 4, 5])
    expect(flaws[0]!.message).toBe('“at home” is not a complete e-mail address.')
    expect(flaws[1]!.message).toBe('There is no e-mail address.')
    for (const f of flaws.slice(2)) expect(f.message).toMatch(/^(Sector|Area): .+\. What stands there is left out\.$/)
    expect(people.map(p => [p.email, p.values])).toEqual([
      ['cy@lane.example', { area: '12' }],
      ['di@lane.example', { sector: 'school' }],
    ])
  })
  it('are never made up: each has an address of the table, once, and each line is a person, a flaw, or empty', () => {
    const cell = fc.oneof(
      fc.constantFrom('ada@school.example', 'ADA@school.example', 'bo@garden.example', 'school', '', ' '),
      fc.string({ maxLength: 10 }),
    )
    fc.assert(
      fc.property(fc.array(fc.array(cell, { minLength: 1, maxLength: 3 }), { maxLength: 12 }), rows => {
        const { people, flaws } = read(['Email', 'Sector', 'Area'], ...rows)
        expect(new Set(people.map(p => p.emailKey)).size).toBe(people.length)
        for (const p of people) expect(rows.map(r => r[0]!.trim())).toContain(p.email)
        const withoutAddress = flaws.filter(f => f.message.includes('address.'))
        const good = rows.filter((row, i) => row.some(c => c.trim()) && !withoutAddress.some(f => f.line === i + 2))
        expect(new Set(good.map(r => r[0]!.trim().toLowerCase())).size).toBe(people.length)
      }),
    )
  })
})
