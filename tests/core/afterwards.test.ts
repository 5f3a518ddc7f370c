import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { correct } from '#core/capture/correct'
import { personKey, ruleOf } from '#core/identity/same-person'
import type { LeadState } from '#core/leads/lead'
import { freeTimes, NOTICE_MS, type Span } from '#core/meetings/free'
import { blankQuestion } from '#core/points/definition'
import { sameHours } from '#core/working-time'
import { endingOf, endingsOf, fileOf, fileValue } from '#core/files/kinds'

const HOURS = { week: sameHours([1, 2, 3, 4, 5], 8, 18), zone: 'Europe/Paris' }
const moment = fc.integer({ min: Date.UTC(2026, 0, 1), max: Date.UTC(2028, 0, 1) })

describe('free times', () => {
  it('lie in working hours, after the notice, within the days, and across nothing that is taken', () => {
    const spans = fc.array(fc.tuple(fc.integer({ min: 0, max: 20 * 1440 }), fc.integer({ min: 10, max: 240 })), { maxLength: 30 })
    fc.assert(
      fc.property(moment, fc.integer({ min: 10, max: 240 }), fc.integer({ min: 1, max: 20 }), spans, (now, minutes, days, list) => {
        const taken: Span[] = list.map(([after, long]) => ({ from: now + after * 60_000, until: now + (after + long) * 60_000 }))
        for (const at of freeTimes(HOURS, minutes, taken, now, days)) {
          const [begins, ends] = [at, at + minutes * 60_000].map(t => DateTime.fromMillis(t, { zone: HOURS.zone })) as [DateTime, DateTime]
          expect(begins.weekday).toBeLessThan(6)
          expect(begins.hour).toBeGreaterThanOrEqual(8)
          expect(ends.hour * 60 + ends.minute).toBeLessThanOrEqual(18 * 60)
          expect(at).toBeGreaterThanOrEqual(now + NOTICE_MS)
          expect(begins.diff(DateTime.fromMillis(now, { zone: HOURS.zone }).startOf('day'), 'days').days).toBeLessThan(days)
          expect(taken.some(t => t.from < ends.toMillis() && at < t.until)).toBe(false)
        }
      }),
      { numRuns: 60 },
    )
  })
  it('are all of a free day, also on the day the clocks change, and none at night or on a Sunday', () => {
    const monday = DateTime.fromISO('2026-04-20T00:00', { zone: HOURS.zone }).toMillis()
    expect(freeTimes(HOURS, 30, [], monday, 1)).toHaveLength(20)
    const sunday = DateTime.fromISO('2026-03-29T00:00', { zone: HOURS.zone }).toMillis()
    expect(freeTimes({ ...HOURS, week: sameHours([7], 0, 24) }, 60, [], sunday - 86_400_000, 2)).toHaveLength(45)
    expect(freeTimes(HOURS, 30, [], sunday, 1)).toEqual([])
  })
})

describe('who is the same person', () => {
  const props = fc.constantFrom('phone', 'last_name', 'town', 'company', 'email')
  it('does not hang on case, spaces or the order of a pair, and needs both', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(props, { minLength: 1, maxLength: 2 }),
        fc.string({ minLength: 1 }).filter(s => s.trim() !== ''),
        (same, value) => {
          const key = (v: string, order = same) => personKey(order, p => (p === 'email' ? 'a@b.example' : v))
          expect(key(`  ${value} `)).toEqual(key(value))
          expect(key(value, [...same].reverse())).toEqual(key(value))
          expect(personKey(same, p => (p === same[0] ? null : value))).toBeNull()
        },
      ),
    )
    expect(personKey(['last_name', 'town'], p => ({ last_name: 'ab', town: 'c' })[p])).not.toEqual(
      personKey(['last_name', 'town'], p => ({ last_name: 'a', town: 'bc' })[p]),
    )
    expect(ruleOf(['town', 'last_name'])).toBe('last_name+town')
    expect(personKey(['email'], () => 'A@Firm.Example')).toEqual(personKey(['email'], () => ' a@firm.example '))
  })
})

describe('a correction', () => {
  const q = (key: string, property: string | null, tag?: string) =>
    blankQuestion({
      key,
      kind: tag ? 'one_of' : 'short_text',
      label: key,
      property,
      choices: tag
        ? [
            { value: 'a', text: 'A', tag },
            { value: 'b', text: 'B' },
          ]
        : [],
    })
  const lead = (properties: Record<string, string>, tags: string[] = []) =>
    ({ properties, tags, firstName: null, lastName: null, company: null, email: 'a@b.example' }) as unknown as LeadState
  const read = (answers: Record<string, string>) => ({ answers, values: answers })
  it('follows where the entry had filled a property or nothing stood, and leaves what was learnt since', () => {
    const it = lead({ town: 'Old', size: 'other' })
    const came = correct(
      it,
      [q('town', 'town'), q('size', 'size'), q('alone', null)],
      read({ town: 'Old', size: 'small', alone: 'x' }),
      read({ town: 'New', size: 'large', alone: 'y' }),
    )
    expect(it.properties).toEqual({ town: 'New', size: 'other' })
    expect(came.answers.map(a => a.question)).toEqual(['town', 'size', 'alone'])
    expect(came.changed).toEqual([{ property: 'town', from: 'Old', to: 'New' }])
  })
  it('takes the tag of a choice that is not made any more, and no other', () => {
    const it = lead({}, ['mine', 'chosen'])
    correct(it, [q('c', null, 'chosen')], read({ c: 'a' }), read({ c: 'b' }))
    expect(it.tags).toEqual(['mine'])
    correct(it, [q('c', null, 'chosen')], read({ c: 'b' }), read({ c: 'a' }))
    expect(it.tags).toEqual(['mine', 'chosen'])
  })
})

it('files are known by their endings, and stand in a property by id and name', () => {
  expect([endingOf('a.PDF'), endingOf('a.tar.gz'), endingOf('none'), endingOf('.htaccess')]).toEqual(['pdf', 'gz', '', 'htaccess'])
  expect(endingsOf({ accepts: ['text'], megabytes: 1 })).toEqual(['txt'])
  const file = { id: '01930000-0000-7000-8000-000000000001', name: 'a/b\n“c”.pdf' }
  expect(fileOf(fileValue(file))).toEqual(file)
  expect(fileOf('just text/with slash')).toBeNull()
})
