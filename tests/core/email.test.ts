import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseEmail } from '#core/identity/email'

const key = (typed: string) => parseEmail(typed)?.key ?? null

describe('e-mail addresses as people mean them', () => {
  it.each([
    [' Ada@Example.EXAMPLE ', 'ada@example.example'],
    ['ada @ firm.example', 'ada@firm.example'],
    ['ada@bücher.example', 'ada@xn--bcher-kva.example'],
    ['ada@BÜCHER.example', 'ada@xn--bcher-kva.example'],
    ['ada@xn--bcher-kva.example', 'ada@xn--bcher-kva.example'],
    ['\u200Bada@firm.example\uFEFF', 'ada@firm.example'],
    ['ａｄａ@firm.example', 'ada@firm.example'],
    ['jose\u0301@firm.example', 'jos\u00e9@firm.example'],
    ['ada@firm。example', 'ada@firm.example'],
  ])('%j is %s', (typed, meant) => expect(key(typed)).toBe(meant))

  it.each([
    '',
    'ada',
    '@firm.example',
    'ada@',
    'ada@firm',
    'a@b@firm.example',
    'ada@-firm.example',
    'ada@firm..example',
    '.ada@firm.example',
    'ada.@firm.example',
    'ada@127.0.0.1',
    'ada@1.2',
    'ada@firm.example/x',
    'ada@firm.example:80',
    'ada@ex%41mple.example',
    '<ada@firm.example>',
    'ada@[::1]',
    'ada\0@firm.example',
    'ada\ud800@firm.example',
    `${'a'.repeat(65)}@firm.example`,
    `ada@${'a'.repeat(64)}.example`,
    'a,b@firm.example',
    '"a b"@firm.example',
  ])('%j is no address', typed => expect(parseEmail(typed)).toBeNull())

  it('keeps dots, plus signs and different people apart', () => {
    expect(new Set(['a.b@firm.example', 'ab@firm.example', 'ab+x@firm.example', 'ab@other.example'].map(key)).size).toBe(4)
  })

  it('never throws, and reading its own key again changes nothing', () => {
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string({ unit: 'binary' }),
          fc.emailAddress(),
          fc.tuple(fc.string({ unit: 'grapheme' }), fc.domain()).map(p => p.join('@')),
        ),
        typed => {
          const once = parseEmail(typed)
          if (once) expect(parseEmail(once.key)?.key).toBe(once.key)
        },
      ),
    )
  })

  it('reads a plain address as it reads one that it has to look at twice', () => {
    const label = fc.stringMatching(/^[a-zA-Z0-9-]{1,8}$/)
    const domain = fc.oneof(
      fc.array(label, { minLength: 1, maxLength: 4 }).map(l => l.join('.')),
      fc.constantFrom('xn--bcher-kva.example', 'a.xn--0.example', 'ab--cd.example', '1.0x7f', '0x7f.1', 'firm.example.'),
    )
    fc.assert(
      fc.property(fc.stringMatching(/^[a-zA-Z0-9.+_!#'-]{1,70}$/), domain, (local, at) => {
        const typed = `${local}@${at}`
        expect(parseEmail(typed)).toEqual(parseEmail(` ${typed}`))
      }),
      { numRuns: 1000 },
    )
  })
})
