import { randomUUID } from 'node:crypto'
import type { Route } from './routes'

/** Chance from a fixed seed (mulberry32), so that what was found once is found again. */
export function chance(seed: number) {
  let a = seed
  const next = () => {
    a = (a + 0x6d2b79f5) | 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  return { next, of: <T>(list: readonly T[]): T => list[Math.floor(next() * list.length)]!, odds: (n: number) => next() < n }
}
export type Dice = ReturnType<typeof chance>

const NAMES = [
  '__proto__',
  'constructor',
  'toString',
  'hasOwnProperty',
  'valueOf',
  '',
  ' ',
  'a'.repeat(300),
  '\u0000',
  '💥',
  '$ref',
  '0',
  'length',
  'then',
]
const deep = (n: number): unknown => {
  let v: unknown = 1
  for (let i = 0; i < n; i++) v = i % 2 ? [v] : { a: v }
  return v
}
const VALUES: ((d: Dice) => unknown)[] = [
  () => null,
  () => true,
  () => 0,
  () => -1,
  () => 1e308,
  () => 2 ** 53,
  () => 1.5,
  () => '',
  () => ' ',
  () => 'x'.repeat(5000),
  () => '\u0000\ud800\uffff',
  () => '<script>',
  () => '{{lead',
  () => '{{#a}}',
  () => [],
  () => ({}),
  () => [null],
  () => [[]],
  () => [{}],
  () => deep(60),
  () => deep(3000),
  () => Array.from({ length: 300 }, () => 'x'),
  () => randomUUID(),
  () => '-'.repeat(36),
  () => '0000-00-00',
  () => '2026-02-30',
  () => '+275760-09-13T00:00:00Z',
  () => 'https://bücher.example/ä\r\nx: y',
  () => 'http://',
  () => 'javascript:alert(1)',
  () => '::1',
  () => '#12345g',
  d => ({ [d.of(NAMES)]: d.of([1, {}, [], null]) }),
  () => ({ attribute: 'toString', is: 'filled' }),
  () => ({ did: 'page', where: { attribute: 'constructor', is: 'equal', value: 1 }, times: 1, days: null }),
  () => ({ all: [{ any: [{ none: [] }] }] }),
]

/** A value with something in it that is not as it should be. */
export function spoilt(value: unknown, d: Dice, depth = 0): unknown {
  if (d.odds(depth ? 0.25 : 0.08)) return d.of(VALUES)(d)
  if (Array.isArray(value)) {
    const copy = [...value]
    if (!copy.length || d.odds(0.2)) copy.push(d.of(VALUES)(d))
    const i = Math.floor(d.next() * copy.length)
    copy[i] = spoilt(copy[i], d, depth + 1)
    return copy
  }
  if (typeof value !== 'object' || value === null) return d.of(VALUES)(d)
  const copy: Record<string, unknown> = { ...value }
  const keys = Object.keys(copy)
  if (!keys.length || d.odds(0.15))
    Object.defineProperty(copy, d.of(NAMES), { value: d.of(VALUES)(d), enumerable: true, configurable: true, writable: true })
  else if (d.odds(0.15)) delete copy[d.of(keys)]
  else {
    const key = d.of(keys)
    copy[key] = spoilt(copy[key], d, depth + 1)
  }
  return copy
}

const PARTS = [
  '',
  '%00',
  '%ff',
  '%',
  '..',
  '../..',
  'x'.repeat(2000),
  '-'.repeat(36),
  '0'.repeat(36),
  encodeURIComponent('💥'),
  'null',
  'constructor',
  '__proto__',
  '1;drop',
  '%0d%0aset-cookie:a=b',
]
const QUERIES = [
  'limit',
  'cursor',
  'from',
  'size',
  'sort',
  'order',
  'label',
  'owner',
  'status',
  'tag',
  'search',
  'email',
  'waiting',
  'list',
  'segment',
  'submitted',
  'days',
  'cavlin',
  'frame',
  'e',
  'kind',
  '__proto__',
  'constructor',
  '',
]
const QUERY_VALUES = [
  '',
  '0',
  '-1',
  '1e9',
  'x',
  '%00',
  '%ff%fe',
  '-'.repeat(36),
  'true',
  'yes',
  'a'.repeat(3000),
  Buffer.from('0000-01-01T00:00:00.000000Z 01930000-0000-7000-8000-000000000000').toString('base64url'),
  Buffer.from(`2026-01-01T00:00:00.000000Z ${'-'.repeat(36)}`).toString('base64url'),
  'toString',
  '%F0%9F%92%A5',
  '1.2.3',
]

export interface Malformed {
  method: string
  path: string
  headers: Record<string, string>
  body: string | Buffer | null
  /** Fewer bytes come than were announced. */
  breaksOff: boolean
}

/** A request to a route that somebody wrote who means no good, or cannot do better. @param good bodies that the route would take */
export function malformed(route: Route, good: unknown[], ids: string[], d: Dice): Malformed {
  const path = route.path.replace(/\{\w+\}/g, () => (d.odds(0.5) ? encodeURIComponent(d.of([...ids, randomUUID()])) : d.of(PARTS)))
  const query = d.odds(0.4)
    ? `?${Array.from({ length: 1 + Math.floor(d.next() * 4) }, () => `${d.of(QUERIES)}=${d.of(QUERY_VALUES)}`).join('&')}`
    : ''
  const headers: Record<string, string> = {
    'x-forwarded-for': d.odds(0.05)
      ? d.of(['', 'x', '::', '1.2.3', ', ,', '[::1]:80'])
      : `10.${Math.floor(d.next() * 256)}.${Math.floor(d.next() * 256)}.${Math.floor(d.next() * 256)}`,
  }
  if (d.odds(0.2)) headers['idempotency-key'] = d.of(['k', 'x'.repeat(300), '\u00e9', ' ', 'a b'])
  if (d.odds(0.2)) headers.accept = d.of(['text/html', '*/*', 'nonsense', ''])
  if (d.odds(0.1)) headers.origin = d.of(['null', 'x', 'https://evil.example'])
  if (d.odds(0.1)) headers.range = 'bytes=5-2'
  if (route.method === 'GET' || d.odds(0.03)) return { method: route.method, path: path + query, headers, body: null, breaksOff: false }
  const { type, body } = bodyOf(good, d)
  if (type) headers['content-type'] = type
  return { method: route.method, path: path + query, headers, body, breaksOff: d.odds(0.02) }
}

function bodyOf(good: unknown[], d: Dice): { type: string; body: string | Buffer } {
  const value = spoilt(good.length ? d.of(good) : {}, d)
  const json = () => (value === undefined ? '' : (JSON.stringify(value) ?? ''))
  switch (Math.floor(d.next() * 10)) {
    case 0:
      return {
        type: 'application/json',
        body: d.of([
          '',
          '{',
          '[',
          'null',
          '"',
          '{"a":}',
          '[[[[',
          '\ufeff{}',
          '{"a":1}}',
          `${'['.repeat(3000)}${']'.repeat(3000)}`,
          'NaN',
          '1e999',
        ]),
      }
    case 1:
      return {
        type: 'application/x-www-form-urlencoded',
        body: d.of([
          '',
          '=',
          '&&&',
          'a=%',
          'a=%ff',
          '__proto__=1&constructor=2',
          `email=${'x'.repeat(70_000)}`,
          'email=a&email=b',
          '%00=%00',
          'at=99999999999999',
          'at=-1',
          ...Object.entries((value ?? {}) as object).map(
            ([k, v]) =>
              `${k}=${encodeURIComponent((typeof v === 'object' ? 'x' : String(v)).slice(0, 200).replace(/[\ud800-\udfff]/g, ''))}`,
          ),
        ]),
      }
    case 2:
      return multipart(d)
    case 3:
      return {
        type: d.of([
          'text/plain',
          '',
          'application/json; charset=utf-16',
          'application/xml',
          'multipart/form-data',
          'multipart/form-data; boundary=',
          'x',
        ]),
        body: json(),
      }
    case 4:
      return { type: 'application/json', body: Buffer.from([0x7b, 0x22, 0xff, 0xfe, 0x22, 0x3a, 0x31, 0x7d]) }
    default:
      return { type: 'application/json', body: json() }
  }
}

function multipart(d: Dice): { type: string; body: string } {
  const part = () =>
    d.of([
      'Content-Disposition: form-data; name="a"\r\n\r\n1',
      'Content-Disposition: form-data\r\n\r\n1',
      'Content-Disposition: form-data; name=""\r\n\r\n1',
      '\r\n1',
      'Content-Disposition: attachment\r\n\r\n1',
      'Content-Disposition: form-data; name="file"; filename="x.png"\r\nContent-Type: image/png\r\n\r\n\u0089PNG',
      'Content-Disposition: form-data; filename="x.png"\r\n\r\nx',
      'Content-Disposition: form-data; name="__proto__"; filename="a"\r\n\r\nx',
      'Content-Disposition: form-data; name="_entry"\r\n\r\n{"answers":{"constructor":{}}}',
      `Content-Disposition: form-data; name="${'n'.repeat(500)}"\r\n\r\n1`,
      'Content-Disposition: form-data; name="file"; filename="../../etc/passwd"\r\n\r\nroot',
      'nonsense',
    ])
  const parts = Array.from({ length: 1 + Math.floor(d.next() * 3) }, part)
    .map(p => `--b\r\n${p}\r\n`)
    .join('')
  return {
    type: `multipart/form-data; boundary=${d.of(['b', 'b', 'b', 'c', '"b"'])}`,
    body:
      parts +
      d.of([
        '--b--\r\n',
        '--b--\r\n',
        '--b',
        '',
        '--b\r\nContent-Disposition: form-data; name="file"; filename="cut.png"\r\n\r\nhalf of it',
      ]),
  }
}
