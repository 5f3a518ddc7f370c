import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { mailboxOf } from '#core/identity/email'
import { identify, settle } from '#core/identity/identify'
import { cut, hasAddress, unlinked } from '#core/text'

interface Person {
  emailKey: string | null
}
const key = fc.constantFrom('a', 'b', 'c')
const email = fc.option(fc.constantFrom('x@x.example', 'y@y.example').map(address => ({ address, key: address })))

describe('who it is', () => {
  it('is found by the first key that somebody has; an address is theirs only if it was before, or makes them', () => {
    let claimed = 0
    fc.assert(
      fc.property(
        fc.array(key, { maxLength: 2 }),
        email,
        fc.dictionary(key, fc.option(fc.constantFrom('x@x.example', 'y@y.example'))),
        fc.subarray(['x@x.example', 'y@y.example']),
        (keys, given, phones, owners) => {
          const people = new Map<string, Person>()
          for (const address of owners) people.set(`email ${address}`, { emailKey: address })
          for (const [phone, address] of Object.entries(phones))
            people.set(`phone ${phone}`, (address && people.get(`email ${address}`)) ?? { emailKey: null })
          const { person, by, address } = identify({ keys: keys.map(k => ({ rule: 'phone', key: k })), email: given }, who =>
            people.get(`${who.rule} ${who.key}`),
          )
          const byPhone = keys.map(k => people.get(`phone ${k}`)).find(Boolean)
          expect(person).toBe(byPhone ?? (given && people.get(`email ${given.key}`)) ?? null)
          expect(address === 'none').toBe(given === null)
          expect(address === 'makes').toBe(given !== null && person === null)
          expect(address === 'theirs').toBe(given !== null && person?.emailKey === given.key)
          if (address === 'claimed') claimed++
          // What is claimed arrived on somebody who was found by something else.
          if (address === 'claimed') expect(by?.rule).toBe('phone')
        },
      ),
      { numRuns: 2000 },
    )
    expect(claimed).toBeGreaterThan(50)
  })
  it.each([
    [null, false, 0, 'theirs'],
    ['a@a.example', false, 0, 'judge'],
    [null, true, 0, 'judge'],
    [null, false, 1, 'judge'],
  ] as const)('a confirmed claim where they have %s, taken elsewhere %s, %i others: %s', (own, takenElsewhere, rivals, what) => {
    expect(settle({ own, takenElsewhere, rivals })).toBe(what)
  })
  it.each([
    ['Ada.Lovel+news@X.example', 'adalovel@x.example'],
    ['ada@x.example', 'ada@x.example'],
    ['no address', 'no address'],
  ])('%s counts as %s', (address, mailbox) => expect(mailboxOf(address).replace(/^.*no address.*$/, 'no address')).toBe(mailbox))
})

describe('what strangers typed, in a mail of the firm', () => {
  const LINKS = /https?:\/\/|www\.\w|\w\.\w{2,}|\w@\w|mailto:|javascript:/i
  it.each([
    'http://evil.example/x?y',
    'HTTPS://evil.example',
    'go to www.evil.example now',
    'evil.example',
    'a@b.example',
    'mailto:a@b.example',
    'hthttp://tp://evil.example',
    'javascript:alert(1)',
    'ftp://x.example',
  ])('%s is no link, and reads the same', typed => {
    expect(hasAddress(typed)).toBe(true)
    const shown = unlinked(typed)
    expect(shown).not.toMatch(LINKS)
    expect(shown.replaceAll('\u2060', '')).toBe(shown.replaceAll('\u2060', '').replace(/[a-z]+:\/\//gi, ''))
  })
  it('whatever it is; and what has no address stays as it is', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('http', 's', '://', 'www', '.', '@', 'evil', 'example', ' ', 'mailto:', 'é', '1')).map(p => p.join('')),
        typed => {
          expect(unlinked(typed)).not.toMatch(/:\/\/|[\p{L}\p{N}]\.\p{L}{2}|[\p{L}\p{N}]@[\p{L}\p{N}]/u)
          if (!hasAddress(typed)) expect(unlinked(typed)).toBe(typed)
        },
      ),
      { numRuns: 3000 },
    )
  })
  it('is cut by letters, not by halves of them', () =>
    expect([cut('🌱🌱🌱', 3), cut('🌱🌱🌱🌱', 3), cut('', 3)]).toEqual(['🌱🌱🌱', '🌱🌱…', '']))
})
