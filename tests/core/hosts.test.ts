import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { hostAddress, readHostName, standsAt } from '#core/points/hosts'

describe('a name under which pages are found', () => {
  it.each([
    ['hello.firm.example', 'hello.firm.example'],
    [' Hello.Firm.Example ', 'hello.firm.example'],
    ['https://hello.firm.example/p/x?y=1', 'hello.firm.example'],
    ['hello.firm.example.', 'hello.firm.example'],
    ['gewächs.example', 'xn--gewchs-dua.example'],
  ])('%s', (typed, name) => expect(readHostName(typed)).toEqual({ name }))
  it.each([
    '',
    'hello',
    'two words.example',
    'a..example',
    '-a.example',
    'a_b.example',
    '192.168.1.7',
    '0x7f.1',
    '[::1]',
    'a@b.example',
    'hello.example:8080',
    'x'.repeat(64) + '.example',
  ])('is not: %s', typed => {
    expect(readHostName(typed)).toHaveProperty('flaw')
  })
  it('is read the same once more, whatever was typed', () => {
    fc.assert(
      fc.property(fc.oneof(fc.string(), fc.domain(), fc.webUrl()), typed => {
        const read = readHostName(typed)
        if ('name' in read) expect(readHostName(read.name)).toEqual(read)
      }),
    )
  })
  it('leads by the scheme and the port of the application’s own', () => {
    expect(hostAddress('a.example', 'https://cavlin.example')).toBe('https://a.example')
    expect(hostAddress('a.example', 'http://127.0.0.1:4310')).toBe('http://a.example:4310')
  })
  it('leads nobody anywhere before a browser came under it', () => {
    const host = { name: 'a.example', address: 'https://a.example', front: null, points: [] }
    const at = (arrivedAt: string | null) => standsAt('a.example', [{ ...host, arrivedAt }], 'https://own.example')
    expect([at(null), at('2026-01-01T00:00:00Z'), standsAt('gone.example', [], 'https://own.example')]).toEqual([
      'https://own.example',
      'https://a.example',
      'https://own.example',
    ])
  })
})
