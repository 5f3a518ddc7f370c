import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { LiveVisitView } from '#core/team'
import type { TimelineLine, VisitPayload } from '#core/timeline'
import { newId } from '#server/ids'
import { readRuleset } from '#server/ruleset'
import { takeTrail } from '#server/trail/take'
import { browserId } from '#server/trail/browser'
import { applyRetention } from '#server/trail/retention'
import { browser, SITE } from '../support/browser'
import { freshDatabase, type TestDatabase } from '../support/database'
import { does, form, q } from '../support/forms'
import { ask, demo, eventually, mails, send, signedIn, somebody } from '../support/house'

type Lead = { id: string; reasons: { rule: string }[] }
const leadOf = async (email: string) => (await ask<{ leads: Lead[] }>(`/api/v1/leads?email=${email}`)).leads[0]!
const enter = (email: string, visitor?: string) => send('form_journal', JSON.stringify({ answers: { email }, ...(visitor && { visitor }) }))
async function whole(id: string) {
  const as = await signedIn('orla')
  return (await (await as(`/api/team/leads/${id}`)).json()) as {
    timeline: TimelineLine[]
    browsers: { visitorId: string; visits: number; proven: boolean }[]
  }
}
const visitsIn = (timeline: TimelineLine[]) => timeline.filter(l => l.kind === 'visit').map(l => l.payload as VisitPayload)
const now = async (visit: string) =>
  ((await (await (await signedIn('jonah'))('/api/team/visits')).json()) as LiveVisitView[]).find(v => v.id === visit)

describe('a trail', () => {
  it('is taken once, however often it comes, and shows who is on the site now', async () => {
    const b = browser()
    const request = b.request(
      [
        { kind: 'page', path: '/prices?token=1', title: 'Prices' },
        { kind: 'read', path: '/prices', seconds: 12, depth: 70 },
        { kind: 'event', path: '/prices', name: 'sum', properties: { degrees: 12 } },
      ],
      { referrer: 'https://search.example/?q=me', utm: { source: 'letter' } },
    )
    expect(await Promise.all([1, 2, 3, 4].map(async () => (await b.post(request)).status))).toEqual([204, 204, 204, 204])
    expect((await b.post(request)).status).toBe(204)
    expect(await now(b.visit)).toMatchObject({
      site: SITE,
      path: '/prices',
      title: 'Prices',
      source: 'letter',
      device: 'phone',
      language: 'en-GB',
      lead: null,
      pages: [
        { path: '/prices', title: 'Prices', seconds: 12, depth: 70, acts: [{ kind: 'event', name: 'sum', properties: { degrees: 12 } }] },
      ],
    })
  })
  it('came from where its first page says, in whichever order its parts arrive', async () => {
    const [b, c] = [browser(), browser()]
    const parts = (of: typeof b) =>
      [
        of.request([{ kind: 'page', path: '/', at: Date.now() - 60_000 }], { utm: { source: 'fair' } }),
        of.request([{ kind: 'page', path: '/prices' }]),
      ] as const
    const [first, second] = parts(b)
    await b.post({ ...first, batches: [...second.batches, ...first.batches] })
    const [early, late] = parts(c)
    await c.post(late)
    await c.post(early)
    for (const of of [b, c])
      expect(await now(of.visit)).toMatchObject({ source: 'fair', path: '/prices', pages: [{ path: '/' }, { path: '/prices' }] })
  })
  it('ends with the word that the page was left, unless another page was opened, in whichever order the two arrive', async () => {
    const ago = (s: number) => Date.now() - s * 1000
    const part = (b: ReturnType<typeof browser>, ...events: [string, string, number][]) =>
      b.request(events.map(([kind, path, s]) => ({ kind, path, at: ago(s) })))
    const visits = async (...of: ReturnType<typeof browser>[]) => Promise.all(of.map(async b => (await now(b.visit))?.path ?? null))
    const [back, left, went, late] = [browser(), browser(), browser(), browser()]
    // Who has just left may be on the way to the next page; asked at once, for these seconds are short.
    await back.post(part(back, ['page', '/', 40], ['gone', '/', 0]))
    expect((await now(back.visit))!.pages.map(p => [p.path, p.acts])).toEqual([['/', []]])
    await left.post(part(left, ['page', '/', 40], ['read', '/', 30], ['gone', '/', 30]))
    await went.post(part(went, ['page', '/', 40], ['gone', '/', 30]))
    await went.post(part(went, ['page', '/prices', 29]))
    await late.post(part(late, ['page', '/prices', 29]))
    await late.post(part(late, ['page', '/', 40], ['gone', '/', 30]))
    expect(await visits(left, went, late)).toEqual([null, '/prices', '/prices'])
    // What was recorded of them is there all the same.
    const lately = (await (await (await signedIn('jonah'))('/api/team/visits?lately')).json()) as LiveVisitView[]
    expect(lately.find(v => v.id === left.visit)).toMatchObject({ goneAt: expect.any(String), pages: [{ path: '/' }] })
  })
  it('stands in the timeline of whoever says who they are, also what came before and what comes after, and earns interest', async () => {
    const b = browser()
    await b.reads('/', '/prices')
    const email = somebody('trail')
    await enter(email, b.visitor)
    expect((await leadOf(email)).reasons.map(r => r.rule)).toContain('Read the prices')
    await b.reads('/growing-houses')
    const lead = await leadOf(email)
    expect(lead.reasons.map(r => r.rule)).toContain('Looked at growing houses')
    const { timeline, browsers } = await whole(lead.id)
    expect(visitsIn(timeline).map(v => v.pages.map(p => p.path))).toEqual([['/', '/prices', '/growing-houses']])
    expect(browsers).toMatchObject([{ visitorId: browserId(b.visitor), visits: 1, proven: false }])
    expect((await now(b.visit))?.lead).toMatchObject({ id: lead.id })
  })
  it('of two people at one computer is kept apart, and of one person on two devices put together', async () => {
    const shared = browser()
    const [first, second] = [somebody('first'), somebody('second')]
    await shared.reads('/prices')
    await enter(first, shared.visitor)
    await enter(second, shared.visitor)
    await shared.reads('/journal/a')
    const pagesOf = async (email: string) =>
      visitsIn((await whole((await leadOf(email)).id)).timeline).flatMap(v => v.pages.map(p => p.path))
    expect(await pagesOf(first)).toEqual(['/prices'])
    expect(await pagesOf(second)).toEqual(['/journal/a'])
    const phone = browser()
    await phone.reads('/growing-houses')
    await send('form_guide', JSON.stringify({ answers: { email: first, first_name: 'F', sector: 'school' }, visitor: phone.visitor }))
    expect((await pagesOf(first)).sort()).toEqual(['/growing-houses', '/prices'])
  })
  it('can be parted from somebody again, with the interest that it earned', async () => {
    const b = browser()
    await b.reads('/prices')
    const email = somebody('apart')
    await enter(email, b.visitor)
    const { id } = await leadOf(email)
    const jonah = await signedIn('jonah')
    expect((await (await signedIn('tamsin'))(`/api/team/leads/${id}/browsers/${browserId(b.visitor)}`, 'DELETE')).status).toBe(403)
    expect((await jonah(`/api/team/leads/${id}/browsers/${browserId(b.visitor)}`, 'DELETE')).status).toBe(204)
    expect((await jonah(`/api/team/leads/${id}/browsers/${browserId(b.visitor)}`, 'DELETE')).status).toBe(404)
    // It was them after all: the visits and what they earned come back.
    expect((await jonah(`/api/team/leads/${id}/browsers/${browserId(b.visitor)}`, 'PUT')).status).toBe(204)
    expect((await leadOf(email)).reasons.map(r => r.rule)).toContain('Read the prices')
    expect((await jonah(`/api/team/leads/${id}/browsers/${browserId(b.visitor)}`, 'DELETE')).status).toBe(204)
    expect((await leadOf(email)).reasons.map(r => r.rule)).not.toContain('Read the prices')
    expect(visitsIn((await whole(id)).timeline)).toEqual([])
    // Whoever is known there next gets what comes from then on, not what was parted.
    const other = somebody('next')
    await enter(other, b.visitor)
    await b.reads('/growing-houses')
    const theirs = await whole((await leadOf(other)).id)
    expect(visitsIn(theirs.timeline).flatMap(v => v.pages.map(p => p.path))).toEqual(['/growing-houses'])
  })
  it('earns interest by an event of the site, once a day, also before they said who they are', async () => {
    const b = browser()
    const sum = { kind: 'event', path: '/prices', name: 'heating sum', properties: { degrees: 12 } }
    await b.did([sum])
    const email = somebody('sum')
    await enter(email, b.visitor)
    await b.did([sum])
    await b.did([{ ...sum, name: 'other' }])
    expect((await leadOf(email)).reasons.filter(r => r.rule === 'Did a heating sum')).toHaveLength(1)
  })
  it('is erased when its person changes their mind; what they sent stays', async () => {
    const b = browser()
    await b.reads('/prices')
    const email = somebody('erased')
    await enter(email, b.visitor)
    expect((await fetch(`${demo().url}/w/visitors/${b.visitor}/forget`, { method: 'POST' })).status).toBe(204)
    const lead = await leadOf(email)
    expect(lead.reasons.map(r => r.rule)).not.toContain('Read the prices')
    const { timeline, browsers } = await whole(lead.id)
    expect([visitsIn(timeline), browsers, timeline.some(l => l.kind === 'entry')]).toEqual([[], [], true])
    // What was still under way comes too late.
    expect(await b.reads('/prices')).toBe(204)
    expect(await now(b.visit)).toBeUndefined()
    expect((await whole(lead.id)).browsers).toEqual([])
  })
  it('of a machine moves no figure', async () => {
    const b = browser()
    expect(await b.did([{ kind: 'page', path: '/prices' }], { 'user-agent': 'Mozilla/5.0 (compatible; Examplebot/2.1)' })).toBe(204)
    expect(await now(b.visit)).toBeUndefined()
  })
  it('counts a form as seen and begun, once a batch', async () => {
    const { key, id, as } = await form(() => {})
    const b = browser()
    const page = `/looks/${key}`
    const request = b.request([
      { kind: 'page', path: page },
      { kind: 'seen', path: page, point: key, edition: 1 },
      { kind: 'started', path: page, point: key, edition: 1 },
      { kind: 'seen', path: page, point: 'form_of_nobody', edition: 1 },
    ])
    for (let n = 0; n < 2; n++) await b.post(request)
    const { places } = (await (await as('/api/team/places')).json()) as {
      places: { page: string; points: { id: string; seen: number; started: number }[] }[]
    }
    expect(places.find(p => p.page === SITE + page)?.points).toMatchObject([{ id, seen: 1, started: 1 }])
  })
})

describe('an event of a program', () => {
  it('stands with the lead or the browser whose it is, once a key', async () => {
    const email = somebody('program')
    await enter(email)
    const add = (body: object, key = 'k', bearer = demo().apiKey) =>
      fetch(`${demo().url}/api/v1/events`, {
        method: 'POST',
        headers: { authorization: `Bearer ${bearer}`, 'content-type': 'application/json', 'idempotency-key': `${key} ${email}` },
        body: JSON.stringify(body),
      })
    for (let n = 0; n < 2; n++)
      expect((await add({ name: 'Paid a deposit', email: email.toUpperCase(), properties: { amount: 1200 } })).status).toBe(204)
    const { timeline } = await whole((await leadOf(email)).id)
    expect(visitsIn(timeline).flatMap(v => v.pages.flatMap(p => p.acts))).toMatchObject([
      { kind: 'event', name: 'Paid a deposit', properties: { amount: 1200 } },
    ])
    const b = browser()
    expect((await add({ name: 'Called', visitor: b.visitor }, 'other')).status).toBe(204)
    expect((await add({ name: 'Called', email, visitor: b.visitor })).status).toBe(422)
    expect((await add({ name: 'Called' })).status).toBe(422)
    expect((await add({ name: 'Called', email, at: '2020-01-01T00:00:00Z' })).status).toBe(422)
    expect((await add({ name: 'Called', email: 'nobody.at.all@guests.example' })).status).toBe(404)
    expect((await add({ name: 'Called', email }, 'k', 'wrong')).status).toBe(401)
  })
})

describe('what is no trail', () => {
  it.each<[string, unknown, number]>([
    ['no JSON', '{', 400],
    ['nothing', '{}', 422],
    ['a forged visitor', { visitor: '1', site: SITE, sent: 1, batches: [] }, 422],
    ['a site that is none', { visitor: randomUUID(), site: 'javascript:alert(1)', sent: 1, batches: [] }, 422],
    ['an unknown field', { visitor: randomUUID(), site: SITE, sent: 1, batches: [], password: 'x' }, 422],
    ['too much', { visitor: randomUUID(), site: SITE, sent: 1, batches: [], more: 'x'.repeat(70_000) }, 413],
    [
      'nothing that happened',
      {
        visitor: randomUUID(),
        site: SITE,
        sent: 1,
        batches: [{ id: randomUUID(), visit: randomUUID(), events: [{ kind: 'page' }, null, 7] }],
      },
      204,
    ],
  ])('%s: %#', async (_name, body, status) => expect((await browser().post(body)).status).toBe(status))

  it('a visit that another browser names stays its own', async () => {
    const [mine, theirs] = [browser(), browser()]
    await mine.reads('/prices')
    const forged = theirs.request([{ kind: 'page', path: '/forged' }])
    forged.batches[0]!.visit = mine.visit
    expect((await theirs.post(forged)).status).toBe(204)
    expect(await now(mine.visit)).toMatchObject({ path: '/prices', pages: [{ path: '/prices' }] })
  })
  it('a clock that is wrong by years changes nothing', async () => {
    const b = browser()
    const request = b.request([{ kind: 'page', path: '/late', at: 0 }])
    await b.post({ ...request, sent: 60_000 })
    const seen = await now(b.visit)
    expect(seen?.path).toBe('/late')
    expect(Date.now() - Date.parse(seen!.lastAt)).toBeLessThan(120_000)
  })
})

describe('what the team decides about its site', () => {
  const settings = {
    agreement: 'site' as const,
    notice: '',
    style: null as string | null,
    origins: [] as string[],
    parameters: [] as string[],
    retentionMonths: 13,
    keepUnfinished: true,
    mailUnfinished: false,
  }
  it('keeps strange sites out and lets only chosen parameters through', async () => {
    const tamsin = await signedIn('tamsin')
    const put = async (change: object) => {
      const answer = await tamsin('/api/team/site', 'PUT', { ...settings, ...change })
      return answer.status === 204 ? 204 : ((await answer.json()) as { errors: { field: string }[] }).errors.map(e => e.field)
    }
    expect((await (await signedIn('jonah'))('/api/team/site', 'PUT', settings)).status).toBe(403)
    expect(await put({ origins: ['site.example'] })).toEqual(['origins.0'])
    expect(await put({ agreement: 'own' })).toEqual(['notice'])
    expect(await put({ parameters: ['a b'] })).toEqual(['parameters'])
    expect(await put({ retentionMonths: 0 })).toEqual(['retentionMonths'])
    expect(await put({ style: randomUUID() })).toEqual(['style'])
    try {
      expect(await put({ agreement: 'own', notice: 'May we?', origins: [SITE], parameters: ['product'], keepUnfinished: false })).toBe(204)
      await expect
        .poll(async () => await (await fetch(`${demo().url}/w/site`)).json(), { timeout: 60_000 })
        .toMatchObject({ agreement: 'own', notice: 'May we?', parameters: ['product'], unfinished: false })
      const b = browser()
      const email = somebody('unkept')
      expect(await b.types(randomUUID(), { point: 'form_journal' }, { email })).toBe(204)
      expect(await leadOf(email)).toBeUndefined()
      expect(await b.did([{ kind: 'page' }], { origin: 'https://strange.example' })).toBe(403)
      expect(await b.did([{ kind: 'page' }], { origin: SITE })).toBe(204)
    } finally {
      expect(await put({})).toBe(204)
    }
  })
})

describe('points that appear', () => {
  const tag = `vip ${Date.now()}`
  it('say nothing of people in the script; the server says it to their own browser, signed and for a while', async () => {
    const { key } = await form(d => {
      does(d, 'tag', { tags: [tag] })
      d.display = {
        ...d.display,
        on: true,
        audience: {
          all: [
            { attribute: 'tag', is: 'equal', value: tag },
            { attribute: 'visit.device', is: 'equal', value: 'phone' },
            { none: [{ attribute: 'answered', is: 'equal', value: 'yes' }] },
          ],
        },
      }
    })
    const site = async () => {
      const text = await (await fetch(`${demo().url}/w/site`)).text()
      return { text, point: (JSON.parse(text) as { points: { key: string; nobody: boolean[] }[] }).points.find(p => p.key === key) }
    }
    await expect.poll(async () => (await site()).point, { timeout: 60_000 }).toMatchObject({ nobody: [false, false] })
    expect((await site()).text).not.toContain(tag)
    const b = browser()
    const said = async () => {
      const { token } = (await (await fetch(`${demo().url}/w/visitors/${b.visitor}/audience`)).json()) as { token: string }
      return JSON.parse(Buffer.from(token.split('.')[0]!, 'base64url').toString()) as { said: Record<string, boolean[]>; until: number }
    }
    expect((await said()).said[key]).toEqual([false, false])
    await b.reads('/')
    const email = somebody('vip')
    await send(key, JSON.stringify({ answers: { email }, visitor: b.visitor }))
    const { said: theirs, until } = await said()
    expect(theirs[key]).toEqual([true, true])
    expect(until - Date.now()).toBeLessThan(11 * 60_000)
    expect((await fetch(`${demo().url}/w/visitors/nonsense/audience`)).status).toBe(404)
  })
  it('tell whoever gives another’s address nothing of them, until it is shown that they are', async () => {
    const secret = `secret ${Date.now()}`
    const { key } = await form(d => {
      d.questions.push(q('town', 'short_text', { property: 'town' }), q('first', 'short_text', { property: 'first_name' }))
      d.display = {
        ...d.display,
        on: true,
        audience: {
          any: [
            { attribute: 'visitor.known', is: 'equal', value: 'yes' },
            { attribute: 'property.town', is: 'equal', value: secret },
            { attribute: 'answered', is: 'equal', value: 'yes' },
            { attribute: 'label', is: 'filled' },
            { did: 'page', where: { attribute: 'page.path', is: 'equal', value: `/${secret}` }, times: 1, days: null },
          ],
        },
      }
    })
    await expect
      .poll(
        async () =>
          (JSON.parse(await (await fetch(`${demo().url}/w/site`)).text()) as { points: { key: string }[] }).points.some(p => p.key === key),
        { timeout: 60_000 },
      )
      .toBe(true)
    const said = async (b: ReturnType<typeof browser>, word = '') => {
      const { token } = (await (await fetch(`${demo().url}/w/visitors/${b.visitor}/audience${word}`)).json()) as { token: string }
      return (JSON.parse(Buffer.from(token.split('.')[0]!, 'base64url').toString()) as { said: Record<string, boolean[]> }).said[key]
    }
    // Somebody whom we know well, on their own browser.
    const email = somebody('victim')
    const theirs = browser()
    await theirs.reads(`/${secret}`)
    await send(key, JSON.stringify({ answers: { email, town: secret, first: 'Vic' }, visitor: theirs.visitor }))
    expect(await said(theirs)).toEqual([true, true, true, false, true])
    // A stranger types their address, and sends nothing: nothing is joined, nothing is said, and nothing that they read counts.
    const typist = browser()
    await typist.types(randomUUID(), { point: key }, { email })
    const nobody = await said(browser())
    expect(nobody).toEqual([false, false, false, false, false])
    expect(await said(typist)).toEqual(nobody)
    await typist.reads('/prices')
    const { id, reasons } = await leadOf(email)
    expect(reasons.map(r => r.rule)).not.toContain('Read the prices')
    expect((await whole(id)).browsers).toHaveLength(1)
    // One sends an entry with it: what they did counts, but they hear only of what they sent themselves.
    const sender = browser()
    await sender.reads('/prices')
    await enter(email, sender.visitor)
    expect((await leadOf(email)).reasons.map(r => r.rule)).toContain('Read the prices')
    expect(await said(sender)).toEqual([true, false, false, false, false])
    // Another's link shows nothing either; one that was mailed to this person does.
    const jonah = await signedIn('jonah')
    const word = async (lead: string) =>
      `?cavlin=${new URL(((await (await jonah(`/api/team/leads/${lead}/links`)).json()) as { url: string }[])[0]!.url).searchParams.get('cavlin')!}`
    const other = somebody('other')
    await enter(other)
    expect(await said(sender, await word((await leadOf(other)).id))).toEqual([true, false, false, false, false])
    expect(await said(sender, await word(id))).toEqual([true, true, true, true, true])
    expect((await whole(id)).browsers.filter(b => b.proven)).toHaveLength(1)
    expect(await said(sender)).toEqual([true, true, true, true, true])
  })
  it('know a browser as its person’s once an entry that was sent from it is confirmed', async () => {
    const { key } = await form(d => {
      d.confirm = { subject: 'Yours?', text: 'Here: {{link}}', done: 'Thanks', then: { kind: 'message' } }
    })
    const b = browser()
    const email = somebody('confirms')
    await send(key, JSON.stringify({ answers: { email }, visitor: b.visitor }))
    const { id } = await leadOf(email)
    expect((await whole(id)).browsers.map(x => x.proven)).toEqual([false])
    const mail = await eventually(async () => (await mails()).find(m => m.to.includes(email)))
    await fetch(/https?:\/\/\S+\/c\/\S+/.exec(mail.text)![0], { method: 'POST' })
    expect((await whole(id)).browsers.map(x => x.proven)).toEqual([true])
  })
  it('are named to the team by an id that does nothing: only the browser itself takes back what it did', async () => {
    const b = browser()
    await b.reads('/prices')
    const email = somebody('keeps')
    await enter(email, b.visitor)
    const { id } = await leadOf(email)
    const { browsers, timeline } = await whole(id)
    const shown = browsers[0]!.visitorId
    expect([shown === b.visitor, JSON.stringify(timeline).includes(b.visitor)]).toEqual([false, false])
    expect((await fetch(`${demo().url}/w/visitors/${shown}/forget`, { method: 'POST' })).status).toBe(204)
    expect(visitsIn((await whole(id)).timeline)).toHaveLength(1)
    expect((await fetch(`${demo().url}/w/visitors/${b.visitor}/forget`, { method: 'POST' })).status).toBe(204)
    expect(visitsIn((await whole(id)).timeline)).toHaveLength(0)
  })
  it('speak in the order that the team sets', async () => {
    const tamsin = await signedIn('tamsin')
    const list = async () => ((await (await tamsin('/api/team/appearing')).json()) as { id: string }[]).map(p => p.id)
    const turned = (await list()).reverse()
    expect((await (await signedIn('jonah'))('/api/team/appearing/order', 'PUT', { points: turned })).status).toBe(403)
    expect((await tamsin('/api/team/appearing/order', 'PUT', { points: turned })).status).toBe(204)
    expect(await list()).toEqual(turned)
    await tamsin('/api/team/appearing/order', 'PUT', { points: turned.reverse() })
  })
})

describe('old trails', () => {
  let db: TestDatabase
  beforeAll(async () => {
    db = await freshDatabase()
  })
  afterAll(() => db.drop())
  it('leave with their month, and what was worked out from them stays', async () => {
    const { sql } = db
    const ruleset = await readRuleset(sql)
    const DAY = 86_400_000
    const at = (days: number) => Date.now() - days * DAY
    await sql`select make_trail_part(${new Date(at(500))}::date)`
    const visit = (visitor: string) => ({
      id: newId(),
      visitor,
      site: SITE,
      referrer: null,
      utm: {},
      source: 'direct',
      language: null,
      device: 'computer' as const,
      place: null,
      robot: false,
    })
    for (const days of [500, 1])
      await sql.begin(tx =>
        takeTrail(
          tx,
          ruleset,
          [
            {
              id: newId(),
              visit: visit(randomUUID()),
              events: [{ kind: 'page', at: at(days), path: `/${days}`, title: null, data: null }],
            },
          ],
          new Map(),
          new Date(at(days)),
        ),
      )
    const paths = async () => (await sql<{ path: string }[]>`select path from trail_event order by at`).map(r => r.path)
    expect(await paths()).toEqual(['/500', '/1'])
    expect(await applyRetention(sql, new Date())).toHaveLength(1)
    expect(await paths()).toEqual(['/1'])
    expect((await sql`select from visit`).count).toBe(1)
    expect(await applyRetention(sql, new Date())).toEqual([])
  })
})
