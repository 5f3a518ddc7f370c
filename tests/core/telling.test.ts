import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { AS_IT_COMES, HOWS, tellAt, TOLD, type Telling } from '#core/telling/telling'
import { isAtWork, sameHours } from '#core/working-time'

const ZONE = 'Europe/Paris'
const HOURS = { zone: ZONE, week: sameHours([1, 2, 3, 4, 5], 9, 17) }
const at = (text: string) => DateTime.fromISO(text, { zone: ZONE }).toMillis()
const wish = (more: Partial<Telling>): Telling => ({ ...AS_IT_COMES, ...more })
const told = (w: Partial<Telling>, when: string, insists: string[] = []) => {
  const mail = tellAt(wish(w), new Set(insists), 'given', at(when), HOURS)
  return mail && [DateTime.fromMillis(mail.at, { zone: ZONE }).toFormat("yyyy-MM-dd'T'HH:mm"), mail.together]
}
const NIGHT = { from: 20 * 60, until: 7 * 60 }

describe('a mail to a member', () => {
  it.each<[string, Partial<Telling>, string, string[] | undefined, unknown]>([
    ['comes at once', {}, '2026-06-02T10:12', undefined, ['2026-06-02T10:12', false]],
    ['waits for the end of the quiet hours', { quiet: NIGHT }, '2026-06-02T22:10', undefined, ['2026-06-03T07:00', false]],
    ['also in the small hours', { quiet: NIGHT }, '2026-06-02T03:10', undefined, ['2026-06-02T07:00', false]],
    ['that ends on the day on which clocks are changed', { quiet: NIGHT }, '2026-10-24T23:00', undefined, ['2026-10-25T07:00', false]],
    ['over noon', { quiet: { from: 12 * 60, until: 13 * 60 } }, '2026-06-02T12:30', undefined, ['2026-06-02T13:00', false]],
    ['comes with others at the full hour', { given: 'hourly' }, '2026-06-02T10:12', undefined, ['2026-06-02T11:00', true]],
    ['but not in quiet hours', { given: 'hourly', quiet: NIGHT }, '2026-06-02T20:12', undefined, ['2026-06-03T07:00', true]],
    ['comes when work begins', { given: 'morning' }, '2026-06-02T10:12', undefined, ['2026-06-03T09:00', true]],
    ['before work the same day', { given: 'morning' }, '2026-06-02T06:12', undefined, ['2026-06-02T09:00', true]],
    ['on Monday, when it is Friday', { given: 'morning' }, '2026-06-05T18:00', undefined, ['2026-06-08T09:00', true]],
    ['never, where the bell is enough', { given: 'bell' }, '2026-06-02T10:12', undefined, null],
    ['at once, where the firm insists', { given: 'bell', quiet: NIGHT }, '2026-06-02T22:12', ['given'], ['2026-06-02T22:12', false]],
  ])('%s', (_, w, when, insists, expected) => expect(told(w, when, insists)).toEqual(expected))
  it('never comes before what it tells, nor in quiet hours, nor later than the next quiet end or work', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 400 * 24 * 60 }),
        fc.constantFrom(...HOWS),
        fc.constantFrom(...TOLD),
        fc.nat(1439),
        fc.nat(1439),
        (minute, how, topic, from, until) => {
          const when = at('2026-01-01T00:00') + minute * 60_000
          const mail = tellAt(wish({ [topic]: how, quiet: { from, until } }), new Set(), topic, when, HOURS)
          expect(mail === null).toBe(how === 'bell')
          if (mail === null) return
          const wall = DateTime.fromMillis(mail.at, { zone: ZONE })
          const now = wall.hour * 60 + wall.minute
          expect(mail.at).toBeGreaterThanOrEqual(when)
          expect(mail.at - when).toBeLessThan(5 * 86_400_000)
          if (from < until) expect(now >= from && now < until).toBe(false)
          if (from > until) expect(now >= from || now < until).toBe(false)
          if (how === 'morning' && mail.at % 60_000 === 0 && from === until) expect(isAtWork(mail.at, HOURS)).toBe(true)
        },
      ),
    )
  })
})
