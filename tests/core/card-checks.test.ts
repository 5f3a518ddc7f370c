import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { holds, type Condition } from '#core/conditions/condition'
import { holdsNever } from '#core/conditions/faults'
import { cardChecks, type CardSurroundings } from '#core/scoring/checks'
import { addRule, changeRule, moveRule, removeRule, setArea } from '#core/scoring/edit'
import { fitLines, interestLines, repriced } from '#core/scoring/score'
import { readScorecard, type Scorecard } from '#core/scoring/scorecard'

const AROUND: CardSurroundings = {
  properties: new Set(['sector', 'size']),
  segments: new Set(['known']),
  lists: new Set(['journal']),
  labels: [
    { key: 'early', name: 'Early' },
    { key: 'warm', name: 'Warming' },
    { key: 'ready', name: 'Sales ready' },
  ],
}
const is = (attribute: string, value: string): Condition => ({ attribute, is: 'equal', value })
const CARD: Scorecard = {
  version: 1,
  halfLifeDays: 14,
  fit: [
    { key: 'school', name: 'A school', points: 40, when: is('property.sector', 'school') },
    { key: 'large', name: 'Large', points: 30, when: is('property.size', 'large') },
  ],
  interest: [{ key: 'entry', name: 'An entry', points: 20, on: 'entry', when: null }],
  labels: [
    { label: 'early', fit: -1000, interest: 0 },
    { label: 'warm', fit: 20, interest: 15 },
    { label: 'ready', fit: 50, interest: 40 },
  ],
}
const said = (card: Scorecard) => cardChecks(card, AROUND).map(c => `${c.level} ${c.place} ${c.message}`)

describe('checks of a scorecard', () => {
  it('say nothing of one that is in order', () => {
    expect(said(CARD)).toEqual([])
    expect(readScorecard(CARD).flaws).toEqual([])
  })
  it.each<[string, (c: Scorecard) => Scorecard, string]>([
    [
      'a property that is gone',
      c => changeRule(c, 'fit', 'school', { when: is('property.gone', 'x') }),
      'stop fit.0 “A school” asks for a property that was removed.',
    ],
    [
      'a segment that is gone',
      c => changeRule(c, 'fit', 'school', { when: { any: [is('segment', 'gone')] } }),
      'stop fit.0 “A school” asks for a segment that was removed.',
    ],
    [
      'the same, where the rule is off',
      c => changeRule(c, 'fit', 'school', { off: true, when: is('property.gone', 'x') }),
      'hint fit.0 “A school” asks for a property that was removed.',
    ],
    [
      'a rule that holds for nobody',
      c => changeRule(c, 'fit', 'school', { when: { all: [is('status', 'won'), is('status', 'lost')] } }),
      'hint fit.0 “A school” can hold for nobody.',
    ],
    [
      'two rules that are one',
      c => changeRule(c, 'fit', 'large', { when: is('property.sector', 'school') }),
      'hint fit.1 “Large” holds whenever “A school” does: one rule would do.',
    ],
    ['no points', c => changeRule(c, 'interest', 'entry', { points: 0 }), 'hint interest.0 “An entry” gives no points.'],
    [
      'a label out of reach',
      c => setArea(c, 'ready', { fit: 90, interest: 40 }, ['early', 'warm', 'ready']),
      'hint labels.2 Nobody can reach “Sales ready”: it asks for 90 points of fit, and the rules give at most 70.',
    ],
    [
      'a label behind a higher one',
      c => setArea(c, 'warm', { fit: 60, interest: 50 }, ['early', 'warm', 'ready']),
      'hint labels.1 Nobody gets “Warming”: whoever reaches it has reached “Sales ready”, too.',
    ],
    [
      'a label without an area',
      c => setArea(c, 'early', null, ['early', 'warm', 'ready']),
      'hint  “Early” has no area: only forms and people give it.',
    ],
    [
      'a label that is gone',
      c => ({ ...c, labels: [...c.labels, { label: 'old', fit: 0, interest: 0 }] }),
      'stop labels.3 The label “old” was removed.',
    ],
    ['no area at all', c => ({ ...c, labels: [] }), 'stop  No label has an area: nobody would ever count as anything.'],
  ])('say what is wrong with %s', (_, change, message) => {
    expect(said(change(CARD))).toContain(message)
  })
  it('call a condition impossible only where it holds for nobody', () => {
    const test = fc.record({
      attribute: fc.constantFrom('status', 'owner', 'waiting_days'),
      is: fc.constantFrom('equal' as const, 'at_least' as const, 'at_most' as const),
      value: fc.constantFrom('1', '2', '3'),
    })
    const condition: fc.Arbitrary<Condition> = fc.letrec<{ c: Condition }>(tie => ({
      c: fc.oneof(
        { depthSize: 'small' },
        test,
        fc.array(tie('c'), { maxLength: 3 }).map(all => ({ all })),
        fc.array(tie('c'), { maxLength: 3 }).map(any => ({ any })),
        fc.array(tie('c'), { maxLength: 2 }).map(none => ({ none })),
      ),
    })).c
    const somebody = fc.record({
      status: fc.constantFrom('1', '2', '3'),
      owner: fc.constantFrom('1', '2', '3'),
      waiting_days: fc.constantFrom('1', '2', '3'),
    })
    fc.assert(fc.property(condition, somebody, (c, who) => !holdsNever(c) || !holds(c, name => who[name as keyof typeof who])))
  })
})

describe('a scorecard that is edited', () => {
  it('keeps all rules whatever is done, each under a key of its own', () => {
    const act = fc.record({
      axis: fc.constantFrom('fit' as const, 'interest' as const),
      n: fc.nat(5),
      by: fc.integer({ min: -3, max: 3 }),
      what: fc.constantFrom('add', 'move', 'remove', 'off'),
    })
    fc.assert(
      fc.property(fc.array(act, { maxLength: 12 }), acts => {
        let card = CARD
        for (const { axis, n, by, what } of acts) {
          const before = card[axis].length
          const key = card[axis][n % Math.max(1, before)]?.key ?? ''
          card =
            what === 'add'
              ? addRule(card, axis)
              : what === 'move'
                ? moveRule(card, axis, key, by)
                : what === 'remove'
                  ? removeRule(card, axis, key)
                  : changeRule(card, axis, key, { off: true })
          expect(card[axis].length).toBe(before + (what === 'add' ? 1 : what === 'remove' && before ? -1 : 0))
        }
        expect(readScorecard(card).flaws).toEqual([])
      }),
    )
  })
  it('gives nothing for a rule that is off, and takes what it gave', () => {
    const off = changeRule(changeRule(CARD, 'interest', 'entry', { off: true }), 'fit', 'school', { off: true })
    const judge = () => ({ holds: true, until: Infinity })
    expect(fitLines(off, judge, 0).lines.map(l => l.rule)).toEqual(['large'])
    const entry = { kind: 'entry' as const, at: 0, attributes: () => undefined }
    expect(interestLines(off, entry)).toEqual([])
    expect(repriced(off, interestLines(CARD, entry))).toEqual([])
  })
})
