import { request } from 'node:http'
import { describe, expect, it } from 'vitest'
import { form } from '../support/forms'
import { demo, send, signedIn, somebody } from '../support/house'

const own = new URL(demo().url)
let made = 0
const newName = () => `n${process.pid}-${++made}.firm.example`

interface Came {
  status: number
  location: string | undefined
  text: string
}
/** Asks under a name that leads here, as a browser would that had looked it up. */
const under = (name: string, path: string, init: { method?: string; body?: string; headers?: Record<string, string> } = {}) =>
  new Promise<Came>((done, failed) => {
    const sent = request(
      { host: own.hostname, port: own.port, path, method: init.method ?? 'GET', headers: { host: `${name}:${own.port}`, ...init.headers } },
      async answer => {
        let text = ''
        for await (const piece of answer) text += piece
        done({ status: answer.statusCode!, location: answer.headers.location, text })
      },
    ).on('error', failed)
    sent.end(init.body)
  })

async function named() {
  const as = await signedIn('tamsin')
  const name = newName()
  expect((await as('/api/team/hosts', 'POST', { name })).status).toBe(201)
  const hosts = async () =>
    (await (await as('/api/team/hosts')).json()) as {
      name: string
      tryAt: string
      arrivedAt: string | null
      front: string | null
      points: { id: string }[]
    }[]
  const host = async () => (await hosts()).find(h => h.name === name)!
  const tryIt = async () => under(name, (await host()).tryAt.replace(/^http:\/\/[^/]+/, ''))
  const place = (id: string, at: string | null = name) => as(`/api/team/points/${id}/host`, 'PUT', { host: at })
  return { as, name, host, tryIt, place }
}

describe('a name of one’s own', () => {
  it('counts once a browser came under it with the word that we gave', async () => {
    const { name, host, tryIt, place } = await named()
    const f = await form(() => {})
    expect((await place(f.id)).status).toBe(204)
    // Nobody is led to a name that may lead nowhere.
    expect((await fetch(`${demo().url}/p/${f.slug}`, { redirect: 'manual' })).status).toBe(200)
    expect((await under(name, `/w/hosts/arrived?name=${name}&word=guessed`)).status).toBe(404)
    const path = (await host()).tryAt.replace(/^http:\/\/[^/]+/, '')
    const elsewhere = await under(own.hostname, path)
    expect([elsewhere.status, elsewhere.text]).toEqual([409, expect.stringContaining(`came as ${own.hostname}`)])
    expect((await host()).arrivedAt).toBeNull()
    expect(await tryIt()).toMatchObject({ status: 200, text: expect.stringContaining(`${name} leads here`) })
    expect((await host()).arrivedAt).not.toBeNull()
    const led = await fetch(`${demo().url}/p/${f.slug}?cavlin=x`, { redirect: 'manual' })
    expect([led.status, led.headers.get('location')]).toEqual([303, `http://${name}:${own.port}/p/${f.slug}?cavlin=x`])
    expect((await under(name, `/p/${f.slug}`)).status).toBe(200)
  })
  it('shows what stands under it, and nothing else of the house', async () => {
    const { name, tryIt, place } = await named()
    const [f, g] = [await form(() => {}), await form(() => {})]
    await place(f.id)
    await tryIt()
    expect(await under(name, `/p/${g.slug}`)).toMatchObject({ status: 404, text: expect.not.stringContaining('<form') })
    for (const path of ['/', '/sign-in', '/follow-up/leads', '/api/team/house', '/api/session', '/api/v1/leads', '/api/demo'])
      expect([path, (await under(name, path)).status]).toEqual([path, 404])
    const asBrowser = { origin: `http://${name}:${own.port}`, 'content-type': 'application/json' }
    expect(
      (
        await under(name, '/api/session', {
          method: 'POST',
          headers: asBrowser,
          body: JSON.stringify({ email: 'a@b.example', password: 'x' }),
        })
      ).status,
    ).toBe(404)
    expect((await under(name, '/robots.txt')).text).toContain('Allow: /p/')
  })
  it('takes entries where a form may only be sent from some sites, and counts looks at its pages', async () => {
    const { as, name, tryIt, place } = await named()
    const f = await form(d => {
      d.guards.origins = ['https://firm.example']
    })
    await place(f.id)
    await tryIt()
    const page = `http://${name}:${own.port}/p/${f.slug}`
    const look = (kind: string) =>
      under(name, '/w/looks', {
        method: 'POST',
        headers: { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) Firefox/130.0' },
        body: JSON.stringify({ kind, path: `/p/${f.slug}`, point: f.key, edition: 1 }),
      })
    await look('seen')
    await look('seen')
    await look('started')
    const from = (origin: string) => send(f.key, JSON.stringify({ answers: { email: somebody('named') }, page, via: 'page' }), { origin })
    expect((await from(`http://${name}:${own.port}`)).status).toBe(201)
    expect((await from('http://other.example')).status).toBe(403)
    const [today] = new Date().toISOString().split('T')
    const group = { from: '2026-01-01', to: today, edition: null, condition: null }
    for (let left = 40; ; left--) {
      const { groups } = (await (await as(`/api/team/points/${f.id}/results`, 'POST', { groups: [group] })).json()) as {
        groups: { pages: { page: string; seen: number; begun: number; sent: number }[] }[]
      }
      const row = groups[0]!.pages.find(p => p.page === page)
      if (row?.seen === 2 && row.sent === 1) break
      if (!left) expect(row).toMatchObject({ page, seen: 2, begun: 1, sent: 1 })
      await new Promise(r => setTimeout(r, 250))
    }
  })
  it('has a front, only of what stands under it', async () => {
    const { as, name, host, tryIt, place } = await named()
    const [f, g] = [await form(() => {}), await form(() => {})]
    await place(f.id)
    await tryIt()
    expect((await as(`/api/team/hosts/${name}`, 'PUT', { front: g.id })).status).toBe(404)
    expect((await as(`/api/team/hosts/${name}`, 'PUT', { front: f.id })).status).toBe(204)
    expect(await under(name, '/?utm_source=card')).toMatchObject({ status: 303, location: `/p/${f.slug}?utm_source=card` })
    await place(f.id, null)
    expect((await host()).front).toBeNull()
    expect((await under(name, '/')).status).toBe(404)
  })
  it('goes only when nothing stands under it, and is told to proxies while it is there', async () => {
    const { as, name, place } = await named()
    const known = async (domain: string) => (await fetch(`${demo().url}/w/hosts/known?domain=${domain}`)).status
    expect([await known(name), await known(own.hostname), await known('stranger.example'), await known('')]).toEqual([204, 204, 404, 404])
    const f = await form(() => {})
    await place(f.id)
    expect((await as(`/api/team/hosts/${name}`, 'DELETE')).status).toBe(409)
    await place(f.id, null)
    expect((await as(`/api/team/hosts/${name}`, 'DELETE')).status).toBe(204)
    expect(await known(name)).toBe(404)
    expect((await place(f.id, name)).status).toBe(422)
  })
  it.each([
    ['nonsense here', 'Write a name like'],
    [own.host, 'Leave the port out'],
    ['', 'Write a name like'],
  ])('says what is wrong with “%s”', async (name, message) => {
    const as = await signedIn('tamsin')
    const answer = await as('/api/team/hosts', 'POST', { name })
    expect([answer.status, ((await answer.json()) as { errors: { message: string }[] }).errors[0]!.message]).toEqual([
      422,
      expect.stringContaining(message),
    ])
  })
  it('is there once', async () => {
    const { as, name } = await named()
    const again = await as('/api/team/hosts', 'POST', { name: `https://${name.toUpperCase()}/` })
    expect(again.status).toBe(422)
    for (const odd of ['%00', '..', '%2e%2e', 'x'.repeat(400)])
      expect([404, 409]).toContain((await as(`/api/team/hosts/${odd}`, 'DELETE')).status)
  })
})
