import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { MOST_TRIES, pauseAfter, stateOf, type Standing } from '#core/deliveries/delivery'
import { failureOf } from '#server/deliveries/mail'
import { howItGoes, standing } from '../../app/utils/deliveries'

describe('what failed', () => {
  it('comes again after pauses that double from 5 s to a quarter of an hour, for about two days', () => {
    const pauses = Array.from({ length: MOST_TRIES }, (_, i) => pauseAfter('later', i + 1))
    expect(pauses.slice(0, 9)).toEqual([5, 10, 20, 40, 80, 160, 320, 640, 900])
    expect(pauses.at(-1)).toBeNull()
    const days = pauses.reduce<number>((sum, p) => sum + (p ?? 0), 0) / 86_400
    expect(days).toBeGreaterThan(1.8)
    expect(days).toBeLessThan(2.2)
  })
  it('is given up at once where it was refused for good', () =>
    fc.assert(fc.property(fc.integer({ min: 1, max: 500 }), tries => pauseAfter('refused', tries) === null)))
  it('was refused for good only where the mail server says so of this mail', () => {
    const error = (code: string, responseCode?: number, response?: string) =>
      Object.assign(new Error(`${code} happened`), { code, responseCode, response })
    expect(failureOf(error('EENVELOPE', 550, '550 No such\r\nuser'))).toEqual({ failure: 'refused', answer: '550 No such user' })
    expect(failureOf(error('EMESSAGE', 452, '452 Full')).failure).toBe('later')
    // A password of ours that is wrong says nothing of whoever should get it.
    expect(failureOf(error('EAUTH', 535, '535 Bad password')).failure).toBe('unreachable')
    expect(failureOf(error('ECONNECTION'))).toEqual({ failure: 'unreachable', answer: 'ECONNECTION happened' })
    expect(failureOf({})).toEqual({ failure: 'unreachable', answer: 'No answer' })
  })
})

const now = Date.parse('2026-11-27T12:00:00Z')
const row = (more: Partial<Standing>): Standing => ({
  channel: 'mail',
  sentAt: null,
  dropped: null,
  leasedUntil: null,
  dueAt: now - 1,
  tries: 0,
  ...more,
})
const view = (more: object) => ({
  id: 'i',
  kind: 'mail' as const,
  state: 'due' as const,
  recipient: 'a@b.example',
  recipientName: null,
  subject: 'S',
  leadId: 'L',
  at: new Date(now).toISOString(),
  dueAt: null,
  sentAt: null,
  triedAt: null,
  tries: 0,
  failure: null,
  answer: null,
  tookMs: null,
  dropped: null,
  ...more,
})

describe('where a delivery stands', () => {
  it.each([
    [{}, 'due'],
    [{ dueAt: now + 1 }, 'later'],
    [{ dueAt: null }, 'unconfirmed'],
    [{ tries: 1, dueAt: now + 1 }, 'held up'],
    [{ tries: 1, leasedUntil: now + 1 }, 'in hand'],
    [{ leasedUntil: now - 1 }, 'due'],
    [{ sentAt: now, tries: 3 }, 'sent'],
    [{ dropped: 'gave up', tries: 3 }, 'given up'],
    [{ dropped: 'unsubscribed' }, 'dropped'],
    [{ channel: 'bell' }, 'bell'],
  ] as [Partial<Standing>, string][])('%o: %s', (more, state) => expect(stateOf(row(more), now)).toBe(state))

  it('is said in sentences', () => {
    const at = (ms: number) => new Date(now + ms).toISOString()
    expect(
      standing(view({ state: 'held up', failure: 'later', answer: '452 Full', tries: 3, triedAt: at(-30_000), dueAt: at(90_000) }), now),
    ).toEqual({ text: 'Just now the mail server asked us to come later: “452 Full”. Tried 3 times. Again in 1 min.', bad: false })
    expect(standing(view({ state: 'sent', sentAt: at(-300_000), tookMs: 8040, answer: '250 OK', tries: 1 }), now).text).toBe(
      '5 min ago, taken in 8 s: “250 OK”.',
    )
    expect(standing(view({ state: 'dropped', dropped: 'unsubscribed' }), now)).toEqual({ text: 'They want no more mail.', bad: false })
  })
  it('and so is how all goes, the worst included', () => {
    const last = {
      sent: { at: new Date(now - 600_000).toISOString(), tookMs: 12 },
      failed: { at: new Date(now - 60_000).toISOString(), answer: 'connect ECONNREFUSED', failure: 'unreachable' as const },
    }
    expect(
      howItGoes({ workerS: 95, last, long: [{ seconds: 70, program: 'pg_dump', database: 'cavlin' }] }, now).map(s => [s.text, s.bad]),
    ).toEqual([
      ['The worker has been silent for 1 min. Nothing goes out until it is back; nothing is lost.', true],
      ['The last try, 1 min ago, failed: “connect ECONNREFUSED”. The last that went out did so 10 min ago.', true],
      ['A transaction has been writing for 1 min (pg_dump, database cavlin). Figures wait until it ends.', true],
    ])
    expect(howItGoes({ workerS: 1, last: { sent: null, failed: null }, long: [] }, now).some(s => s.bad)).toBe(false)
  })
})
