import { describe, expect, it } from 'vitest'
import { mistakesIn, setting } from '#server/settings'

const KEY = 'k'.repeat(32)
const GOOD = {
  CAVLIN_DATABASE: 'postgres://a:b@127.0.0.1:5432/c',
  CAVLIN_URL: 'https://leads.example',
  CAVLIN_SMTP: 'smtp://127.0.0.1:25',
  CAVLIN_KEYS_LINKS: KEY,
  CAVLIN_KEYS_LEAVE: `${KEY}, ${KEY}2`,
  CAVLIN_KEYS_PROOFS: KEY,
  CAVLIN_KEYS_WORDS: KEY,
}

describe('settings', () => {
  it('need what has no usual value, and nothing else', () => {
    expect(mistakesIn(GOOD)).toEqual([])
    expect(mistakesIn({}).map(m => m.split(' ')[0])).toEqual(Object.keys(GOOD))
    expect(mistakesIn({}, false)).toEqual([])
  })
  it.each([
    ['CAVLIN_LIMIT_ENTRIES', 'many', 'CAVLIN_LIMIT_ENTRIES is “many”; it must be a whole number from 1 to 1000000. See docs/settings.md.'],
    ['CAVLIN_LIMIT_ENTRIES', '0', 'from 1'],
    ['CAVLIN_LIMIT_ENTRIES', '1.5', 'whole number'],
    ['CAVLIN_LIMITS', 'on', 'is `off`, or is left out'],
    ['CAVLIN_TRUST_PROXY', 'everybody', 'how many proxies'],
    ['CAVLIN_PLACES', 'places.csv', 'the whole path'],
    ['CAVLIN_PLACES', '/nowhere/places.csv', 'that is there'],
    ['CAVLIN_LIMT_ENTRIES', '5', 'CAVLIN_LIMT_ENTRIES is no setting'],
    ['CAVLIN_URL', 'leads.example', 'an address like https://leads.example'],
  ])('say what is wrong with %s as “%s”', (name, value, words) => {
    const mistakes = mistakesIn({ ...GOOD, [name]: value })
    expect(mistakes).toEqual([expect.stringContaining(words)])
    expect(mistakes[0]!.startsWith(name)).toBe(true)
  })
  it('say all mistakes at once, and repeat no secret', () => {
    const mistakes = mistakesIn({ ...GOOD, CAVLIN_DATABASE: 'mysql://secret', CAVLIN_KEYS_LINKS: 'short-secret', CAVLIN_SESSION_DAYS: 'x' })
    expect(mistakes).toHaveLength(3)
    expect(mistakes.join()).not.toContain('secret')
  })
  it('are read as they are now, blanks and all', () => {
    process.env.CAVLIN_LIMIT_READS = ' 7 '
    expect(setting('CAVLIN_LIMIT_READS')).toBe(7)
    delete process.env.CAVLIN_LIMIT_READS
    expect(setting('CAVLIN_LIMIT_READS')).toBe(600)
    process.env.CAVLIN_TRUST_PROXY = '2'
    const trusts = setting('CAVLIN_TRUST_PROXY')!
    expect([trusts('1.2.3.4', 0), trusts('1.2.3.4', 1), trusts('1.2.3.4', 2)]).toEqual([true, true, false])
    delete process.env.CAVLIN_TRUST_PROXY
  })
})
