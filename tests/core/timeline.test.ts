import fc from 'fast-check'
import { expect, it } from 'vitest'
import { unpacked, withEntry, type TimelineItem } from '#core/timeline'

const line = (kind: string, at: number, actor: string | null, n: number) => ({ id: `${n}`, lead: 'l', at, kind, actor, payload: { n } }) as unknown as TimelineItem
/** Lines as they are read: the entry's with what is kept with it, and the others. */
function kept(lines: TimelineItem[]): TimelineItem[] {
  const { brought, others } = withEntry(lines)
  const entry = lines.find(l => l.kind === 'entry')
  return entry ? [{ ...entry, payload: { ...entry.payload, ...brought } } as TimelineItem, ...others] : others
}

it('keeps with an entry all lines that it makes, and tells them in the order in which they happened', () => {
  const whole = ['came', 'entry', 'label', 'owner', 'next_step'].map((kind, n) => line(kind, 1, null, n))
  expect(kept(whole)).toHaveLength(1)
  const told = kept(whole).flatMap(unpacked).reverse()
  expect(told.map(l => [l.kind, l.payload])).toEqual(whole.map(l => [l.kind, l.payload]))
  expect(new Set(told.map(l => l.id)).size).toBe(5)
})

it('keeps of the entry’s own line what the entry does not say itself', () => {
  const changed = [{ property: 'town', from: 'Fenwick', to: 'Aldmoor' }]
  const entry = (payload: object) => [{ ...line('entry', 1, null, 1), payload: { entry: 'e', point: 'Visit', edition: 3, page: '/contact', ...payload } }] as TimelineItem[]
  expect(withEntry(entry({ changed, agreed: ['Write to me'] })).brought).toEqual({ changed, agreed: ['Write to me'], also: {} })
  expect(withEntry(entry({ changed: [] })).brought).toEqual({ also: {} })
})

it('loses and changes nothing, whatever came of an entry and when', () => {
  const kinds = fc.constantFrom('came', 'entry', 'label', 'owner', 'next_step', 'note', 'status')
  const items = fc.array(fc.tuple(kinds, fc.nat(1), fc.constantFrom(null, 'tamsin')), { maxLength: 8 }).map(all => all.map(([kind, at, actor], n) => line(kind, at, actor, n)))
  const told = (all: TimelineItem[]) => all.map(l => JSON.stringify([l.lead, l.at, l.kind, l.actor, l.payload])).sort()
  fc.assert(fc.property(items, (all) => {
    const before = structuredClone(all)
    expect(told(kept(all).flatMap(unpacked))).toEqual(told(before))
    expect(all).toEqual(before)
  }))
})
