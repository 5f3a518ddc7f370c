import fc from 'fast-check'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { formFields } from '#server/capture/posted'
import { microBatcher, gotInTheWay, TooLong } from '#server/ingest/micro-batcher'
import { readUtm } from '#server/capture/receive'
import { readCursor, writeCursor } from '#server/follow-up/cursor'
import { newId } from '#server/ids'
import { noticeBodies } from '#server/deliveries/member-mail'
import { network } from '#server/limits'
import { merge } from '#server/live/say'
import { knownByKey } from '#server/trail/known'
import { hashPassword, verifyPassword } from '#server/passwords'
import { q } from '../support/forms'
import { ago, due, workingTime } from '../../app/utils/words'

afterEach(() => vi.useRealTimers())

describe('gathering', () => {
  it('works on one batch at a time, on everything once, and gives each caller their own result', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.nat(3), { minLength: 1, maxLength: 60 }), async pauses => {
        let atOnce = 0
        let most = 0
        const seen: number[] = []
        const ask = microBatcher<number, string>(
          async items => {
            most = Math.max(most, ++atOnce, items.length > 8 ? Infinity : 0)
            seen.push(...items)
            await new Promise(r => setImmediate(r))
            atOnce--
            return items.map(String)
          },
          { mayRepeat: () => false, most: 8 },
        )
        const results = await Promise.all(
          pauses.map(async (pause, i) => {
            for (let n = 0; n < pause; n++) await new Promise(r => setImmediate(r))
            return ask(i)
          }),
        )
        expect(results).toEqual(pauses.map((_, i) => String(i)))
        expect(seen.sort((a, b) => a - b)).toEqual(pauses.map((_, i) => i))
        expect(most).toBe(1)
      }),
      { numRuns: 40 },
    )
  })
  it('begins with half of a crowd that it has just served, and lets the other half join', async () => {
    const sizes: [number, number][] = []
    const ask = microBatcher<number, string>(
      async (items, more) => {
        const late = await more()
        sizes.push([items.length, late.length])
        await new Promise(r => setTimeout(r, 2))
        return [...items, ...late].map(String)
      },
      { mayRepeat: () => false },
    )
    await Promise.all(
      Array.from({ length: 16 }, async (_, i) => {
        for (let n = 0; n < 10; n++) {
          // One after the other, as requests come.
          for (let k = 0; k < 2 * i; k++) await new Promise(r => setImmediate(r))
          expect(await ask(100 * i + n)).toBe(String(100 * i + n))
        }
      }),
    )
    expect(sizes.reduce((sum, [first, late]) => sum + first + late, 0)).toBe(160)
    // All but a few, since a busy machine may keep some longer than others wait.
    expect(sizes.slice(2, -2).filter(([first, late]) => first >= 7 && first <= 9 && first + late >= 15).length).toBeGreaterThanOrEqual(5)
  })
  it('repeats with those who joined, and asks for no more', async () => {
    // Nobody's patience ends, however slow the machine.
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] })
    const pause = () => new Promise(r => setImmediate(r))
    const seen: number[][] = []
    const ask = microBatcher<number, number>(
      async (items, more) => {
        const all = [...items, ...(await more())]
        seen.push(all)
        if (seen.length === 2) throw Object.assign(new Error('met somebody'), { code: '23505' })
        await pause()
        return all
      },
      { mayRepeat: gotInTheWay },
    )
    expect(await Promise.all([1, 2, 3, 4].map(n => ask(n)))).toEqual([1, 2, 3, 4])
    // The same four come back: two begin, two join.
    const again = [5, 6].map(n => ask(n))
    await pause()
    expect(await Promise.all([...again, ...[7, 8].map(n => ask(n))])).toEqual([5, 6, 7, 8])
    expect(seen).toEqual([
      [1, 2, 3, 4],
      [5, 6, 7, 8],
      [5, 6, 7, 8],
    ])
  })
  it('tries again what got in the way, and only that', async () => {
    let tries = 0
    const stubborn = microBatcher<string, string>(
      async items => {
        if (++tries < 3) throw Object.assign(new Error('met somebody'), { code: '23505' })
        return items
      },
      { mayRepeat: gotInTheWay },
    )
    expect(await stubborn('a')).toBe('a')
    expect(tries).toBe(3)
    let calls = 0
    const broken = microBatcher<string, string>(
      async () => {
        calls++
        throw new Error('full')
      },
      { mayRepeat: gotInTheWay },
    )
    await expect(broken('a')).rejects.toThrow('full')
    expect(calls).toBe(1)
    await expect(broken('b')).rejects.toThrow('full')
  })
  it('fails all at once when nobody can help, and drops what nobody waits for any more', async () => {
    vi.useRealTimers()
    let calls = 0
    let open = () => {}
    const gate = new Promise<void>(done => (open = done))
    const away = microBatcher<number, number>(
      async () => {
        calls++
        await gate
        throw new Error('away')
      },
      { mayRepeat: () => false, isHopeless: () => true, patience: 40 },
    )
    const first = [1, 2, 3].map(n => away(n))
    await new Promise(r => setTimeout(r, 5))
    const late = [4, 5].map(n => away(n))
    await new Promise(r => setTimeout(r, 60))
    open()
    expect((await Promise.allSettled(first)).map(r => r.status === 'rejected' && (r.reason as Error).message)).toEqual([
      'away',
      'away',
      'away',
    ])
    for (const one of await Promise.allSettled(late)) expect(one.status === 'rejected' && one.reason).toBeInstanceOf(TooLong)
    expect(calls).toBe(1)
  })
})

it('makes ids that sort in the order they were made, also within a millisecond', () => {
  const at = Date.parse('2026-11-24T10:00:00Z')
  const ids = [...Array.from({ length: 500 }, () => newId(at)), ...Array.from({ length: 500 }, () => newId(at + 1))]
  expect(new Set(ids).size).toBe(1000)
  expect([...ids].sort()).toEqual(ids)
})

describe('what comes over the wire', () => {
  it('counts one household as one sender, in either writing of an address', () => {
    expect(network('203.0.113.9')).toBe(network('::ffff:203.0.113.9'))
    expect(network('2001:db8:1:2:3:4:5:6')).toBe(network('2001:db8:1:2:ffff::1'))
    expect(network('2001:db8:1:2::1')).not.toBe(network('2001:db8:1:3::1'))
    expect(network('unknown')).toBe('unknown')
  })
  it('reads forms as browsers send them, whatever is typed', () => {
    const name = fc.stringMatching(/^[a-z][a-z0-9_]{0,9}$/)
    fc.assert(
      fc.property(fc.dictionary(name, fc.string({ unit: 'grapheme' })), typed => {
        const body = new URLSearchParams(Object.entries(typed).map(([k, v]) => [k, v.replace(/\r\n|\r|\n/g, '\r\n')])).toString()
        const { fields, flaws } = formFields(new URLSearchParams(`${body}&_key=k&_page=p`))
        expect(flaws).toEqual([])
        expect(fields).toEqual(Object.fromEntries(Object.entries(typed).map(([k, v]) => [k, v.replace(/\r\n|\r/g, '\n')])))
      }),
    )
    expect(formFields(new URLSearchParams('_key=k&_page=https%3A%2F%2Fx.example')).unseen).toEqual({
      _key: 'k',
      _page: 'https://x.example',
    })
    expect(formFields(new URLSearchParams('__proto__=1&constructor=2')).fields.constructor).toBe('2')
    expect(formFields(new URLSearchParams('a=1&a=2')).flaws[0]!.field).toBe('answers.a')
    expect(formFields(new URLSearchParams(Array.from({ length: 300 }, (_, i) => `f${i}`).join('&'))).flaws).toHaveLength(1)
  })
  it('reads UTM parameters with or without the prefix, within bounds', () => {
    expect(readUtm({ utm_source: 'fair', medium: 'print', campaign: '' })).toEqual({ utm: { source: 'fair', medium: 'print' }, flaws: [] })
    expect(readUtm({ 'Bad Name': 'x', source: 'y'.repeat(501) }).flaws).toHaveLength(2)
    expect(readUtm(Object.fromEntries(Array.from({ length: 21 }, (_, i) => [`p${i}`, 'x']))).flaws).toHaveLength(1)
  })
  it('carries a place in a list unchanged, and refuses one that was tampered with', () => {
    const cursor = { at: '2026-11-24T10:00:00.123456Z', id: newId() }
    expect(readCursor(writeCursor(cursor))).toEqual(cursor)
    expect(readCursor(undefined)).toBeNull()
    fc.assert(
      fc.property(fc.string(), text => {
        expect(() => readCursor(text)).toThrow()
      }),
    )
    expect(() => readCursor(writeCursor({ ...cursor, at: '2026-99-99T10:00:00.123456Z' }))).toThrow()
  })
})

it('joins changes without losing or doubling any', () => {
  expect(merge(merge(null, { leads: ['a', 'b'], jobs: true }), { leads: ['b', 'c'], notices: ['m'], segments: true })).toEqual({
    leads: ['a', 'b', 'c'],
    notices: ['m'],
    segments: true,
    jobs: true,
  })
  expect(merge({ drafts: ['a'], out: ['1'] }, { drafts: ['a', 'b'], out: ['2'], deliveries: true })).toEqual({
    drafts: ['a', 'b'],
    deliveries: true,
    out: ['1', '2'],
  })
  expect(merge({ leads: ['a'] }, { leads: true })).toEqual({ leads: true })
  expect(merge(null, {})).toEqual({})
})

it('writes mails in which nothing that was typed is markup', () => {
  const typed = '<img src=x onerror=alert(1)> & "so"\nsecond line'
  const mail = {
    subject: 's',
    leadId: 'L',
    listId: null,
    leadEmail: 'a@b.example',
    label: 'Warming',
    body: `${typed} is new`,
    lines: null,
    answers: { said: typed, mail: 'a@b.example' },
    questions: [q('said', 'long_text', { label: typed }), q('mail', 'email', { label: 'E-mail' })],
  }
  const { text, html } = noticeBodies(mail, 'https://cavlin.example')
  expect(html).not.toContain('<img')
  expect(html).toContain('&#60;img src=x')
  expect(text).toContain(typed)
  expect(text.match(/a@b\.example/g)).toHaveLength(1)
  expect(text).toContain('Open: https://cavlin.example/follow-up/leads/L')
})

it('keeps of a password only what tells the right one, each time another', async () => {
  const [a, b] = await Promise.all([hashPassword('ridge and furrow'), hashPassword('ridge and furrow')])
  expect(a).not.toBe(b)
  expect(a).toMatch(/^\$scrypt\$/)
  expect(await verifyPassword(a, 'ridge and furrow')).toBe(true)
  expect(await verifyPassword(a, 'ridge and Furrow')).toBe(false)
})

it('says times as people do', () => {
  const now = new Date(2026, 10, 24, 12, 0).getTime()
  const at = (day: number, hour: number, minute = 0) => new Date(2026, 10, day, hour, minute).toISOString()
  expect(
    [at(24, 12), at(24, 11, 48), at(24, 8), at(23, 14, 5), at(3, 14, 5), new Date(2025, 1, 3).toISOString()].map(t => ago(t, now)),
  ).toEqual(['just now', '12 min ago', 'today 08:00', 'yesterday 14:05', '3 Nov 14:05', '3 Feb 2025'])
  expect([at(24, 14), at(25, 9), at(23, 9), at(27, 9)].map(t => due(t, now))).toEqual([
    'today 14:00',
    'tomorrow 09:00',
    'yesterday 09:00',
    'Fri 27 Nov 09:00',
  ])
  expect([-5, 40, 60, 1199, 1200, 6000].map(m => workingTime(m, 10))).toEqual(['0 min', '40 min', '1 h', '19 h', '2 days', '10 days'])
})

describe('what keys stand for', () => {
  it('is told whole, whatever is forgotten while one of them is asked for, and asked for anew after that', async () => {
    const asked: string[] = []
    const known = knownByKey<string>(async key => {
      asked.push(key)
      if (key === 'slow') known.forget()
      return key === 'nobody' ? null : key.toUpperCase()
    })
    expect([...(await known.of(['a', 'slow', 'nobody', 'b']))]).toEqual([
      ['a', 'A'],
      ['slow', 'SLOW'],
      ['b', 'B'],
    ])
    asked.length = 0
    expect([...(await known.of(['a', 'b', 'nobody']))]).toEqual([
      ['a', 'A'],
      ['b', 'B'],
    ])
    expect(asked).toEqual(['a'])
  })
})
