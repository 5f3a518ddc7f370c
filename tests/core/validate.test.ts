import {
  IsArray,
  IsEmail,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  Max,
  MaxLength,
  Min,
  ValidateIf,
  validateSync,
} from 'class-validator'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { check, ListOf, Nested } from '#core/validate'

class Ticket {
  @IsObject() answers!: Record<string, unknown>
  @IsOptional() @IsString() @MaxLength(5) page?: string | null
  @IsOptional() @IsUUID() visitor?: string | null
  @IsOptional() @IsInt() @Min(1) @Max(9) edition?: number | null
  @IsOptional() @IsArray() @IsString({ each: true }) tags?: string[]
  @IsIn(['script', 'page']) via = 'script'
  @ValidateIf((t: Ticket) => t.via === 'page') @IsString() title?: string
}

class Leaf {
  @IsString() name!: string
}
class Tree {
  @Nested(() => Leaf) top!: Leaf
  @ListOf(() => Leaf) leaves!: Leaf[]
  @IsOptional() @Nested(() => Leaf) spare?: Leaf | null
}

const value = fc.oneof(
  fc.constantFrom(
    undefined,
    null,
    '',
    'a',
    'script',
    'page',
    'toolong',
    0,
    1,
    9,
    9.5,
    10,
    true,
    {},
    [],
    '0192f0c1-2d3e-7abc-8def-0123456789ab',
  ),
  fc.array(fc.constantFrom('x', 1, null), { maxLength: 2 }),
)
const ticket = fc.dictionary(
  fc.oneof(
    { weight: 12, arbitrary: fc.constantFrom('answers', 'page', 'visitor', 'edition', 'tags', 'via', 'title') },
    { weight: 1, arbitrary: fc.constantFrom('constructor', '__proto__', 'other') },
  ),
  value,
  { maxKeys: 7 },
)

describe('checking what came in', () => {
  it('takes half of a sign for a flaw, which what measures bytes cannot read', () => {
    class Mail {
      @IsEmail() email!: string
    }
    expect(check(Mail, { email: 'a\ud800@b.example' }).flaws.map(f => f.field)).toEqual(['email'])
    expect(check(Mail, { email: 'a@b.example' }).flaws).toEqual([])
  })
  it('finds right what class-validator finds right, and says the same of the rest', () => {
    let right = 0
    fc.assert(
      fc.property(ticket, fc.boolean(), (dice, complete) => {
        const plain = JSON.parse(JSON.stringify({ ...(complete && { answers: {} }), ...dice })) as object
        const errors = validateSync(
          Object.assign(new Ticket(), Object.fromEntries(Object.entries(plain).filter(([key]) => !(key in Object.prototype)))),
          { whitelist: true, forbidNonWhitelisted: true, forbidUnknownValues: true },
        )
        const { value, flaws } = check(Ticket, plain)
        right += value ? 1 : 0
        const lost = Object.keys(plain).filter(key => key === 'constructor' || key === '__proto__')
        expect([...new Set(flaws.map(f => f.field))].sort()).toEqual([...new Set([...errors.map(e => e.property), ...lost])].sort())
        if (value) expect(value).toBeInstanceOf(Ticket)
        if (value) expect(JSON.parse(JSON.stringify(value))).toEqual({ via: 'script', ...plain })
      }),
      { numRuns: 3000 },
    )
    expect(right).toBeGreaterThan(100)
  })

  it('refuses fields that nobody knows, also those that every object has', () => {
    for (const text of ['{"answers":{},"other":1}', '{"answers":{},"constructor":1}', '{"answers":{},"toString":null}'])
      expect(check(Ticket, JSON.parse(text)).flaws).toHaveLength(1)
  })

  it.each([null, 3, 'x', [], undefined])('takes %j for no object', plain =>
    expect(check(Ticket, plain).flaws).toEqual([{ field: '', message: 'Send a JSON object.' }]),
  )

  it.each([
    ['all there', { top: { name: 'a' }, leaves: [{ name: 'b' }] }, []],
    ['nothing', {}, ['top', 'leaves']],
    ['null in a list', { top: { name: 'a' }, leaves: [null] }, ['leaves']],
    ['a list for an object', { top: [], leaves: [] }, ['top']],
    ['an object for a list', { top: { name: 'a' }, leaves: {} }, ['leaves']],
    ['a wrong leaf', { top: { name: 'a' }, leaves: [{ name: 'b' }, { name: 7 }] }, ['leaves.1.name']],
    ['a field too many', { top: { name: 'a', more: 1 }, leaves: [] }, ['top.more']],
    [
      'what every object has, deep inside',
      JSON.parse('{"top":{"name":"a","constructor":{}},"leaves":[{"name":"b","__proto__":{}}]}'),
      ['top.constructor', 'leaves.0.__proto__'],
    ],
    ['the optional one as nothing', { top: { name: 'a' }, leaves: [], spare: null }, []],
  ])('nested: %s', (_, plain, fields) => {
    const { value, flaws } = check(Tree, plain)
    expect(flaws.map(f => f.field)).toEqual(fields)
    if (value) expect([value.top, ...value.leaves].every(l => l instanceof Leaf)).toBe(true)
  })
})
