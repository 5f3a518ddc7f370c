import type { EventHandler, H3Event } from 'h3'
import { describe, expect, it, vi } from 'vitest'
import { demo, send, signedIn, somebody } from '../support/house'
import { form } from '../support/forms'

const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(demo().url + path, { redirect: 'manual', headers: { accept: 'text/html', ...headers } })
const policy = (answer: Response) =>
  Object.fromEntries(
    (answer.headers.get('content-security-policy') ?? '').split('; ').map(d => [d.split(' ')[0], d.split(' ').slice(1)]),
  ) as Record<string, string[]>

it('tells machines what they may look at', async () => {
  const answer = await fetch(`${demo().url}/robots.txt`)
  expect([answer.status, answer.headers.get('content-type')]).toEqual([200, 'text/plain; charset=utf-8'])
  expect(await answer.text()).toMatch(/^User-agent: \*\nAllow: \/p\/\n[\s\S]*Disallow: \/\n$/)
})

it('keeps a quiet connection longer than a proxy in front of us does', async () => {
  expect((await fetch(`${demo().url}/health`)).headers.get('keep-alive')).toBe('timeout=75')
})

describe('everything that we send', () => {
  it.each([
    '/',
    '/sign-in',
    '/follow-up/leads/x',
    '/icon.svg',
    '/theme.js',
    '/w/cavlin.js',
    '/w/site',
    '/w/points/form_journal',
    '/w/nothing',
    '/p/journal',
    '/p/nothing',
    '/c/x',
    '/leave/x',
    '/m/x',
    '/e/x',
    '/go/x',
    '/health',
    '/api/session',
    '/api/team/house',
    '/api/v1/leads',
    '/api/v1/openapi.json',
    '/api/nothing',
  ])('%s', async path => {
    const answer = await get(path)
    const h = (name: string) => answer.headers.get(name)
    expect([h('x-content-type-options'), h('referrer-policy'), h('x-powered-by'), h('server')]).toEqual([
      'nosniff',
      'strict-origin-when-cross-origin',
      null,
      null,
    ])
    expect(h('permissions-policy')).toContain('geolocation=()')
    expect(h('content-security-policy')).not.toMatch(/unsafe-(inline|eval)|\*(?!\.)/)
    expect(policy(answer)).toMatchObject({ 'default-src': ["'none'"], 'base-uri': ["'none'"] })
    expect(policy(answer)['frame-ancestors']).toEqual([
      path.match(/^\/(p|c|leave|m|e|go)\//) && answer.headers.get('content-type')?.includes('html') ? "'self'" : "'none'",
    ])
  })
  it('is kept by nobody where members read it', async () => {
    const jonah = await signedIn('jonah')
    for (const path of ['/api/session', '/api/team/house', '/api/team/leads', '/api/team/leads/x'])
      expect([path, (await jonah(path)).headers.get('cache-control')]).toEqual([path, 'no-store'])
    expect((await get('/')).headers.get('cache-control')).toBe('no-store')
  })
  it('lets scripts and styles in by a word that is new each time', async () => {
    const [one, two] = [await get('/'), await get('/')]
    const [html, nonce] = [
      await one.text(),
      policy(one)
        ['script-src']!.find(s => s.startsWith("'nonce-"))!
        .slice(7, -1),
    ]
    expect(policy(two)['script-src']).not.toContain(`'nonce-${nonce}'`)
    for (const tag of html.match(/<(script|style)\b[^>]*>/g)!) expect(tag).toContain(`nonce="${nonce}"`)
    const hosted = await get('/p/journal')
    expect(await hosted.text()).toContain(`<style ${policy(hosted)['style-src']![0]!.replace(/'nonce-(.*)'/, 'nonce="$1"')}>`)
  })
  it('may be framed where a form is meant to be, and nowhere else', async () => {
    expect(policy(await get('/p/journal?frame=1'))['frame-ancestors']).toEqual(['*'])
    const { slug } = await form(d => {
      d.guards = { ...d.guards, origins: ['https://firm.example', 'https://shop.example'] }
    })
    expect(policy(await get(`/p/${slug}?frame=1`))['frame-ancestors']).toEqual(["'self'", 'https://firm.example', 'https://shop.example'])
    expect(policy(await get(`/p/${slug}`))['frame-ancestors']).toEqual(["'self'"])
  })
  it('lets a form lead on to where its marketer said, which browsers hold it to', async () => {
    const { slug } = await form(d => {
      d.next = { kind: 'address', address: 'https://next.example/thanks?x=1' }
    })
    expect(policy(await get(`/p/${slug}`))['form-action']).toEqual(["'self'", 'https://next.example'])
  })
  it('says with https that it shall never be asked for without', async () => {
    vi.resetModules()
    vi.stubEnv('CAVLIN_URL', 'https://cavlin.example')
    const { withHeaders } = await import('#server/front/headers')
    const sent = new Map<string, string>()
    await withHeaders((() => null) as unknown as EventHandler)({
      path: '/',
      node: { res: { setHeader: (name: string, value: string) => sent.set(name, value) } },
    } as unknown as H3Event)
    vi.unstubAllEnvs()
    expect(sent.get('strict-transport-security')).toBe('max-age=31536000; includeSubDomains')
  })
})

it('an entry that was refused is answered like any other, with an id that opens nothing', async () => {
  const { key } = await form(d => {
    d.returns = { correct: true, again: true }
    d.next = { kind: 'meeting', minutes: 30, days: 14 }
  })
  const body = JSON.stringify({ answers: { email: somebody('bot') }, homepage: 'x' })
  const [one, again] = [await send(key, body, { 'idempotency-key': 'bot' }), await send(key, body, { 'idempotency-key': 'bot' })]
  expect([one.status, one.body.entry]).toEqual([201, again.body.entry])
  expect(one.body.entry).toMatch(/^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-8[0-9a-f]{3}-[0-9a-f]{12}$/)
  const next = one.body.next as { url: string; ways: { url: string }[] }
  for (const url of [next.url, ...next.ways.map(w => w.url).filter(u => u.includes('/e/'))])
    expect([url, (await fetch(url)).status]).toEqual([url, 404])
})

describe('text on its way', () => {
  const asks = (path: string, encodings: string, init: RequestInit = {}) =>
    fetch(demo().url + path, { ...init, headers: { ...init.headers, 'accept-encoding': encodings } })
  it('is compressed as the browser takes it, where it is not tiny', async () => {
    for (const path of ['/p/ask-for-a-visit', '/p/price-guide', '/w/cavlin.js', '/sign-in'])
      expect([path, (await asks(path, 'gzip')).headers.get('content-encoding')]).toEqual([path, 'gzip'])
    expect((await asks('/p/ask-for-a-visit', 'br, gzip')).headers.get('content-encoding')).toBe('br')
    expect((await asks('/p/ask-for-a-visit', 'identity')).headers.get('content-encoding')).toBeNull()
    expect((await asks('/robots.txt', 'br, gzip')).headers.get('content-encoding')).toBeNull()
    const orla = await signedIn('orla')
    const list = await orla('/api/team/leads?size=100')
    expect(list.headers.get('content-encoding')).toMatch(/^(br|gzip)$/)
    expect(((await list.json()) as { leads: unknown[] }).leads.length).toBe(100)
  })
  it('a form says what it is to those who search', async () => {
    const html = await (await fetch(`${demo().url}/p/ask-for-a-visit`)).text()
    expect(html).toMatch(/<meta name="description" content="We measure the light[^"]+">/)
  })
})
