import fc from 'fast-check'
import { expect, it } from 'vitest'
import { isWellFormed } from '#core/text'
import { fromStored, toStored } from '#db/anytext'

it('carries any text through PostgreSQL, which holds neither NUL nor lone surrogates', () => {
  const unit = fc.constantFrom('\0', '\ud800', '\udc00', '\ue000', '0', 'a', '🌱', '\u202e', 'e')
  fc.assert(
    fc.property(fc.oneof(fc.string({ unit }), fc.string({ unit: 'binary' })), text => {
      const stored = toStored(text)
      expect(fromStored(stored)).toBe(text)
      expect(stored.includes('\0')).toBe(false)
      expect(isWellFormed(stored)).toBe(true)
    }),
  )
})
