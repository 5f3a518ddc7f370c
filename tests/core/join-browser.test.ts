import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { joinBrowser, type Span } from '#core/leads/join-browser'

let count = 0
const newId = () => `span ${++count}`
const names = fc.array(
  fc.record({ lead: fc.constantFrom('ada', 'bo', 'cy'), after: fc.integer({ min: 0, max: 50 }), parted: fc.boolean() }),
  { maxLength: 12 },
)
const at = (spans: Span[], moment: number) => spans.filter(s => s.undone === null && moment >= s.since && moment < s.until)

describe('whose a browser is', () => {
  it('is one person at any moment, whoever says that it is theirs, and from the beginning the first', () => {
    fc.assert(
      fc.property(names, said => {
        const spans: Span[] = []
        let now = 0
        for (const { lead, after, parted } of said) {
          now += after
          joinBrowser(spans, 'b', lead, now, newId)
          expect(at(spans, now + 1e9).map(s => s.lead)).toEqual([lead])
          // Somebody says that it is not theirs; then it is nobody's, until the next one says so.
          const theirs = spans.find(s => s.until === Infinity && s.undone === null)!
          if (parted) theirs.undone = now
        }
        for (let moment = -10; moment < now + 10; moment++) expect(at(spans, moment).length).toBeLessThanOrEqual(1)
        if (said.length && !said.some(s => s.parted)) expect(at(spans, -1e9).map(s => s.lead)).toEqual([said[0]!.lead])
      }),
    )
  })
  it('changes nothing when it is theirs already, and ends the time of who was before', () => {
    const spans: Span[] = []
    expect(joinBrowser(spans, 'b', 'ada', 5, newId)).toMatchObject({
      ends: null,
      begins: { lead: 'ada', since: -Infinity, until: Infinity },
    })
    expect(joinBrowser(spans, 'b', 'ada', 9, newId)).toEqual({ ends: null, begins: null })
    expect(joinBrowser(spans, 'b', 'bo', 12, newId)).toMatchObject({ ends: { lead: 'ada', until: 12 }, begins: { lead: 'bo', since: 12 } })
  })
})
