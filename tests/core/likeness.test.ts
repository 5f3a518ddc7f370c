import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { LEAST_LIKE, likeness, likenessKeys, likelyInWords, type Compared } from '#core/identity/likeness'
import { alikeInWords } from '#core/review'

const strangers: Compared = {
  addresses: ['ida@kale.example', 'bo@moss.example'],
  localAlike: 0,
  domainAlike: 0.3,
  phones: [],
  nameAlike: null,
  firmAlike: null,
}
const found = (more: Partial<Compared>) => likeness({ ...strangers, ...more })

describe('what of a lead is compared', () => {
  const keys = (firstName: string | null, lastName: string | null, company: string | null, properties = {}) =>
    likenessKeys({ emailKey: 'a@b.example', firstName, lastName, company, properties }, ['phone', 'mobile'])
  it('is the same for one person in whatever writing', () => {
    expect(keys('Zoë', 'van Dæl', 'The Kale & Co. Ltd')).toEqual(keys('van  Dæl', 'ZOË', 'kale'))
    expect(keys('Ann-Marie', 'O’Brien', null).name).toBe('ann brien marie o')
  })
  it('is no name when only one is known, and no firm made of nothing but its form', () => {
    expect(keys('Ida', null, null)).toMatchObject({ name: null, firm: null })
    expect(keys('Ida', 'Holm', 'Co & Co').firm).toBe('co co')
  })
  it('takes telephone numbers out of all properties that hold one, each once', () => {
    expect(keys('Ida', null, null)).toMatchObject({ local: 'a', domain: 'b.example', mailbox: 'a@b.example' })
    expect(keys(null, null, null, { phone: '+331', mobile: ['+332', '+331'], town: '+339' }).phones).toEqual(['+331', '+332'])
  })
})

describe('two leads', () => {
  it('are one more likely the more they have in common, and less when their names differ', () => {
    const strength = (more: Partial<Compared>) => found(more)?.strength ?? 0
    expect(strength({ phones: ['+331'] })).toBeGreaterThan(LEAST_LIKE)
    expect(strength({ phones: ['+331'], nameAlike: 1, firmAlike: 1 })).toBeGreaterThan(strength({ phones: ['+331'] }))
    expect(found({ phones: ['+331'], nameAlike: 0.1 })).toBeNull()
    expect(
      found({
        phones: ['+331'],
        nameAlike: 0.1,
        addresses: ['ida.k@kale.example', 'ida.kk@kale.example'],
        domainAlike: 1,
        localAlike: 0.8,
      }),
    ).not.toBeNull()
  })
  it('with one address written in two ways are one, colleagues and families are not', () => {
    expect(found({ addresses: ['ida.holm+news@kale.example', 'idaholm@kale.example'], domainAlike: 1, localAlike: 0.4 })).toMatchObject({
      reasons: [{ by: 'mailbox' }],
    })
    expect(found({ addresses: ['jory.cobble@post.example', 'ines.cobble@post.example'], domainAlike: 1, localAlike: 0.55 })).toBeNull()
    expect(found({ addresses: ['info@moss.example', 'info@mosses.example'], localAlike: 1, domainAlike: 0.7 })).toBeNull()
    expect(found({ addresses: ['ida@moss.example', 'ida@mosss.example'], localAlike: 1, domainAlike: 0.7 })).toMatchObject({
      reasons: [{ by: 'address' }],
    })
  })
  it('are called so by what they have in common', () => {
    const both = found({ phones: ['+331'], nameAlike: 1, firmAlike: 1 })!
    expect(`${likelyInWords(both.strength)}: ${alikeInWords(both.reasons)}`).toBe(
      'Very likely the same: the same number, +331 and the same name at the same firm',
    )
  })
  it('are as likely one in either order, from 0 to 1, and never for nothing', () => {
    const part = fc.double({ min: 0, max: 1, noNaN: true })
    fc.assert(
      fc.property(
        part,
        part,
        fc.array(fc.constant('+331'), { maxLength: 1 }),
        fc.option(part),
        fc.option(part),
        fc.boolean(),
        (localAlike, domainAlike, phones, nameAlike, firmAlike, known) => {
          const addresses: [string, string] | null = known ? ['ida.holm@kale.example', 'ida.hom@kale.example'] : null
          const one = likeness({ addresses, localAlike, domainAlike, phones, nameAlike, firmAlike })
          const other = likeness({
            addresses: addresses && [addresses[1], addresses[0]],
            localAlike,
            domainAlike,
            phones,
            nameAlike,
            firmAlike,
          })
          expect(one).toEqual(other)
          if (!one) return
          expect(one.strength).toBeGreaterThanOrEqual(LEAST_LIKE)
          expect(one.strength).toBeLessThanOrEqual(1)
          expect(one.reasons.length).toBeGreaterThan(0)
        },
      ),
    )
  })
})
