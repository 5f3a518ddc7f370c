import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import {
  applying,
  hasOrder,
  isUninvited,
  NOWHERE,
  PLACEMENTS,
  type DisplayRules,
  type PublicDisplayRules,
} from '#core/appearing/definition'
import { masked } from '#core/appearing/masked'
import { VISITOR_ATTRIBUTES } from '#core/appearing/attributes'
import { ATTRIBUTES } from '#core/leads/attributes/registry'
import { attributesOf, speakers, speaksInstead, verdicts, type Memory, type Situation } from '#core/appearing/decide'
import { whys } from '#core/appearing/why'
import { holds, type Condition } from '#core/conditions/condition'
import { blankDefinition } from '#core/points/definition'
import { checksOf } from '#core/points/checks'
import { readDefinition } from '#core/points/shapes/definition'

const DAY = 86_400_000
const HERE: Situation = {
  page: { address: 'https://site.example/prices', path: '/prices', title: 'Prices', query: { product: 'glass' } },
  seconds: 30,
  idle: 2,
  scrolled: 40,
  leaving: false,
  pages: 2,
  clicked: [],
  events: [],
  visitor: { returning: true, source: 'search.example', language: 'en', device: 'computer' },
  small: false,
  day: '2026-11-25',
  weekday: 3,
  hour: 15,
  now: 1_800_000_000_000,
  typing: false,
}
const card = (more: Partial<DisplayRules> = {}): DisplayRules => ({ ...NOWHERE, on: true, ...more })
const fails = (a: Partial<DisplayRules>, s: Partial<Situation> = {}, memory: Memory = {}, ours: boolean[] = []) =>
  verdicts(card(a), { ...HERE, ...s }, memory, ours)
    .filter(v => !v.holds)
    .map(v => v.rule)

describe('whether a point shows now', () => {
  it.each<[string, Partial<DisplayRules>, Partial<Situation>, Memory, string[]]>([
    ['on every page at once', {}, {}, {}, []],
    ['only on its pages', { pages: { all: [{ attribute: 'page.path', is: 'starts_with', value: '/journal' }] } }, {}, {}, ['pages']],
    ['where a parameter says so', { pages: { all: [{ attribute: 'page.query.product', is: 'equal', value: 'glass' }] } }, {}, {}, []],
    ['not where it is left out', { except: { any: [{ attribute: 'page.path', is: 'equal', value: '/prices' }] } }, {}, {}, ['except']],
    ['not before its time', { moments: [{ kind: 'seconds', n: 31 }] }, {}, {}, ['moment']],
    [
      'at one of its moments',
      {
        moments: [
          { kind: 'seconds', n: 31 },
          { kind: 'scrolled', n: 40 },
        ],
      },
      {},
      {},
      [],
    ],
    [
      'at all of its moments',
      {
        moments: [
          { kind: 'seconds', n: 31 },
          { kind: 'scrolled', n: 40 },
        ],
        together: 'all',
      },
      {},
      {},
      ['moment'],
    ],
    ['when somebody leaves', { moments: [{ kind: 'leaving' }] }, { leaving: true }, {}, []],
    [
      'after a click and an event',
      {
        moments: [
          { kind: 'click', what: '#a' },
          { kind: 'event', what: 'sum' },
        ],
        together: 'all',
      },
      { clicked: ['#a'], events: ['sum'] },
      {},
      [],
    ],
    ['on other days', { period: { from: null, until: null, days: [1, 2], hours: null } }, {}, {}, ['period']],
    ['until the end of its last day', { period: { from: '2026-11-25', until: '2026-11-25', days: [], hours: [8, 16] } }, {}, {}, []],
    ['not any more at the hour that ends it', { period: { from: null, until: null, days: [], hours: [8, 15] } }, {}, {}, ['period']],
    ['through the night', { period: { from: null, until: null, days: [], hours: [20, 6] } }, { hour: 2 }, {}, []],
    ['after its rest', {}, {}, { closedAt: HERE.now - 14 * DAY }, []],
    ['not within its rest', {}, {}, { closedAt: HERE.now - 14 * DAY + 1 }, ['rest']],
    ['never again once answered', {}, {}, { answeredAt: HERE.now - 900 * DAY }, ['rest']],
    ['again some days after an answer', { rest: { closed: 14, answered: 30, perVisit: 1 } }, {}, { answeredAt: HERE.now - 31 * DAY }, []],
    ['not more often than a visit bears', {}, {}, { shown: 1 }, ['rest']],
    ['not on small screens', { placement: 'over' }, { small: true }, {}, ['small']],
    ['in the text on any screen, and while somebody types', { placement: 'text' }, { small: true, typing: true }, {}, []],
    ['not while somebody types', {}, { typing: true }, {}, ['typing']],
  ])('%s', (_name, a, s, memory, wrong) => expect(fails(a, s, memory)).toEqual(wrong))

  it('says of each rule what it asks for and what is', () => {
    const a = card({ moments: [{ kind: 'seconds', n: 31 }] })
    expect(whys(verdicts(a, HERE, {}, []), a, HERE, {}).find(w => w.rule === 'moment')).toEqual({
      rule: 'moment',
      holds: false,
      asks: '31 s on the page',
      is: '30 s, scrolled 40%, page 2',
    })
  })
})

describe('what applies', () => {
  const everything: Partial<DisplayRules> = {
    moments: [
      { kind: 'scrolled', n: 50 },
      { kind: 'click', what: '' },
    ],
    together: 'all',
    rest: { closed: 14, answered: null, perVisit: 1 },
    small: false,
  }
  it.each(['text', 'button', 'float'] as const)('waits for no moment and never rests where it was asked for: %s', placement => {
    const a = applying(card({ ...everything, placement }))
    expect(
      verdicts(a, { ...HERE, scrolled: 0, small: true }, { closedAt: HERE.now - 1, answeredAt: HERE.now - 1, shown: 9 }, []).filter(
        v => !v.holds,
      ),
    ).toEqual([])
    const points = { ...blankDefinition('D'), display: card({ ...everything, placement }) }
    expect(
      checksOf(points, { properties: [], labels: [], topics: [], members: [], lists: [] }).filter(c =>
        c.field.startsWith('display.moments'),
      ),
    ).toEqual([])
  })
  it.each(['over', 'edge', 'corner'] as const)('is all that was set where it comes uninvited: %s', placement =>
    expect(applying(card({ ...everything, placement }))).toEqual(card({ ...everything, placement })),
  )
})

describe('who speaks in its place', () => {
  const rules = fc.record({
    placement: fc.constantFrom(...PLACEMENTS),
    moments: fc.constantFrom<DisplayRules['moments'][]>([], [{ kind: 'seconds', n: 99 }], [{ kind: 'seconds', n: 1 }]),
    known: fc.boolean(),
    closed: fc.boolean(),
  })
  it('is the one that the visitors’ script lets speak, if that is another', () => {
    fc.assert(
      fc.property(fc.array(rules, { minLength: 1, maxLength: 6 }), fc.nat(), (given, n) => {
        const list = given.map((g, i) =>
          applying({
            ...card({
              placement: g.placement,
              moments: g.moments,
              audience: g.known ? { attribute: 'server.0', is: 'equal', value: 'yes' } : null,
            }),
            key: `p${i}`,
            edition: 1,
            title: '',
            nobody: [false],
          }),
        ) as PublicDisplayRules[]
        const memoryOf = (key: string): Memory => (given[Number(key.slice(1))]!.closed ? { closedAt: HERE.now - 1 } : {})
        const mine = list[n % list.length]!
        const speaking = speakers(list, HERE, memoryOf, a => a.nobody, false)
        const instead = speaksInstead(list, mine.key, mine.placement, HERE, memoryOf, a => a.nobody)
        const mayNow = verdicts(mine, HERE, memoryOf(mine.key), mine.nobody).every(v => v.holds)
        expect(speaking.includes(mine)).toBe(mayNow && !instead)
        if (mayNow && instead)
          expect(speaking.find(a => hasOrder(a.placement) && (a.placement === 'float') === (mine.placement === 'float'))).toBe(instead)
      }),
    )
  })
  it('is anybody, for a point that is not in the order yet', () => {
    const other = { ...card({ placement: 'edge' }), key: 'other' }
    expect(
      speaksInstead(
        [other],
        'new',
        'over',
        HERE,
        () => ({}),
        () => [],
      ),
    ).toBe(other)
    expect(
      speaksInstead(
        [other],
        'new',
        'text',
        HERE,
        () => ({}),
        () => [],
      ),
    ).toBeNull()
  })
})

describe('an audience', () => {
  const leaf = fc.record({
    attribute: fc.constantFrom('label', 'tag', 'list', 'visitor.known', 'visit.source', 'visit.device'),
    is: fc.constantFrom('equal' as const, 'not_equal' as const, 'contains' as const),
    value: fc.constantFrom('vip', 'computer', 'search.example', 'yes'),
  })
  const tree: fc.Arbitrary<Condition> = fc.letrec(tie => ({
    tree: fc.oneof(
      { maxDepth: 3 },
      leaf,
      fc.record({ all: fc.array(tie('tree') as fc.Arbitrary<Condition>, { maxLength: 3 }) }),
      fc.record({ any: fc.array(tie('tree') as fc.Arbitrary<Condition>, { maxLength: 3 }) }),
      fc.record({ none: fc.array(tie('tree') as fc.Arbitrary<Condition>, { maxLength: 3 }) }),
    ),
  })).tree as fc.Arbitrary<Condition>
  const known: Record<string, unknown> = {
    label: 'vip',
    tag: ['computer', 'vip'],
    list: [],
    'visitor.known': 'yes',
    'visit.source': 'search.example',
    'visit.device': 'computer',
  }
  it('holds in the browser, without what we know of people, just when it holds here', () => {
    fc.assert(
      fc.property(tree, audience => {
        const { audience: sent, ours } = masked(audience)
        expect(JSON.stringify(sent)).not.toMatch(/"(label|tag|list|visitor\.known)"/)
        const said = ours.map(test => holds(test, name => known[name]))
        expect(fails({ audience: sent }, {}, {}, said).includes('audience')).toBe(!holds(audience, name => known[name]))
      }),
    )
  })
})

describe('what may be asked of an audience', () => {
  const named = (name: string, isFamily?: boolean) => (isFamily ? `${name}campaign` : name)
  it.each(ATTRIBUTES.map(a => named(a.name, a.isFamily)))('is %s, which no browser is told of and the server judges', attribute => {
    const { audience, ours } = masked({ all: [{ attribute, is: 'equal', value: 'x' }] })
    expect([JSON.stringify(audience).includes(attribute), ours]).toEqual([false, [{ attribute, is: 'equal', value: 'x' }]])
  })
  it.each(VISITOR_ATTRIBUTES.filter(a => a.judged === 'browser').map(a => named(a.name, a.isFamily)))(
    'is %s, which the browser knows',
    name => {
      const here: Situation = { ...HERE, page: { ...HERE.page, query: { campaign: 'spring' } } }
      expect(attributesOf(here, [])(name)).toBeTruthy()
      expect(masked({ attribute: name, is: 'filled' }).ours).toEqual([])
    },
  )
  it.each(VISITOR_ATTRIBUTES.filter(a => a.judged === 'server').map(a => a.name))('is %s, which only the server knows', attribute => {
    expect(masked({ attribute, is: 'filled' }).ours).toHaveLength(1)
  })
})

describe('several points', () => {
  const some = fc.array(fc.record({ placement: fc.constantFrom(...PLACEMENTS), seconds: fc.integer({ min: 0, max: 60 }) }), {
    maxLength: 8,
  })
  it('never speak uninvited at once, the first of those that may does, and none while another is open', () => {
    fc.assert(
      fc.property(some, fc.boolean(), (given, open) => {
        const list: PublicDisplayRules[] = given.map(({ placement, seconds }, i) => ({
          ...card({ placement, moments: [{ kind: 'seconds', n: seconds }] }),
          key: `p${i}`,
          edition: 1,
          title: '',
          nobody: [],
        }))
        const shown = speakers(
          list,
          HERE,
          () => ({}),
          () => [],
          open,
        )
        const loud = (a: PublicDisplayRules) => isUninvited(a.placement)
        const floats = (a: PublicDisplayRules) => a.placement === 'float'
        const may = list.filter(a => a.moments.every(m => 'n' in m && m.n <= HERE.seconds))
        expect(shown.filter(loud).map(a => a.key)).toEqual(
          open
            ? []
            : may
                .filter(loud)
                .slice(0, 1)
                .map(a => a.key),
        )
        // A floating button is not in the way of anything, and stays where something is open.
        const standing = given
          .map((g, i) => (g.placement === 'float' && g.seconds <= HERE.seconds ? `p${i}` : ''))
          .filter(Boolean)
          .slice(0, 1)
        expect(shown.filter(floats).map(a => a.key)).toEqual(standing)
        expect(shown.filter(a => !loud(a) && !floats(a))).toEqual(may.filter(a => !loud(a) && !floats(a)))
      }),
    )
  })
})

describe('as a marketer sets it', () => {
  const definition = {
    ...blankDefinition('Card'),
    display: card({
      audience: { all: [{ attribute: 'tag', is: 'equal', value: 'vip' }] },
      moments: [{ kind: 'leaving' }, { kind: 'seconds', n: 5 }],
      period: { from: null, until: null, days: [5, 1], hours: [20, 6] },
    }),
  }
  it('is read as it was written, and refused with the name of what is wrong', () => {
    expect(readDefinition(JSON.parse(JSON.stringify(definition))).definition?.display).toEqual({
      ...definition.display,
      period: { ...definition.display.period, days: [1, 5] },
    })
    const wrong = (change: object) =>
      readDefinition({ ...definition, display: { ...definition.display, ...change } }).flaws.map(f => f.field)
    expect(wrong({ placement: 'everywhere' })).toEqual(['display.placement'])
    expect(wrong({ moments: [{ kind: 'seconds', n: -1 }] })).toEqual(['display.moments.0.n'])
    expect(wrong({ audience: { any: 'all' } })).toEqual(['display.audience.any'])
    expect(wrong({ rest: { closed: 1, answered: null, perVisit: 0 } })).toEqual(['display.rest.perVisit'])
  })
  it('is stopped where it could not show, hinted at where it would be a nuisance, and every way to mend it mends it', () => {
    const around = {
      properties: [{ key: 'email', kind: 'email' as const, label: 'Email', sensitivity: 'ordinary' as const, retired: false }],
      labels: [],
    }
    const ofAppearing = (display: DisplayRules) => checksOf({ ...definition, display }, around).filter(c => c.field.startsWith('display'))
    const bad = card({
      placement: 'over',
      small: true,
      moments: [
        { kind: 'click', what: '#' },
        { kind: 'event', what: ' ' },
      ],
      period: { from: '2026-02-02', until: '2026-02-01', days: [], hours: [7, 7] },
      rest: { closed: 0, answered: null, perVisit: 1 },
    })
    const found = ofAppearing(bad)
    expect(found.map(c => c.level)).toEqual(['stop', 'stop', 'stop', 'stop', 'hint', 'hint'])
    for (const check of found)
      expect(ofAppearing(check.mend!.apply({ ...definition, display: bad }).display).map(c => c.message)).not.toContain(check.message)
    expect(ofAppearing(card({ placement: 'over' })).map(c => c.field)).toEqual(['display.moments'])
    expect(ofAppearing({ ...bad, on: false })).toEqual([])
  })
})
