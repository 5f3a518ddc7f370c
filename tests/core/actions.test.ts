import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { actionOf, actionsOf, addedAction, changedAction, withoutAction, withTheAction } from '#core/actions/edit'
import { ACTION_KINDS, flawsOf, inSentences } from '#core/actions/registry'
import { ACTION_SHAPES, type Action, type ActionName } from '#core/actions/shapes'
import { property } from '#core/actions/kinds/property/action'
import { blankLead } from '#core/leads/book'
import { blankDefinition, blankQuestion, type PointDefinition } from '#core/points/definition'
import { readDefinition } from '#core/points/shapes/definition'
import { fitsKind, isSettable } from '#core/properties/fits'
import { PROPERTY_KINDS, type PropertyKind, type PropertyValue } from '#core/properties/kinds'
import { complete, read } from '#core/shapes'

const NAMES = {
  label: (k: string) => `L ${k}`,
  property: (k: string) => `P ${k}`,
  member: (k: string) => `M ${k}`,
  list: (k: string) => `on ${k}`,
  value: (_: string, v: PropertyValue) => [v].flat().join('+'),
}
const ID = '01930000-0000-7000-8000-0000000000aa'
/** One of each kind, as it comes from outside with what may be left out left out. */
const EACH: Record<ActionName, object> = {
  label: { label: 'warming' },
  tag: { tags: ['a', 'b'] },
  list: { lists: [ID] },
  property: { property: 'size', value: 'large' },
  owner: { owner: ID },
  next_step: { text: 'Call', days: 2 },
  tell: { members: [ID], subject: 'S', text: '' },
  mail: { subject: 'S {{lead.name}}', text: 'T', days: 0 },
}
const each = Object.entries(EACH).map(([kind, says]) => ({ key: kind, kind, ...says }))

describe('each kind of action', () => {
  it('has a shape, a doing and a sentence, under one name', () => {
    expect(Object.keys(ACTION_KINDS).sort()).toEqual(Object.keys(ACTION_SHAPES).sort())
    const { definition } = readDefinition({ ...blankDefinition('T'), actions: each })
    const said = inSentences(definition!.actions, NAMES)
    expect(new Set(said).size).toBe(each.length)
    for (const sentence of said) expect(sentence).toMatch(/^(is|gets|has|goes|M) /)
  })
  it.each(each.map(a => [a.kind, a] as const))(
    'is read from outside with what may be left out, and not with anything else: %s',
    (kind, action) => {
      const shape = ACTION_SHAPES[kind as ActionName]
      const { value } = read<Action>(shape as never, action)
      expect(value).toMatchObject(action)
      // Read once more, it is the same; and what was stored reads the same without a check.
      expect(read<Action>(shape as never, structuredClone(value)).value).toEqual(value)
      expect(complete<Action>(shape as never, structuredClone(action))).toEqual(value)
      expect(read<Action>(shape as never, { ...action, else: 1 }).flaws.map(f => f.field)).toEqual(['else'])
      expect(read<Action>(shape as never, { ...action, key: 'Not a key' }).flaws.map(f => f.field)).toEqual(['key'])
    },
  )
})

describe('a list of actions', () => {
  const empty = { actions: [] as Action[] }
  it('gives each a key of its own, keeps their order, and changes none but the one that is meant', () =>
    fc.assert(
      fc.property(fc.array(fc.constantFrom<ActionName>('tag', 'tell', 'mail')), kinds => {
        const doing = kinds.reduce((d, kind) => addedAction(d, kind, EACH[kind] as never), empty)
        expect(new Set(doing.actions.map(a => a.key)).size).toBe(kinds.length)
        expect(doing.actions.map(a => a.kind)).toEqual(kinds)
        for (const { key } of doing.actions) {
          expect(withoutAction(key)(doing).actions).toEqual(doing.actions.filter(a => a.key !== key))
          expect(
            changedAction(key, { text: 'other' } as never)(doing)
              .actions.filter(a => (a as { text?: string }).text === 'other')
              .map(a => a.key),
          ).toEqual([key])
        }
      }),
    ))
  it('has at most one of what there is one of', () => {
    const once = withTheAction(empty, 'owner', { owner: ID })
    const twice = withTheAction(once, 'owner', { owner: 'other' })
    expect([actionsOf(twice, 'owner'), actionOf(withTheAction(twice, 'owner', null), 'owner')]).toEqual([
      [{ key: 'owner', kind: 'owner', owner: 'other' }],
      undefined,
    ])
    expect(withTheAction(empty, 'owner', null)).toBe(empty)
  })
})

describe('setting a property', () => {
  const lead = (size?: PropertyValue) => ({ ...blankLead(ID, null, 'new', 0), properties: size === undefined ? {} : { size } })
  const set = (
    value: PropertyValue,
    onKnown: 'replace' | 'fill' | 'add',
    known: 'new' | 'update' | 'fill' | 'leave',
    before?: PropertyValue,
  ) => {
    const [step, changed] = [{ lead: lead(before) }, [] as object[]]
    property.act({ key: 'p', kind: 'property', property: 'size', value, onKnown }, { step, known, changed } as never)
    return [step.lead.properties.size, changed]
  }
  it('fills a gap without a word, and says what stood there before', () => {
    expect(set('large', 'replace', 'new')).toEqual(['large', []])
    expect(set('large', 'replace', 'update', 'small')).toEqual(['large', [{ property: 'size', from: 'small', to: 'large' }]])
    expect(set('large', 'fill', 'update', 'small')).toEqual(['small', []])
    expect(set(['b'], 'add', 'update', ['a'])).toEqual([['a', 'b'], [{ property: 'size', from: 'a', to: 'a, b' }]])
  })
  it('changes nothing of people whom the point leaves as they are', () => {
    expect(set('large', 'replace', 'leave', 'small')).toEqual(['small', []])
    expect(set('large', 'replace', 'fill', 'small')).toEqual(['small', []])
    expect(set('large', 'replace', 'fill')).toEqual(['large', []])
  })
  it('does not go live with what the property cannot be, or with a question for the same', () => {
    const around = {
      labels: [],
      properties: PROPERTY_KINDS.map(kind => ({
        key: kind,
        kind,
        label: kind,
        sensitivity: 'ordinary' as const,
        retired: kind === 'long_text',
      })),
    }
    const flaws = (propertyKey: string, value: PropertyValue, change: (d: PointDefinition) => void = () => {}) => {
      const d = addedAction(blankDefinition('T'), 'property', { property: propertyKey, value, onKnown: 'replace' })
      change(d)
      return flawsOf(d, around).map(f => f.field)
    }
    expect([
      flaws('number', '12.5'),
      flaws('date', '2026-04-18'),
      flaws('yes_no', 'yes'),
      flaws('country', 'FR'),
      flaws('some_of', ['a']),
    ]).toEqual([[], [], [], [], []])
    expect([
      flaws('number', 'many'),
      flaws('date', 'soon'),
      flaws('yes_no', 'maybe'),
      flaws('country', 'XX'),
      flaws('some_of', []),
      flaws('short_text', ' '),
    ]).toEqual(Array(6).fill(['actions.0.value']))
    expect([flaws('gone', 'x'), flaws('email', 'a@b.example'), flaws('long_text', 'x'), flaws('file', 'x')]).toEqual(
      Array(4).fill(['actions.0.property']),
    )
    expect(
      flaws('number', '1', d => {
        d.questions.push(blankQuestion({ key: 'n', kind: 'number', label: 'N', property: 'number' }))
      }),
    ).toEqual(['actions.0.property'])
  })
  it('takes no value that its kind does not have', () =>
    fc.assert(fc.property(fc.constantFrom<PropertyKind>(...PROPERTY_KINDS.filter(isSettable)), kind => fitsKind(kind, '') === false)))
})
