import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { apportion } from '#core/scoring/apportion'
import type { LeadState } from '#core/leads/lead'
import { endHold, hold, type LabelHeld } from '#core/scoring/label-held'
import { interestBounds, labelFor } from '#core/scoring/labels'
import { decayed, scoreAt, totalsAt, type ReasonLine } from '#core/scoring/lines'
import { asksOtherwise, fitLines, repriced, toldTo, withActivities, type Activity } from '#core/scoring/score'
import { holds, type Condition } from '#core/conditions/condition'
import { readScorecard, type Scorecard } from '#core/scoring/scorecard'

const DAY = 86_400_000
const card: Scorecard = {
  version: 1,
  halfLifeDays: 10,
  fit: [
    { key: 'school', name: 'School', points: 35, when: { attribute: 'property.sector', is: 'equal', value: 'school' } },
    { key: 'far', name: 'Far away', points: -20, when: { attribute: 'property.far', is: 'filled' } },
  ],
  interest: [
    { key: 'entry', name: 'Entry', points: 20, on: 'entry', when: null },
    { key: 'prices', name: 'Prices', points: 7, on: 'page_view', when: { attribute: 'page.path', is: 'starts_with', value: '/prices' } },
  ],
  labels: [
    { label: 'early', fit: -1000, interest: 0 },
    { label: 'warm', fit: 0, interest: 18 },
    { label: 'ready', fit: 30, interest: 30 },
  ],
}
const judging = (known: Record<string, unknown>) => (when: Condition) => ({ holds: holds(when, name => known[name]), until: Infinity })
const entry = (at: number): Activity => ({ kind: 'entry', at, attributes: () => undefined, note: 'form' })
const view = (at: number, path: string): Activity => ({
  kind: 'page_view',
  at,
  note: path,
  attributes: name => (name === 'page.path' ? path : undefined),
})

describe('scores', () => {
  it('halves interest with each half-life and leaves fit alone', () => {
    const lines = withActivities(card, [], judging({ 'property.sector': 'School' }), [entry(0)], 0).lines
    expect(scoreAt(lines, 0, 10)).toMatchObject({ fit: 35, interest: 20 })
    expect(scoreAt(lines, 10 * DAY, 10)).toMatchObject({ fit: 35, interest: 10 })
    expect(scoreAt(lines, 20 * DAY, 10)).toMatchObject({ fit: 35, interest: 5 })
    expect(decayed(20, 5 * DAY, 0, 10)).toBe(20)
  })

  it('counts a page once a day for a rule, entries each time', () => {
    const lines = withActivities(
      card,
      [],
      judging({}),
      [view(1000, '/prices'), view(2000, '/prices'), view(3000, '/prices/small'), view(DAY + 1, '/prices'), entry(5), entry(6)],
      2 * DAY,
    ).lines
    expect(lines.filter(l => l.rule === 'prices')).toHaveLength(3)
    expect(lines.filter(l => l.rule === 'entry')).toHaveLength(2)
  })

  it('gives reasons that add up, whatever happened and whenever one looks', () => {
    const activity = fc.record({
      at: fc.integer({ min: 0, max: 300 * DAY }),
      page: fc.option(fc.constantFrom('/prices', '/prices/a', '/other')),
    })
    fc.assert(
      fc.property(fc.array(activity, { maxLength: 60 }), fc.integer({ min: 0, max: 400 * DAY }), (activities, now) => {
        const lines = withActivities(
          card,
          [],
          judging({ 'property.sector': 'school', 'property.far': 'yes' }),
          activities.map(d => (d.page ? view(d.at, d.page) : entry(d.at))),
          now,
        ).lines
        const score = scoreAt(lines, now, card.halfLifeDays)
        const sum = (axis: string) => score.reasons.filter(r => r.axis === axis).reduce((n, r) => n + r.now, 0)
        expect(totalsAt(lines, now, card.halfLifeDays)).toEqual({ fit: score.fit, interest: score.interest })
        expect(sum('fit')).toBe(score.fit)
        expect(sum('interest')).toBe(score.interest)
        for (const r of score.reasons) expect(Number.isInteger(r.now) && Math.abs(r.now) <= Math.abs(r.points)).toBe(true)
      }),
    )
  })

  it('comes to the same whether activities are counted one by one or at once', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 0, max: 40 * DAY }), fc.constantFrom('/prices', '/prices/b', 'entry')), { maxLength: 30 }),
        raw => {
          const activities = raw.sort((a, b) => a[0] - b[0]).map(([at, what]) => (what === 'entry' ? entry(at) : view(at, what)))
          const now = 40 * DAY
          const known = judging({})
          const atOnce = scoreAt(withActivities(card, [], known, activities, now).lines, now, 10)
          const oneByOne = scoreAt(
            activities.reduce((lines, d) => withActivities(card, lines, known, [d], d.at).lines, [] as ReasonLine[]),
            now,
            10,
          )
          expect(oneByOne.interest).toBe(atOnce.interest)
        },
      ),
    )
  })

  it('apportions: integers within one of their part, adding up to the rounded whole', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -100, max: 100, noNaN: true }), { maxLength: 50 }), parts => {
        const rounded = apportion(parts)
        rounded.forEach((r, i) => expect(Math.abs(r - parts[i]!)).toBeLessThanOrEqual(1))
        expect(rounded.reduce((a, b) => a + b, 0) === Math.round(parts.reduce((a, b) => a + b, 0))).toBe(true)
      }),
    )
  })
})

describe('labels', () => {
  const order = ['early', 'warm', 'ready']
  const of = (fit: number, interest: number, labelFloor: string | null = null, more: object = {}) =>
    labelFor(card, order, { fit, interest }, { label: null, labelFloor, ...more })
  it('take the highest that fit and interest reach, lifted to the floor of a point', () => {
    expect(of(35, 40)).toEqual({ label: 'ready', because: 'score' })
    expect(of(29, 40)).toEqual({ label: 'warm', because: 'score' })
    expect(of(0, 2, 'warm')).toEqual({ label: 'warm', because: 'point' })
    expect(of(35, 40, 'warm')).toEqual({ label: 'ready', because: 'score' })
    expect(labelFor({ labels: [] }, order, { fit: 35, interest: 40 }, { label: null, labelFloor: null })).toEqual({
      label: null,
      because: 'none',
    })
  })
  it('stay as they were fixed, whatever the score says', () => {
    const fixed = { labelHeld: { how: 'fixed', by: 'person' } as const }
    expect([of(35, 40, 'early', fixed), of(0, 0, 'ready', fixed)]).toEqual([
      { label: 'early', because: 'person' },
      { label: 'ready', because: 'person' },
    ])
    // One that is there no more fixes nothing.
    expect(of(35, 40, 'gone', fixed)).toEqual({ label: 'ready', because: 'score' })
  })
  it('fall only by the margin, and rise without it', () => {
    const by = (fit: number, interest: number, label: string | null) =>
      labelFor({ ...card, margin: 5 }, order, { fit, interest }, { label, labelFloor: null }).label
    const ready = card.labels.find(l => l.label === 'ready')!
    expect([
      by(ready.fit, ready.interest - 5, 'ready'),
      by(ready.fit - 5, ready.interest, 'ready'),
      by(ready.fit, ready.interest - 6, 'ready'),
      by(ready.fit, ready.interest - 1, 'warm'),
    ]).toEqual(['ready', 'ready', 'warm', 'warm'])
    expect(interestBounds({ ...card, margin: 5 }, ready.fit)).toEqual(expect.arrayContaining([ready.interest, ready.interest - 5]))
  })
  it('are held for a time, and what was held before is held again', () => {
    const lead: Pick<LeadState, 'labelFloor' | 'labelHeld'> = { labelFloor: null, labelHeld: null }
    const held = (until: number | null): LabelHeld => ({ how: 'floor', until, reason: 'r', by: 'person', name: 'Orla', at: 0 })
    hold(lead, 'warm', held(null))
    hold(lead, 'ready', held(100))
    expect([endHold(lead, 99), lead.labelFloor]).toEqual([null, 'ready'])
    expect([endHold(lead, 100), lead.labelFloor, lead.labelHeld?.until]).toEqual(['ready', 'warm', null])
    hold(lead, null, null)
    expect(lead).toEqual({ labelFloor: null, labelHeld: null })
  })
  it('never fall when fit or interest rises', () => {
    const points = fc.integer({ min: -50, max: 150 })
    fc.assert(
      fc.property(points, points, fc.nat(50), fc.nat(50), fc.constantFrom(null, ...order), (fit, interest, more, again, floor) => {
        const rank = (f: number, i: number) => order.indexOf(of(f, i, floor).label ?? '')
        expect(rank(fit + more, interest + again)).toBeGreaterThanOrEqual(rank(fit, interest))
      }),
    )
  })
})

describe('rules that count within bounds', () => {
  const judge = judging({ 'property.sector': 'school', 'property.far': 'yes' })
  const plainRule = { off: false, note: '' }
  it('count so often in any so many days, whichever way they are told', () => {
    const often: Scorecard = {
      ...card,
      interest: [{ key: 'entry', name: 'Entry', points: 20, on: 'entry', when: null, most: { times: 2, days: 3 } }],
    }
    fc.assert(
      fc.property(fc.uniqueArray(fc.integer({ min: 0, max: 20 * DAY }), { maxLength: 12 }), times => {
        const done = times.toSorted((a, b) => a - b)
        const now = 21 * DAY
        const atOnce = withActivities(often, [], judge, times.map(entry), now)
          .lines.filter(l => l.axis === 'interest')
          .map(l => l.at)
        const oneByOne = done
          .reduce((lines, at) => withActivities(often, lines, judge, [entry(at)], at).lines, [] as ReasonLine[])
          .filter(l => l.axis === 'interest')
          .map(l => l.at)
        expect(oneByOne).toEqual(atOnce)
        for (const at of atOnce) expect(atOnce.filter(a => a <= at && a > at - 3 * DAY).length).toBeLessThanOrEqual(2)
        // What was left out had found it full.
        for (const at of done.filter(d => !atOnce.includes(d))) expect(atOnce.filter(a => a <= at && a > at - 3 * DAY)).toHaveLength(2)
      }),
    )
  })
  it('of a group together give no more than it says, and their lines add up to it', () => {
    const rule = (key: string, points: number) => ({ key, name: key, points, when: { all: [] }, group: 'kind', ...plainRule })
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -30, max: 40 }), { minLength: 1, maxLength: 6 }),
        fc.integer({ min: 1, max: 60 }),
        (points, most) => {
          const grouped: Scorecard = {
            ...card,
            groups: [{ key: 'kind', name: 'Kind', most }],
            fit: [...points.map((p, i) => rule(`r${i}`, p)), { ...rule('alone', 7), group: null }],
          }
          const { lines } = fitLines(grouped, judge, 0)
          const whole = points.reduce((a, b) => a + b, 0)
          expect(lines.filter(l => l.rule !== 'alone').reduce((n, l) => n + l.points, 0)).toBe(Math.min(most, whole))
          expect(lines.find(l => l.rule === 'alone')!.points).toBe(7)
          for (const [i, line] of lines.slice(0, -1).entries()) {
            expect(line.points === points[i] || line.points < points[i]!).toBe(true)
            expect(line.note !== undefined).toBe(line.points !== points[i])
          }
        },
      ),
    )
  })
  it('count within their period, and it is known when it begins and ends', () => {
    const from = new Date(5 * DAY).toISOString()
    const until = new Date(9 * DAY).toISOString()
    const short: Scorecard = { ...card, fit: [{ ...card.fit[0]!, from, until }], interest: [{ ...card.interest[0]!, from, until }] }
    const at = (now: number) => withActivities(short, [], judge, [entry(now)], now)
    expect([4, 5, 8, 9].map(d => at(d * DAY).lines.map(l => l.axis))).toEqual([[], ['fit', 'interest'], ['fit', 'interest'], []])
    expect([4, 5, 9].map(d => at(d * DAY).until)).toEqual([5 * DAY, 9 * DAY, Infinity])
  })
  it('earn anew from what was done where they ask otherwise, and not where only their points are others', () => {
    const other = {
      ...card,
      interest: [
        { ...card.interest[0]!, points: 3 },
        { ...card.interest[1]!, when: null },
        { key: 'new', name: 'New', points: 1, on: 'event' as const, when: null },
      ],
    }
    expect([...asksOtherwise(card, other)]).toEqual(['prices', 'new'])
    expect([...asksOtherwise(null, card)]).toEqual(['entry', 'prices'])
    // As the database gives it back, keys stand in another order.
    const turned = {
      ...card,
      interest: card.interest.map(r => ({
        ...r,
        when: r.when && (Object.fromEntries(Object.entries(r.when).reverse()) as unknown as Condition),
      })),
    }
    expect([...asksOtherwise(card, turned)]).toEqual([])
    const off = { ...card, interest: card.interest.map(r => ({ ...r, off: true })) }
    expect([[...asksOtherwise(card, off)], [...asksOtherwise(off, card)]]).toEqual([[], ['entry', 'prices']])
    const before = withActivities(card, [], judge, [view(0, '/prices'), view(0, '/journal'), entry(1)], 2).lines
    const anew = asksOtherwise(card, other)
    const lines = withActivities(
      other,
      repriced(other, before, anew),
      judge,
      toldTo([view(0, '/prices'), view(0, '/journal'), entry(1)], anew),
      2,
    ).lines
    expect(lines.filter(l => l.axis === 'interest').map(l => [l.rule, l.points, l.note])).toEqual([
      ['prices', 7, '/prices'],
      ['prices', 7, '/journal'],
      ['entry', 3, 'form'],
    ])
  })
})

describe('reading a scorecard', () => {
  it('takes a good one as it is, and names what is wrong with a bad one', () => {
    // Of an earlier day: what has come since is as it always was.
    const plain = { off: false, note: '', from: null, until: null }
    expect(readScorecard(JSON.parse(JSON.stringify(card))).scorecard).toEqual({
      ...card,
      groups: [],
      fit: card.fit.map(r => ({ ...r, ...plain, group: null })),
      interest: card.interest.map(r => ({ ...r, ...plain, most: null })),
    })
    expect(readScorecard({ ...card, halfLifeDays: 0 }).flaws).toEqual([{ field: 'halfLifeDays', message: expect.stringContaining('0.25') }])
    expect(readScorecard({ ...card, fit: [{ ...card.fit[0], when: { attribute: 'tag', is: 'like', value: 1 } }] }).flaws[0]?.field).toBe(
      'fit.0.when.is',
    )
    expect(readScorecard(null).flaws).toHaveLength(1)
  })
})
