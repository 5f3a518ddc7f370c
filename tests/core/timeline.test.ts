import fc from 'fast-check'
import { expect, it } from 'vitest'
import { packed, unpacked, type TimelineItem } from '#core/timeline'

const line = (kind: string, at: number, actor: string | null, n: number) => ({ id: `${n}`, lead: 'l', at, kind, actor, payload: { n } }) as unknown as TimelineItem

it('keeps all lines of an entry in fewer, and tells them in the order in which they happened', () => {
  const whole = ['came', 'entry', 'label', 'owner', 'next_step'].map((kind, n) => line(kind, 1, null, n))
  const kept = packed(whole)
  expect(kept).toHaveLength(1)
  const told = kept.flatMap(unpacked).reverse()
  expect(told.map(l => [l.kind, l.payload])).toEqual(whole.map(l => [l.kind, l.payload]))
  expect(new Set(told.map(l => l.id)).size).toBe(5)
})

it('loses and changes nothing, whatever came of an entry and when', () => {
  const kinds = fc.constantFrom('came', 'entry', 'label', 'owner', 'next_step', 'note', 'status')
  const items = fc.array(fc.tuple(kinds, fc.nat(1), fc.constantFrom(null, 'tamsin')), { maxLength: 8 }).map(all => all.map(([kind, at, actor], n) => line(kind, at, actor, n)))
  const told = (all: TimelineItem[]) => all.map(l => JSON.stringify([l.lead, l.at, l.kind, l.actor, l.payload])).sort()
  fc.assert(fc.property(items, (all) => {
    const before = structuredClone(all)
    expect(told(packed(all).flatMap(unpacked))).toEqual(told(before))
    expect(all).toEqual(before)
  }))
})
