import { beforeEach, expect, it, vi } from 'vitest'
import { effectScope, ref } from 'vue'
import type { Topics } from '#core/live/topics'
import type { useLive as UseLive } from '../../app/stores/live'
import { asInNuxt } from './as-in-nuxt'

/** Streams as a browser has them, whose other end is in the test's hand. */
class Stream {
  static all: Stream[] = []
  static readonly CLOSED = 2
  readyState = 0
  onmessage = (_: { data: string }) => {}
  onerror = () => {}
  constructor(readonly url: string) {
    Stream.all.push(this)
  }
  addEventListener() {}
  close() {
    this.readyState = 2
  }
  says(what: object) {
    this.onmessage({ data: JSON.stringify(what) })
  }
  hello() {
    this.says({ hello: true })
  }
  get asked() {
    return Object.fromEntries(new URL(this.url, 'http://x').searchParams)
  }
  breaks(refused = false) {
    this.readyState = refused ? 2 : 0
    this.onerror()
  }
}
const last = () => Stream.all.at(-1)!
const open = () => Stream.all.filter(s => s.readyState !== 2)
const soon = (ms = 50) => vi.advanceTimersByTimeAsync(ms)

let live: ReturnType<typeof UseLive>
let heard: string[]
const listen = (name: string, about: Topics | (() => Topics)) => live.hear(about, change => heard.push(`${name} ${JSON.stringify(change)}`))
const session = { me: { id: 'm' } as object | null, ended: false, leave: vi.fn(), look: () => Promise.resolve() }

beforeEach(async () => {
  vi.useFakeTimers()
  Stream.all = []
  heard = []
  Object.assign(session, { me: { id: 'm' }, ended: false, leave: vi.fn() })
  asInNuxt({ EventSource: Stream, useSession: () => session })
  live = (await import('../../app/stores/live')).useLive()
  return () => {
    vi.useRealTimers()
  }
})

it('asks once for what all parts of a screen look at, and tells each what concerns it', async () => {
  live.open()
  listen('list', { leads: true, points: ['a'] })
  listen('bell', { notices: true })
  await soon()
  expect(Stream.all.length).toBe(1)
  expect(last().asked).toMatchObject({ leads: '*', points: 'a', notices: '*' })
  last().hello()
  last().says({ leads: ['1'] })
  last().says({ points: ['a'], notices: ['m'] })
  last().says({ points: ['b'] })
  expect(heard).toEqual(['list {"leads":["1"]}', 'list {"points":["a"],"notices":["m"]}', 'bell {"points":["a"],"notices":["m"]}'])
})

it('changes over without a gap: the old stream is heard until the new one speaks, and what was missed is asked for', async () => {
  live.open()
  const leave = listen('list', { leads: true })
  await soon()
  const first = last()
  first.hello()
  await soon(10_000)
  leave()
  listen('editor', { drafts: ['p'] })
  listen('bar', { leads: true })
  await soon()
  const second = last()
  expect([open().length, second.asked.drafts, Number(second.asked.lately)]).toEqual([2, 'p', expect.closeTo(1_540, -2)])
  first.says({ leads: ['1'] })
  second.hello()
  expect([heard, open()]).toEqual([['bar {"leads":["1"]}'], [second]])
  // Nothing new is looked at: nothing can have been missed.
  leave()
  const narrower = ref(true)
  const scope = effectScope()
  scope.run(() => listen('wide', () => (narrower.value ? { leads: true } : {})))
  narrower.value = false
  await soon()
  expect(last()).toBe(second)
})

it('is asked again for what somebody came to look at while it was still being asked', async () => {
  live.open()
  listen('list', { leads: true })
  await soon()
  last().hello()
  listen('a', { trail: true })
  await soon()
  const second = last()
  listen('b', { review: true })
  await vi.advanceTimersByTimeAsync(10)
  second.hello()
  await soon()
  const third = last()
  expect(third).not.toBe(second)
  expect([third.asked.review, Number(third.asked.lately) > 0]).toEqual(['*', true])
})

it('says that the line is down only when that lasts, and asks for what happened meanwhile', async () => {
  live.open()
  listen('list', { leads: true })
  await soon()
  last().hello()
  await soon(20_000)
  last().says({ leads: ['1'] })
  await soon(3_000)
  last().breaks()
  await soon(1_100)
  expect(live.connected).toBe(true)
  expect(Number(last().asked.lately)).toBeGreaterThan(4_000)
  last().breaks()
  await soon(2_000)
  expect(live.connected).toBe(false)
  last().hello()
  expect([live.connected, open().length]).toEqual([true, 1])
})

it('leads to the sign-in when it is refused because nobody is signed in, and not otherwise', async () => {
  live.open()
  await soon()
  last().breaks(true)
  await soon(1_100)
  expect([session.leave.mock.calls.length, Stream.all.length]).toEqual([0, 2])
  session.me = null
  last().breaks(true)
  await soon(1_100)
  expect([session.leave.mock.calls.length, Stream.all.length]).toEqual([1, 2])
})

it('waits for whoever is asked to sign in again where they are, and leads them nowhere', async () => {
  live.open()
  await soon()
  session.ended = true
  last().breaks(true)
  await soon(1_100)
  expect([session.leave.mock.calls.length, Stream.all.length]).toEqual([0, 1])
})
