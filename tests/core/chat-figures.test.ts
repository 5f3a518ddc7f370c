import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { flowLosses, talkFigures, type TalkRow } from '#core/chat/figures'
import { CHAT_STARTERS } from '#core/chat/starters'

const MINUTE = 60_000
const NOW = Date.UTC(2026, 10, 29, 12)
const when = (at: number) => ({ day: new Date(at).toISOString().slice(0, 10), hour: new Date(at).getUTCHours() })
const row = (id: string, more: Partial<TalkRow> = {}): TalkRow => ({
  id,
  began: NOW - 60 * MINUTE,
  by: 'tab',
  member: null,
  asked: null,
  due: null,
  answered: null,
  ended: null,
  last: NOW,
  state: 'flow',
  rating: null,
  way: [],
  ...more,
})
const handed = (id: string, minutes: number | null, promised = 10): TalkRow =>
  row(id, {
    asked: NOW - 50 * MINUTE,
    due: NOW + (promised - 50) * MINUTE,
    ...(minutes !== null && { answered: NOW + (minutes - 50) * MINUTE, member: 'm' }),
    state: minutes === null ? 'waiting' : 'talking',
  })

describe('figures of conversations', () => {
  it('count who was handed over, answered, and within the promise; the median of two is between them', () => {
    const f = talkFigures(
      [
        handed('a', 4),
        handed('b', 8),
        handed('c', 30),
        handed('d', null),
        handed('e', null, 80),
        row('f', { state: 'ended', ended: NOW }),
        row('g'),
      ],
      NOW,
      when,
    )
    expect(f).toMatchObject({
      handed: ['a', 'b', 'c', 'd', 'e'],
      answered: ['a', 'b', 'c'],
      kept: ['a', 'b'],
      promised: ['a', 'b', 'c', 'd'],
      flowAlone: ['f'],
      firstReply: 8,
    })
    expect(talkFigures([handed('a', 4), handed('b', 8)], NOW, when).firstReply).toBe(6)
    expect(talkFigures([], NOW, when).firstReply).toBeNull()
  })
  it('take whom we spoke to first for nobody who asked', () => {
    const f = talkFigures([row('a', { by: 'member', asked: NOW, answered: NOW, member: 'm', state: 'ended', ended: NOW })], NOW, when)
    expect([f.handed, f.flowAlone, f.firstReply, f.byMember.get('m')]).toEqual([[], [], null, ['a']])
  })
  it('have each conversation once by day, by hour and by how it began', () => {
    fc.assert(
      fc.property(
        fc.array(fc.record({ began: fc.integer({ min: 0, max: NOW }), by: fc.constantFrom('tab', 'greeting', 'member') }), {
          maxLength: 40,
        }),
        all => {
          const rows = all.map((r, i) => row(String(i), r))
          const f = talkFigures(rows, NOW, when)
          const ids = rows.map(r => r.id).sort()
          for (const parts of [[...f.byDay.values()], f.byHour, [...f.byBegan.values()]]) expect(parts.flat().sort()).toEqual(ids)
        },
      ),
    )
  })
})

describe('where a flow loses people', () => {
  const { flow } = CHAT_STARTERS[0]!.definition.chat!
  const losses = (rows: TalkRow[]) =>
    Object.fromEntries([...flowLosses(flow, rows, NOW)].map(([key, { came, left }]) => [key, [came, left]]))
  it('is where something waited and nobody came back, not where one of us was asked for, or is waited for still', () => {
    const gone = NOW - 31 * MINUTE
    const found = losses([
      row('left', { way: ['hello', 'what'], last: gone }),
      row('there', { way: ['hello', 'what'], last: NOW - MINUTE }),
      row('over', { way: ['hello', 'what', 'by'], state: 'ended', ended: NOW }),
      row('handed', {
        way: ['hello', 'what', 'by', 'first_name', 'email', 'take_in', 'person'],
        asked: gone,
        state: 'waiting',
        last: gone,
      }),
    ])
    expect(found.what).toEqual([['left', 'there', 'over', 'handed'], ['left']])
    expect(found.by).toEqual([['over', 'handed'], ['over']])
    expect(found.person).toEqual([['handed'], []])
  })
})
