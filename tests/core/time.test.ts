import fc from 'fast-check'
import { DateTime } from 'luxon'
import { describe, expect, it } from 'vitest'
import { dayBegins, dayText } from '#core/calendar-days'
import { byUrgency, urgency } from '#core/follow-up/urgency'
import { proportion } from '#core/stats/proportion'
import { oneLine, slugify } from '#core/text'
import { afterWorking, isAtWork, nextWork, sameHours, workingMinutes, worksToday, type WorkingHours } from '#core/working-time'

const hours: WorkingHours = { week: sameHours([1, 2, 3, 4, 5], 8, 18), zone: 'Europe/Paris' }
const at = (iso: string) => Date.parse(iso)

describe('working time', () => {
  it.each([
    ['within a day', '2026-11-23T10:00+01:00', '2026-11-23T11:30+01:00', 90],
    ['over a night', '2026-11-23T17:30+01:00', '2026-11-24T08:15+01:00', 45],
    ['over a weekend', '2026-11-20T17:00+01:00', '2026-11-23T09:00+01:00', 120],
    ['on a Sunday', '2026-11-22T09:00+01:00', '2026-11-22T19:00+01:00', 0],
    ['backwards', '2026-11-23T11:00+01:00', '2026-11-23T10:00+01:00', 0],
    ['over the end of summer time', '2026-10-23T17:00+02:00', '2026-10-26T09:00+01:00', 120],
    ['backwards over a night', '2026-11-24T08:15+01:00', '2026-11-23T17:30+01:00', 0],
    ['a whole year', '2025-11-24T00:00+01:00', '2026-11-23T00:00+01:00', 52 * 5 * 600],
  ])('%s', (_, from, until, minutes) => expect(workingMinutes(at(from), at(until), hours)).toBeCloseTo(minutes, 6))

  it('adds up: to a moment between and from it on', () => {
    const moment = fc.integer({ min: at('2024-01-01T00:00Z'), max: at('2027-01-01T00:00Z') })
    fc.assert(
      fc.property(fc.tuple(moment, moment, moment), moments => {
        const [a, b, c] = moments.sort((x, y) => x - y) as [number, number, number]
        expect(workingMinutes(a, b, hours) + workingMinutes(b, c, hours)).toBeCloseTo(workingMinutes(a, c, hours), 4)
      }),
      { numRuns: 60 },
    )
  })
})

/** Zones whose clocks are changed: at an hour, at midnight, by half an hour, on the other half of the globe; and one whose are not. */
const ZONES = ['Europe/Paris', 'America/Santiago', 'Australia/Lord_Howe', 'America/New_York', 'Asia/Kolkata']
/** Moments near their changes of clocks, and elsewhere. */
const near = (zone: string) =>
  fc.oneof(
    fc
      .constantFrom(...CHANGES.get(zone)!)
      .chain(change => fc.integer({ min: -4 * 1440, max: 2 * 1440 }).map(minutes => change + minutes * 60_000)),
    fc.integer({ min: 0, max: 365 * 1440 }).map(minutes => at('2026-01-01T00:00Z') + minutes * 60_000),
  )
const CHANGES = new Map(
  ZONES.map(zone => {
    const ahead = (day: number) => DateTime.fromMillis(at('2026-01-01T00:00Z') + day * 86_400_000, { zone }).offset
    const days = Array.from({ length: 365 }, (_, day) => day).filter(day => ahead(day) !== ahead(day + 1))
    return [zone, (days.length ? days : [100]).map(day => at('2026-01-01T00:00Z') + day * 86_400_000)]
  }),
)
const span = fc
  .tuple(fc.integer({ min: 0, max: 95 }), fc.integer({ min: 1, max: 40 }))
  .map(([from, length]) => ({ from: from * 15, until: Math.min(1440, (from + length) * 15) }))
/** Days in one stretch, or split in two that do not touch each other. */
const days = fc
  .array(span, { maxLength: 2 })
  .map(spans => spans.sort((a, b) => a.from - b.from).filter((s, i, all) => i === 0 || s.from > all[i - 1]!.until))
const someHours = (zone: string) =>
  fc.record({
    zone: fc.constant(zone),
    week: fc.array(days, { minLength: 7, maxLength: 7 }),
    off: fc.array(
      fc
        .constantFrom(...CHANGES.get(zone)!)
        .map(change => DateTime.fromMillis(change, { zone }).toISODate()!)
        .map(day => ({ from: day, until: day })),
      { maxLength: 1 },
    ),
  })
const situation = fc.constantFrom(...ZONES).chain(zone => fc.tuple(someHours(zone), near(zone), fc.integer({ min: 0, max: 3000 })))

/** Whether the clock on the wall says that somebody works in the minute that begins then. */
function atWorkByTheWall(moment: number, { zone, week, off }: WorkingHours): boolean {
  const wall = DateTime.fromMillis(moment, { zone })
  const [day, minute] = [wall.toISODate()!, wall.hour * 60 + wall.minute]
  return !off!.some(r => r.from <= day && day <= r.until) && week[wall.weekday - 1]!.some(s => s.from <= minute && minute < s.until)
}

describe('working time, minute by minute', () => {
  it('is what the clock on the wall says, whatever is done to it', () => {
    fc.assert(
      fc.property(situation, ([hours, from, minutes]) => {
        let walked = 0
        for (let m = 0; m < minutes; m++) if (atWorkByTheWall(from + m * 60_000, hours)) walked++
        expect(workingMinutes(from, from + minutes * 60_000, hours)).toBe(walked)
        expect(isAtWork(from, hours)).toBe(atWorkByTheWall(from, hours))
      }),
      { numRuns: 100 },
    )
  })
  it('ends a promise when so many minutes were worked, and begins at the next work', () => {
    fc.assert(
      fc.property(situation, ([hours, from, minutes]) => {
        const end = afterWorking(from, minutes, hours)
        const work = nextWork(from, hours)
        if (work === null) {
          expect(end).toBe(minutes === 0 ? from : null)
          return
        }
        expect(workingMinutes(from, work, hours)).toBe(0)
        expect(isAtWork(work, hours)).toBe(true)
        if (end === null) {
          expect(workingMinutes(from, from + 399 * 86_400_000, hours)).toBeLessThan(minutes)
          return
        }
        expect(workingMinutes(from, end, hours)).toBe(minutes)
        if (minutes) expect(workingMinutes(from, end - 60_000, hours)).toBe(minutes - 1)
      }),
      { numRuns: 1000 },
    )
  })
  it('knows who still works on a day', () => {
    const split: WorkingHours = {
      zone: 'Europe/Paris',
      week: [
        [
          { from: 480, until: 720 },
          { from: 840, until: 1080 },
        ],
        [],
        [],
        [],
        [],
        [],
        [],
      ],
      off: [{ from: '2026-12-24', until: '2027-01-03' }],
    }
    const says = (iso: string) => [isAtWork(at(iso), split), worksToday(at(iso), split)]
    expect(says('2026-11-23T07:00+01:00')).toEqual([false, true])
    expect(says('2026-11-23T12:30+01:00')).toEqual([false, true])
    expect(says('2026-11-23T14:00+01:00')).toEqual([true, true])
    expect(says('2026-11-23T18:00+01:00')).toEqual([false, false])
    expect(says('2026-11-24T09:00+01:00')).toEqual([false, false])
    expect(nextWork(at('2026-12-21T18:00+01:00'), split)).toBe(at('2027-01-04T08:00+01:00'))
    expect(nextWork(at('2026-12-21T18:00+01:00'), { ...split, week: [[], [], [], [], [], [], []] })).toBeNull()
  })
})

it('puts first who has waited most of what was promised to them', () => {
  const now = at('2026-11-24T12:00+01:00')
  const waits = [
    [at('2026-11-24T08:00+01:00'), 1800],
    [at('2026-11-24T11:15+01:00'), 60],
    [at('2026-11-24T09:00+01:00'), 240],
  ] as const
  expect(
    waits
      .map(([since, target]) => urgency(since, now, target, hours))
      .sort(byUrgency)
      .map(u => [u.target, u.state]),
  ).toEqual([
    [60, 'soon'],
    [240, 'soon'],
    [1800, 'in time'],
  ])
})

describe('a share with its doubt', () => {
  it('gives the published Wilson intervals', () => {
    // Newcombe (1998), Statistics in Medicine 17, table I: 81/263 and 15/148, score method.
    expect(proportion(81, 263).low).toBeCloseTo(0.2553, 4)
    expect(proportion(81, 263).high).toBeCloseTo(0.3662, 4)
    expect(proportion(15, 148).low).toBeCloseTo(0.0624, 4)
    expect(proportion(15, 148).high).toBeCloseTo(0.1605, 4)
    expect(proportion(0, 20)).toMatchObject({ rate: 0, low: 0, tooFew: false })
    expect(proportion(3, 7).tooFew).toBe(true)
    expect(proportion(0, 0)).toMatchObject({ low: 0, high: 1, tooFew: true })
  })
  it('holds the rate within the range and the range within 0 and 1', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.double({ min: 0, max: 1, noNaN: true }), (trials, share) => {
        const { rate, low, high } = proportion(Math.floor(trials * share), trials)
        expect(low >= 0 && low <= rate + 1e-12 && rate <= high + 1e-12 && high <= 1).toBe(true)
      }),
    )
  })
})

describe('texts', () => {
  it('are put on one line without what could forge a header or turn the line around', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), text => {
        const line = oneLine(text, 40)
        expect([...line].length).toBeLessThanOrEqual(40)
        expect(line).not.toMatch(/[\u0000-\u001f\u202e]/)
      }),
    )
    fc.assert(
      fc.property(fc.string({ unit: 'binary-ascii' }), fc.integer({ min: 3, max: 20 }), (text, most) => {
        expect(oneLine(text, most)).toBe(oneLine(`${text} `, most))
      }),
    )
    expect(oneLine('a\r\nBcc: x', 40)).toBe('a Bcc: x')
  })
  it('become addresses', () => {
    expect(slugify('Ask for a visit — Été!')).toBe('ask-for-a-visit-ete')
    expect(slugify('日本')).toBe('')
  })
})

describe('the days of a calendar', () => {
  const zones = ['Europe/Paris', 'America/St_Johns', 'Asia/Kathmandu', 'Australia/Lord_Howe', 'Africa/Cairo', 'Pacific/Apia', 'UTC']
  /** Days on which clocks were changed at midnight, or a whole day was left out. */
  const odd = ['2023-04-28T00:00+03:00', '2024-10-31T23:00+03:00', '2011-12-30T00:00-10:00', '2010-03-14T00:01-03:30'].map(at)
  const moment = fc.oneof(
    fc.integer({ min: at('2009-01-01T00:00Z'), max: at('2031-01-01T00:00Z') }),
    fc.tuple(fc.constantFrom(...odd), fc.integer({ min: -7_200_000, max: 7_200_000 })).map(([day, away]) => day + away),
  )
  it('are those of its clock, though it is asked only once for an hour', () => {
    fc.assert(
      fc.property(fc.constantFrom(...zones), moment, (zone, when) => {
        const day = DateTime.fromMillis(when, { zone })
        expect([dayText(when, zone), dayBegins(when, zone)]).toEqual([day.toISODate(), day.startOf('day').toMillis()])
      }),
      { numRuns: 2000 },
    )
  })
})
