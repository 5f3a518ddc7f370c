import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { byUrgency, urgency } from '#core/follow-up'
import { proportion } from '#core/stats/proportion'
import { oneLine, slugify } from '#core/text'
import { workingMinutes } from '#core/working-time'

const hours = { days: [1, 2, 3, 4, 5], from: 8, until: 18, zone: 'Europe/Paris' }
const at = (iso: string) => Date.parse(iso)

describe('working time', () => {
  it.each([
    ['within a day', '2026-11-23T10:00+01:00', '2026-11-23T11:30+01:00', 90],
    ['over a night', '2026-11-23T17:30+01:00', '2026-11-24T08:15+01:00', 45],
    ['over a weekend', '2026-11-20T17:00+01:00', '2026-11-23T09:00+01:00', 120],
    ['on a Sunday', '2026-11-22T09:00+01:00', '2026-11-22T19:00+01:00', 0],
    ['backwards', '2026-11-23T11:00+01:00', '2026-11-23T10:00+01:00', 0],
    ['over the end of summer time', '2026-10-23T17:00+02:00', '2026-10-26T09:00+01:00', 120],
    ['a whole year', '2025-11-24T00:00+01:00', '2026-11-23T00:00+01:00', 52 * 5 * 600],
  ])('%s', (_, from, until, minutes) => expect(workingMinutes(at(from), at(until), hours)).toBeCloseTo(minutes, 6))

  it('adds up: to a moment between and from it on', () => {
    const moment = fc.integer({ min: at('2024-01-01T00:00Z'), max: at('2027-01-01T00:00Z') })
    fc.assert(fc.property(fc.tuple(moment, moment, moment), (moments) => {
      const [a, b, c] = moments.sort((x, y) => x - y) as [number, number, number]
      expect(workingMinutes(a, b, hours) + workingMinutes(b, c, hours)).toBeCloseTo(workingMinutes(a, c, hours), 4)
    }), { numRuns: 60 })
  })
})

it('puts first who has waited most of what was promised to them', () => {
  const now = at('2026-11-24T12:00+01:00')
  const waits = [[at('2026-11-24T08:00+01:00'), 1800], [at('2026-11-24T11:15+01:00'), 60], [at('2026-11-24T09:00+01:00'), 240]] as const
  expect(waits.map(([since, target]) => urgency(since, now, target, hours)).sort(byUrgency).map(u => [u.target, u.state])).toEqual([[60, 'soon'], [240, 'soon'], [1800, 'in time']])
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
    fc.assert(fc.property(fc.integer({ min: 1, max: 1e6 }), fc.double({ min: 0, max: 1, noNaN: true }), (trials, share) => {
      const { rate, low, high } = proportion(Math.floor(trials * share), trials)
      expect(low >= 0 && low <= rate + 1e-12 && rate <= high + 1e-12 && high <= 1).toBe(true)
    }))
  })
})

describe('texts', () => {
  it('are put on one line without what could forge a header or turn the line around', () => {
    fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => {
      const line = oneLine(text, 40)
      expect([...line].length).toBeLessThanOrEqual(40)
      expect(line).not.toMatch(/[\u0000-\u001f\u202e]/)
    }))
    fc.assert(fc.property(fc.string({ unit: 'binary-ascii' }), fc.integer({ min: 3, max: 20 }), (text, most) => {
      expect(oneLine(text, most)).toBe(oneLine(`${text} `, most))
    }))
    expect(oneLine('a\r\nBcc: x', 40)).toBe('a Bcc: x')
  })
  it('become addresses', () => {
    expect(slugify('Ask for a visit — Été!')).toBe('ask-for-a-visit-ete')
    expect(slugify('日本')).toBe('')
  })
})
