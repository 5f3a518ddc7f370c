import fc from 'fast-check'
import { expect, it } from 'vitest'
import { openness } from '#core/points/closing'

const moment = fc.integer({ min: 0, max: 4e12 })
it('a point is open from its first moment until before its last, as long as there are places', () => {
  fc.assert(
    fc.property(
      moment,
      moment,
      moment,
      fc.option(fc.integer({ min: 1, max: 9 })),
      fc.integer({ min: 0, max: 12 }),
      (a, b, now, entries, taken) => {
        const [from, until] = [Math.min(a, b), Math.max(a, b)]
        const how = openness(
          { from: new Date(from).toISOString(), until: new Date(until).toISOString(), entries, text: '', early: '', full: '' },
          now,
          taken,
        )
        expect(how).toBe(now < from ? 'early' : now >= until ? 'late' : entries !== null && taken >= entries ? 'full' : 'open')
      },
    ),
  )
  expect(openness({ from: null, until: null, entries: null, text: '', early: '', full: '' }, 0, 1e9)).toBe('open')
})
