import { hereAt, stayedAt } from '#core/trail/here'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { readEvents, readProperties, TRAIL_LIMITS, type TrailEvent } from '#core/trail/events'
import { foldVisit, sourceOf } from '#core/trail/visits'

const NOW = 1_800_000_000_000
const one = (event: Record<string, unknown>, sent = NOW) => readEvents([event], sent, NOW)[0]

describe('events from browsers', () => {
  it('never throw, never lie in the future nor more than a week back, at whole milliseconds, and are no more than fit', () => {
    fc.assert(
      fc.property(fc.anything({ withBigInt: true, withNullPrototype: true }), fc.double(), (raw, sent) => {
        const events = readEvents(Array.isArray(raw) ? raw : [raw], sent, NOW)
        return (
          events.length <= TRAIL_LIMITS.events &&
          events.every(e => e.at <= NOW && e.at >= NOW - TRAIL_LIMITS.late && e.path.startsWith('/') && !/[?#]/.test(e.path))
        )
      }),
    )
    fc.assert(
      fc.property(fc.double(), fc.double(), (at, sent) => {
        const event = one({ kind: 'page', path: '/', at }, sent)!
        return event.at <= NOW && event.at >= NOW - TRAIL_LIMITS.late
      }),
    )
    const moment = fc.double({ min: 0, max: 1e8, noNaN: true })
    fc.assert(fc.property(moment, moment, (at, sent) => Number.isInteger(one({ kind: 'page', path: '/', at }, sent)!.at)))
  })
  it('keep their distance to the moment of sending, whatever the browser’s clock says', () => {
    const wrong = NOW + 40 * 365 * 86_400_000
    expect(one({ kind: 'page', path: '/', at: wrong - 5000 }, wrong)!.at).toBe(NOW - 5000)
    expect(one({ kind: 'page', path: '/', at: wrong + 5000 }, wrong)!.at).toBe(NOW)
    // A right one: what came late keeps its time.
    expect(one({ kind: 'page', path: '/', at: NOW - 5000 }, NOW - 900)!.at).toBe(NOW - 5000)
  })
  it('lose what may be a secret: query and fragment', () => {
    expect(one({ kind: 'page', path: '/a?token=1#b' })!.path).toBe('/a')
  })
  it('are left out when they say nothing: no kind, no path, no name', () => {
    for (const event of [
      { kind: 'stolen', path: '/' },
      { kind: 'page' },
      { kind: 'page', path: 'https://x.example/' },
      { kind: 'event', path: '/', name: '  ' },
      { kind: 'seen', path: '/' },
      { kind: 'question', path: '/', point: 'p' },
    ])
      expect(one(event)).toBeUndefined()
  })
  it('carry few properties, plain and short', () => {
    const many = Object.fromEntries(Array.from({ length: 1000 }, (_, i) => [`p${i}`, i]))
    expect(Object.keys(readProperties(many))).toHaveLength(TRAIL_LIMITS.properties)
    expect(readProperties({ a: 'x'.repeat(999), b: { deep: 1 }, c: null, d: Infinity, e: true, ['__proto__']: 'no', '<b>': 1 })).toEqual({
      a: 'x'.repeat(TRAIL_LIMITS.text),
      e: true,
    })
  })
})

describe('a visit', () => {
  const at = (n: number, event: Partial<TrailEvent>): TrailEvent => ({ kind: 'page', at: n, path: '/', title: null, data: null, ...event })
  const events = [
    at(1, { title: 'Home' }),
    at(2, { kind: 'read', data: { seconds: 20, depth: 40 } }),
    at(3, { path: '/prices', title: 'Prices' }),
    at(4, { kind: 'seen', path: '/prices', data: { point: 'guide', placement: 'text' } }),
    at(5, { kind: 'started', path: '/prices', data: { point: 'guide' } }),
    at(6, { kind: 'question', path: '/prices', data: { point: 'guide', question: 'name', seconds: 4 } }),
    at(7, { kind: 'left', path: '/prices', data: { point: 'guide', question: 'email' } }),
    at(8, { kind: 'read', path: '/prices', data: { seconds: 5, depth: 90 } }),
    at(9, { kind: 'read', path: '/prices', data: { seconds: 6, depth: 10 } }),
    at(10, { title: 'Home' }),
    at(11, { kind: 'mark', data: { mark: 'Call us' } }),
  ]
  it('is folded into its pages, with the time on each and how far each point went', () => {
    expect(foldVisit(events)).toEqual([
      { path: '/', title: 'Home', at: 1, seconds: 20, depth: 40, acts: [] },
      {
        path: '/prices',
        title: 'Prices',
        at: 3,
        seconds: 11,
        depth: 90,
        acts: [{ kind: 'point', point: 'guide', placement: 'text', reached: 'left', question: 'email', seconds: 4 }],
      },
      { path: '/', title: 'Home', at: 10, seconds: 0, depth: 0, acts: [{ kind: 'mark', name: 'Call us', at: 11 }] },
    ])
  })
  it('is the same in whichever order its events came, and finished stays finished', () => {
    const whole = foldVisit(events)
    fc.assert(
      fc.property(fc.shuffledSubarray(events, { minLength: events.length }), shuffled => {
        expect(foldVisit(shuffled)).toEqual(whole)
      }),
    )
    const done = foldVisit([
      at(1, { path: '/c' }),
      at(2, { kind: 'finished', path: '/c', data: { point: 'x' } }),
      at(3, { kind: 'left', path: '/c', data: { point: 'x' } }),
    ])
    expect(done[0]!.acts).toMatchObject([{ reached: 'finished' }])
  })
  it('came from where its address says, else from the site that led there', () => {
    expect([
      sourceOf(null, {}),
      sourceOf('https://www.Search.example/find?q=x', {}),
      sourceOf('https://a.example/', { source: 'letter' }),
      sourceOf('not an address', {}),
    ]).toEqual(['direct', 'search.example', 'letter', 'direct'])
  })
})

describe('whether somebody is there', () => {
  const T = 1_800_000_000_000
  it.each<[string, number, number | null, string, number]>([
    ['who did something just now', 5, null, 'here', 100],
    ['who read on for a while', 60, null, 'here', 100],
    ['who has said nothing for more than a minute', 61, null, 'perhaps gone', 39],
    ['who is on the way to another page', 9, 9, 'here', 100],
    ['who closed the page', 11, 11, 'gone', 89],
  ])('%s', (_, silent, gone, how, seconds) => {
    const stay = { beganAt: T - 100_000, lastAt: T - silent * 1000, goneAt: gone === null ? null : T - gone * 1000 }
    expect([hereAt(stay, T), stayedAt(stay, T)]).toEqual([how, seconds])
  })
})
