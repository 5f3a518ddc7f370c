import { randomUUID } from 'node:crypto'
import { readFileSync, rmSync, writeFileSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { connect as openSocket } from 'node:net'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { connect } from '#db/client'
import { demoFile, openHouse, type House } from '../../scripts/house'
import { placeToTry } from '../../scripts/try-place'
import { ask, eventually, send, type Demo } from '../support/house'
import { chance, malformed, type Malformed } from '../support/malformed'
import { allRoutes } from '../support/routes'
import type { Condition } from '#core/conditions/condition'
import { lane, planOf, seated } from '../support/plans'

// A house of its own: what gets through changes it. `CAVLIN_MALFORMED=20000` sends as many to each route.
const EACH = Number(process.env.CAVLIN_MALFORMED) || 120
let house: House
let demo: Demo
let cookie: string
let said = ''
const WORD = 'somebodys-secret-word'

beforeAll(async () => {
  const place = await placeToTry(process.cwd())
  // On a signal, what a fault of ours might be.
  const fault = join(place.data, 'fault.mjs')
  writeFileSync(
    fault,
    `process.on('SIGUSR2',()=>void Promise.reject(Object.assign(new Error('${WORD}'),{detail:'Key (email)=(${WORD})',code:'23505'})))`,
  )
  house = await openHouse(place, {
    demo: { days: 3 },
    env: {
      CAVLIN_LIMITS: 'off',
      CAVLIN_TRUST_PROXY: '1',
      CAVLIN_BODY_SECONDS: '2',
      CAVLIN_URL: 'https://cavlin.example',
      NODE_OPTIONS: `--import=${fault}`,
    },
    onOutput: text => {
      said += text
    },
  })
  demo = JSON.parse(readFileSync(demoFile(house.place.data), 'utf8')) as Demo
  const { email, password } = demo.members.find(m => m.role === 'admin')!
  const answer = await fetch(`${demo.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  const [set] = answer.headers.getSetCookie()
  // With https it is a cookie that nobody else can set.
  expect(set).toMatch(/^__Host-cavlin=[\w-]{43};(?=.* Secure)(?=.* HttpOnly)(?=.* Path=\/)(?!.*Domain)/)
  expect(answer.headers.get('strict-transport-security')).toMatch(/^max-age=\d{8}/)
  cookie = set!.split(';')[0]!
})
afterAll(async () => {
  await house?.stop()
  if (house) rmSync(house.place.data, { recursive: true, force: true })
})

const agent = new Agent({ keepAlive: true, maxSockets: 24 })
/** Sends a request as it is, however wrong; null where no answer can come. */
function post(r: Malformed, more: Record<string, string>): Promise<number | null> {
  return new Promise(done => {
    const body = r.body === null ? null : Buffer.from(r.body)
    const length = body ? { 'content-length': String(body.length + (r.breaksOff ? 50 : 0)) } : {}
    let sent: ReturnType<typeof request>
    try {
      sent = request(demo.url + r.path, { method: r.method, agent, headers: { ...r.headers, ...more, ...length } }, answer => {
        answer.resume()
        if (/^\/(api\/team|w\/chats)\/live/.test(r.path)) sent.destroy()
        answer.on('close', () => done(answer.statusCode ?? null))
      })
    } catch {
      // Node itself sends no such thing.
      return done(null)
    }
    sent.on('error', () => done(null))
    if (!body) return void sent.end()
    if (!r.breaksOff) return void sent.end(body)
    sent.write(body, () => setTimeout(() => sent.destroy(), 5))
  })
}
const team = (path: string, method = 'GET', body?: unknown) =>
  fetch(demo.url + path, {
    method,
    headers: { cookie, ...(body !== undefined && { 'content-type': 'application/json' }) },
    body: body === undefined ? undefined : JSON.stringify(body),
  })

/** A conversation of ours, as its visitor's browser has it. */
async function begunTalk(): Promise<{ id: string; secret: string }> {
  const answer = await fetch(`${demo.url}/w/chats`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ point: 'chat_grower', by: 'tab' }),
  })
  const { id, secret } = (await answer.json()) as { id: string; secret: string }
  return { id, secret }
}

/** What routes take, as far as it has a shape worth spoiling. */
async function goodBodies(): Promise<{ bodies: Record<string, unknown[]>; ids: string[] }> {
  const points = (await (await team('/api/team/points')).json()) as { id: string; key: string; slug: string }[]
  const pages = (await (await team('/api/team/pages')).json()) as { id: string; slug: string }[]
  const point = (await (await team(`/api/team/points/${points[0]!.id}`)).json()) as { workingCopy: object }
  const page = (await (await team(`/api/team/points/${pages[0]!.id}`)).json()) as { workingCopy: object }
  const { leads } = await ask<{ leads: { id: string }[] }>('/api/v1/leads?limit=5', demo)
  const [visitor, visit] = [randomUUID(), randomUUID()]
  const condition = {
    all: [
      { attribute: 'property.sector', is: 'one_of', value: ['school'] },
      { did: 'page', where: { attribute: 'page.path', is: 'equal', value: '/' }, times: 1, days: 3 },
    ],
  }
  const rule = { key: 'a', name: 'A', points: 5, off: false, note: '', from: new Date().toISOString(), until: null }
  const card = {
    version: 1,
    halfLifeDays: 20,
    fit: [{ ...rule, when: condition, group: 'g' }],
    groups: [{ key: 'g', name: 'G', most: 10 }],
    labels: [{ label: 'early', fit: 0, interest: 0 }],
    interest: [{ ...rule, on: 'entry', when: { attribute: 'point', is: 'equal', value: 'x' }, most: { times: 1, days: 7 } }],
  }
  const week = [
    [
      { from: 480, until: 720 },
      { from: 780, until: 1080 },
    ],
    [],
    [],
    [],
    [],
    [],
    [],
  ]
  const plan = planOf(
    lane('some', { when: condition as Condition, pool: seated(visitor), promises: { early: 60 } }),
    lane('rest', { pool: seated(visit) }),
  )
  const talk = await begunTalk()
  const talks = (await (await team('/api/team/conversations?heap=flow')).json()) as { rows: { id: string }[] }
  const theme = (point.workingCopy as { theme: object }).theme
  return {
    ids: [
      ...points.map(p => p.id),
      ...points.map(p => p.key),
      ...points.map(p => p.slug),
      ...pages.map(p => p.id),
      ...pages.map(p => p.slug),
      ...leads.map(l => l.id),
      ...talks.rows.map(t => t.id),
      'email',
      'phone',
    ],
    bodies: {
      'POST /w/points/{key}/entries': [
        {
          answers: { email: 'a@b.example', first_name: 'A' },
          page: 'https://x.example',
          utm: { source: 'x' },
          visitor,
          edition: 1,
          took: 5000,
          landing: 'x',
          nameless: true,
          finished: visitor,
        },
        { visitor: { constructor: {} } },
      ],
      'POST /w/points/{key}/said': [{ answers: { suits_size: 'x' }, questions: ['suits_size'], edition: 1, language: 'en' }],
      'POST /w/chats': [{ point: 'chat_grower', visitor, page: 'https://x.example/', language: 'en', by: 'tab' }],
      'POST /w/chats/said': [
        { ...talk, after: 0, message: randomUUID(), kind: 'text', text: 'x' },
        { ...talk, after: 0, message: randomUUID(), kind: 'answer', values: ['x'], to: 2 },
        { ...talk, after: 0, message: randomUUID(), kind: 'choice', n: 0, to: 2 },
        { ...talk, after: 0, message: randomUUID(), kind: 'rating', n: 4, text: 'x' },
      ],
      'POST /w/chats/seen': [{ ...talk, upTo: 1, typing: true }],
      'POST /w/chats/live': [{ id: visit, secret: 'x'.repeat(43), after: 0 }],
      'POST /api/team/conversations/{id}/messages': [{ message: randomUUID(), text: 'x', note: true, after: 0 }],
      'POST /api/team/conversations/{id}/seen': [{ upTo: 1, typing: true }],
      'PUT /api/team/conversations/{id}/member': [{ to: visitor, words: 'x' }],
      'POST /api/team/visits/{id}/speak': [{ text: 'x' }],
      'POST /api/team/notes/page': [{ address: 'https://127.0.0.1/' }],
      'PUT /api/team/points/{id}/editions/{number}': [{ name: 'x' }],
      'PUT /api/team/notes/{id}': [{ title: 'x', body: 'y', source: 'z.md', was: '2026-12-01T09:00:00Z' }],
      'POST /api/team/notes/try': [{ text: 'x' }],
      'PUT /api/team/notes/setting': [{ answersFrom: 0.5, asksFrom: 0.3 }],
      'PUT /api/team/notes/questions/{id}': [{ text: 'x', note: visitor }],
      'PUT /api/team/notes/unanswered': [{ ids: [visitor], done: true }],
      'POST /w/trail': [
        {
          visitor,
          site: 'https://site.example',
          sent: Date.now(),
          language: 'en',
          batches: [
            {
              id: randomUUID(),
              visit,
              referrer: 'x',
              utm: {},
              events: [
                { kind: 'page', path: '/', at: 1 },
                { kind: 'event', name: 'x', properties: { a: 1 }, path: '/' },
              ],
            },
          ],
        },
      ],
      'POST /w/looks': [
        { kind: 'seen', path: '/p/x', point: points[0]!.key, edition: 1 },
        { kind: 'left', path: '/p/x', point: points[0]!.key, question: 'email', first: true },
        { kind: 'seen', path: '/p/x', landing: 'x' },
      ],
      'POST /api/team/points/{id}/results': [
        {
          groups: [
            { from: '2026-01-01', to: '2026-02-01', edition: 1, condition },
            { from: '2026-01-01', to: '2026-02-01' },
          ],
        },
      ],
      'POST /api/team/points/{id}/ends': [{ from: '2026-01-01', to: '2026-02-01', edition: 1, condition }],
      'POST /api/team/points/{id}/respondents': [
        { from: '2026-01-01', to: '2026-02-01', answer: { question: 'x', value: 'y' }, at: '2026-01-02T00:00:00Z', id: randomUUID() },
      ],
      'POST /w/unfinished': [
        {
          id: randomUUID(),
          visitor,
          point: points[0]!.key,
          answers: { email: 'a@b.example' },
          settled: ['email'],
          page: 'https://x.example/',
          turn: 1,
          since: 5,
        },
        {
          id: randomUUID(),
          visitor,
          form: 'f',
          answers: { mail: 'a@b.example' },
          settled: ['mail'],
          page: 'https://x.example/',
          turn: 1,
          since: 5,
        },
      ],
      'POST /api/v1/events': [
        { name: 'x', email: 'a@b.example', properties: { a: 1 }, at: new Date().toISOString() },
        { name: 'x', visitor },
      ],
      'PUT /api/team/points/{id}': [
        { revision: 1, name: 'x', definition: point.workingCopy },
        { revision: 1, name: 'x', definition: page.workingCopy },
      ],
      'PUT /api/team/texts': [{ language: 'en', key: 'send', text: 'Send' }],
      'POST /api/team/points/{id}/mail-test': [{ mails: [{ subject: 'S', text: 'T' }] }],
      'POST /api/team/points/{id}/rehearsal': [{ answers: { email: 'a@b.example' }, mail: false }],
      'POST /api/team/points/{id}/publish': [{ revision: 1 }],
      'PUT /api/team/points/{id}/going-live': [{ revision: 1, at: '2031-04-01T07:00:00Z' }],
      'PUT /api/team/points/{id}/slug': [{ slug: 'x-y' }],
      'POST /api/team/points': [{ name: 'x' }, { name: 'x', kind: 'page' }, { name: 'x', copy: points[0]!.id }],
      'POST /api/team/styles': [{ name: 'x', theme }],
      'PUT /api/team/styles/{id}': [{ theme }, {}],
      'PUT /api/team/scorecard': [{ revision: 0, definition: card }],
      'POST /api/team/scorecard/publish': [{ revision: 1 }],
      'PUT /api/team/labels': [
        {
          labels: [
            { key: 'early', name: 'Early', qualified: false, responseTarget: 60 },
            { name: 'New', qualified: true, responseTarget: 5 },
          ],
        },
      ],
      'POST /api/team/scorecard/suggestion': [{ goal: 'won', days: 7, maxRules: 5, sensitive: true }],
      'POST /api/team/scorecard/suggestion/take': [{ revision: 1 }],
      'POST /api/v1/scorecards/learn': [{ rows: [{ a: 1, b: 'x' }, { a: 2 }], outcome: [1, 0], maxRules: 3, seed: 1 }],
      'POST /api/v1/scorecards/score': [{ rules: [{ when: { attribute: 'a', is: 'equal', value: 1 }, points: 2 }], rows: [{ a: 1 }] }],
      'PUT /api/team/plan': [{ revision: 0, definition: plan }],
      'POST /api/team/plan/publish': [{ revision: 1 }],
      'POST /api/team/plan/dry-run': [{ revision: 1, days: 30, speed: 1 }],
      'PUT /api/team/hours': [{ week }],
      'PUT /api/team/members/{id}/hours': [{ week, zone: 'Europe/Paris', mostOpen: 3, languages: ['en'] }],
      'POST /api/team/holidays': [{ from: '2031-05-01', until: '2031-05-02', name: 'x' }],
      'POST /api/team/absences': [{ member: visitor, from: '2031-05-01', until: '2031-05-03', standIn: visit }],
      'POST /api/team/scorecard/dry-run': [{ revision: 1, days: 30, segment: visitor }],
      'POST /api/team/segments': [{ name: 'x', condition }],
      'PUT /api/team/segments/{id}': [{ name: 'x', condition }],
      'POST /api/team/segments/count': [{ condition }],
      'POST /api/team/visits/judged': [{ visit, point: points[0]!.key, tests: [condition.all[0]] }],
      'POST /api/team/hosts': [{ name: 'hello.firm.example' }],
      'PUT /api/team/hosts/{name}': [{ front: points[0]!.id }],
      'PUT /api/team/points/{id}/host': [{ host: 'hello.firm.example' }],
      'POST /api/team/lists': [{ name: 'x' }],
      'PUT /api/team/lists/{id}': [{ name: 'x', removed: false }],
      'POST /api/team/lists/{id}/people': [
        {
          csv: 'E-mail,First name\na@b.example,A\n',
          replace: false,
          dryRun: true,
          columns: ['email', null],
          rows: 'first',
          owners: 'plan',
        },
      ],
      'POST /api/team/lists/{id}/imports/{import}/undo': [{}],
      'POST /api/team/properties': [
        {
          label: 'x',
          kind: 'one_of',
          sensitivity: 'ordinary',
          choices: [
            { value: 'a', text: 'A' },
            { value: 'b', text: 'B' },
          ],
        },
      ],
      'PUT /api/team/properties/{key}': [{ label: 'x', sensitivity: 'ordinary', choices: [] }],
      'PUT /api/team/site': [await (await team('/api/team/site')).json()],
      'PUT /api/team/appearing/order': [{ points: points.map(p => p.id) }],
      'POST /api/team/bell': [{ lead: leads[0]!.id }],
      'POST /api/team/review/let-in': [{ entries: [randomUUID()] }],
      'POST /api/team/review/refuse': [{ entries: [randomUUID()], why: 'x' }],
      'POST /api/team/review/undo': [{ entries: [randomUUID()] }],
      'PUT /api/team/review/apart': [{ leads: [leads[0]!.id, randomUUID()], apart: true }],
      'POST /api/team/merges': [{ kept: leads[0]!.id, gone: randomUUID(), take: ['email'] }],
      'PUT /api/team/leads/{id}/label': [{ label: 'early', how: 'floor', until: '2031-12-01T09:00:00Z', reason: 'x' }, { label: null }],
      'POST /api/team/labels/{key}/join': [{ into: 'early' }],
      'POST /api/team/leads/{id}/notes': [{ text: 'x' }],
      'PUT /api/team/leads/{id}/status': [{ status: 'in_talks' }],
      'POST /api/team/leads/{id}/calls': [{ result: 'reached' }],
      'POST /api/team/bulk': [
        { act: { do: 'tags', add: ['x'], remove: [] }, leads: leads.map(l => l.id) },
        { act: { do: 'status', status: 'in_talks' }, leads: [leads[0]!.id] },
      ],
      'PUT /api/team/statuses': [
        {
          statuses: [
            { key: 'untouched', name: 'Untouched', stage: 'first', asks: [], reasons: [] },
            { key: 'won', name: 'Won', stage: 'won', asks: ['value'], reasons: ['x'] },
          ],
          moves: { lost: 'won' },
        },
      ],
      'PUT /api/team/telling': [{ given: 'hourly', quiet: { from: 1200, until: 420 } }],
      'PUT /api/team/telling/insists': [{ insists: ['waits'] }],
      'POST /api/team/leads': [{ email: 'a@b.example', values: { first_name: 'A', phone: '06 39 98 11 40' }, owner: 'plan', from: 'x' }],
      'PUT /api/team/leads/{id}/properties/{key}': [{ value: 'x', was: null }],
      'PUT /api/team/leads/{id}/sent-back': [{ why: 'too_early', words: 'x' }],
      'PUT /api/team/leads/{id}/meetings/{meeting}': [{ at: '2027-05-03T09:00:00Z', words: 'x' }],
      'PUT /api/team/telling/texts': [{ given: { subject: 'x', text: 'y' } }],
      'PUT /api/team/leads/{id}/notes': [{ of: `${randomUUID()} 3`, text: 'x', was: 'y' }],
      'PUT /api/team/ready-texts/{id}': [{ name: 'A', subject: 'x', body: 'y' }],
      'POST /api/team/views': [{ name: 'A', query: { owner: ['none'], sort: 'name' }, columns: ['label', 'p.town'], shared: true }],
      'PUT /api/team/views/{id}': [{ name: 'A', query: {}, columns: [] }],
      'POST /api/team/leads/{id}/mails': [{ subject: 'x', text: 'y' }],
      'POST /api/team/leads/{id}/undo': [{ of: 3 }],
      'PUT /api/team/leads/{id}/accept': [{ accepts: true }],
      'PUT /api/team/leads/{id}/next-step': [{ text: 'x', due: '2026-12-01T09:00:00Z' }],
      'PUT /api/team/leads/{id}/owner': [{ owner: randomUUID() }],
      'PUT /api/team/leads/{id}/lists': [{ lists: [] }],
      'POST /api/team/keys': [{ name: 'x', scopes: ['leads:read'], days: 3 }],
    },
  }
}

// Signing out ends what all others need; passwords are slow on purpose, and there are tests of their own for them.
const tried = allRoutes().filter(r => !['DELETE /api/session', 'POST /api/session'].includes(`${r.method} ${r.path}`))
describe(`${EACH} malformed requests to each route get an answer that blames them, and break nothing`, () => {
  let good: Awaited<ReturnType<typeof goodBodies>>
  beforeAll(async () => {
    good = await goodBodies()
  })
  it.each(tried.map((r, i) => [`${r.method} ${r.path}`, r, i] as const))(
    '%s',
    async (name, route, seed) => {
      const dice = chance(seed + 1)
      const who: Record<string, string> = route.path.startsWith('/api/v1')
        ? { authorization: `Bearer ${demo.apiKey}` }
        : route.path.startsWith('/api')
          ? { cookie }
          : {}
      const wrong: string[] = []
      for (let n = 0; n < EACH; n += 24) {
        const some = Array.from({ length: Math.min(24, EACH - n) }, () => malformed(route, good.bodies[name] ?? [], good.ids, dice))
        const came = await Promise.all(some.map(r => post(r, who)))
        came.forEach((status, i) => {
          if (status !== null && status >= 500)
            wrong.push(
              `${status} ${some[i]!.method} ${some[i]!.path} ${JSON.stringify(some[i]!.headers)} ${String(some[i]!.body).slice(0, 600)}`,
            )
        })
      }
      expect(wrong).toEqual([])
    },
    30_000 + EACH * 60,
  )
  it('and none of them was met by nobody', () => expect(said).not.toMatch(/uncaught|unhandled/i))
})

describe('what was answered with 500 once', () => {
  const entry = (type: string, body: string | Buffer) =>
    fetch(`${demo.url}/w/points/form_journal/entries`, { method: 'POST', headers: { 'content-type': type }, body: body as string }).then(
      async r => [r.status, ((await r.json()) as { errors?: { field: string }[] }).errors?.map(e => e.field)],
    )
  it.each([
    ['names that every object has', 'application/json', '{"visitor":{"constructor":{}}}', [422, ['visitor.constructor']]],
    ['and deeper', 'application/json', '{"answers":{"email":"a@b.example"},"utm":{"a":{"__proto__":1}}}', [422, ['utm.a.__proto__']]],
    ['arrays 3,000 deep', 'application/json', `${'['.repeat(3000)}${']'.repeat(3000)}`, [400, undefined]],
    [
      'parts without a name',
      'multipart/form-data; boundary=b',
      '--b\r\nContent-Disposition: form-data\r\n\r\n1\r\n--b--\r\n',
      [422, undefined],
    ],
    [
      'a body that ends inside a file',
      'multipart/form-data; boundary=b',
      '--b\r\nContent-Disposition: form-data; name="f"; filename="x.png"\r\n\r\nhalf',
      [400, undefined],
    ],
  ] as const)('%s', async (_, type, body, expected) => expect(await entry(type, body)).toEqual(expected))
  it.each(['https://bücher.example/größe?x=ä', 'https://x.example/a\r\nset-cookie: b=c', 'https://x.example/a b'])(
    'a next address like %j',
    async address => {
      const { id } = (await (await team('/api/team/points', 'POST', { name: `To ${randomUUID()}` })).json()) as { id: string }
      const point = (await (await team(`/api/team/points/${id}`)).json()) as {
        name: string
        revision: number
        key: string
        workingCopy: { questions: object[] }
      }
      const saved = (await (
        await team(`/api/team/points/${id}`, 'PUT', {
          revision: point.revision,
          name: point.name,
          definition: { ...point.workingCopy, next: { kind: 'address', address } },
        })
      ).json()) as { revision: number }
      const live = await team(`/api/team/points/${id}/publish`, 'POST', { revision: saved.revision })
      if (!live.ok) return expect(live.status).toBe(422)
      const answer = await fetch(`${demo.url}/w/points/${point.key}/entries`, {
        method: 'POST',
        redirect: 'manual',
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: `email=${randomUUID()}@guests.example`,
      })
      expect([answer.status, answer.headers.get('location')]).toEqual([303, new URL(address).href])
    },
  )
  it('a style with nothing, a page without thanks, a picture without its file', async () => {
    const pages = (await (await team('/api/team/pages')).json()) as { id: string }[]
    const page = (await (await team(`/api/team/points/${pages[0]!.id}`)).json()) as {
      revision: number
      name: string
      workingCopy: Record<string, unknown> & { blocks: object[] }
    }
    const put = async (definition: object) => {
      const answer = await team(`/api/team/points/${pages[0]!.id}`, 'PUT', { revision: page.revision, name: page.name, definition })
      return [answer.status, ((await answer.json()) as { errors?: { field: string }[] }).errors?.map(e => e.field)]
    }
    const { thanks: _, ...without } = page.workingCopy
    expect(await put(without)).toEqual([422, ['definition.thanks']])
    expect(await put({ ...page.workingCopy, blocks: [{ key: 'p', kind: 'picture', picture: { width: 1, height: 1, alt: '' } }] })).toEqual([
      422,
      ['definition.blocks.0.picture.file'],
    ])
    expect(await put({ ...page.workingCopy, blocks: [null] })).toEqual([422, ['definition.blocks']])
    const style = await team(`/api/team/styles/${randomUUID()}`, 'PUT', {})
    expect([style.status, ((await style.json()) as { errors: { field: string }[] }).errors.map(e => e.field)]).toEqual([422, ['theme']])
  })
  it.each([
    ['the year 0000', '0000-01-01T00:00:00.000000Z 01930000-0000-7000-8000-000000000000'],
    ['36 hyphens', `2026-01-01T00:00:00.000000Z ${'-'.repeat(36)}`],
    ['a day that is none', '2026-02-30T00:00:00.000000Z 01930000-0000-7000-8000-000000000000'],
  ])('a cursor with %s', async (_, cursor) => {
    const answer = await fetch(`${demo.url}/api/v1/leads?cursor=${Buffer.from(cursor).toString('base64url')}`, {
      headers: { authorization: `Bearer ${demo.apiKey}` },
    })
    expect(answer.status).toBe(422)
  })
  it('an attribute named toString breaks no screen', async () => {
    const answer = await team('/api/team/segments', 'POST', {
      name: 'Broken',
      condition: { any: [{ attribute: 'toString', is: 'filled' }] },
    })
    expect([answer.status, ((await answer.json()) as { errors: { field: string }[] }).errors]).toEqual([
      422,
      [{ field: 'condition.any.0.attribute', message: expect.stringContaining('asks for “toString”') }],
    ])
    expect((await team('/api/team/segments')).status).toBe(200)
  })
})

describe('segments within segments', () => {
  it('are refused by what they would become, and before anything is written out', async () => {
    const make = async (name: string, condition: object) => {
      const answer = await team('/api/team/segments', 'POST', { name: `${name} ${randomUUID()}`, condition })
      return { status: answer.status, body: (await answer.json()) as { id: string; errors?: { field: string }[] } }
    }
    const names = (n: number, id: string) => ({ any: Array.from({ length: n }, () => ({ attribute: 'segment', is: 'equal', value: id })) })
    const leaf = await make('Leaf', { attribute: 'tag', is: 'filled' })
    const middle = await make('Middle', names(100, leaf.body.id))
    expect(middle.status).toBe(201)
    const began = Date.now()
    const top = await make('Top', names(100, middle.body.id))
    expect([top.status, top.body.errors!.map(e => e.field)]).toEqual([422, ['condition']])
    const count = await team('/api/team/segments/count', 'POST', { condition: names(100, middle.body.id) })
    expect(count.status).toBe(422)
    // Growing the leaf would make its user too large.
    const grown = await team(`/api/team/segments/${leaf.body.id}`, 'PUT', {
      name: `Leaf ${randomUUID()}`,
      condition: { any: Array.from({ length: 20 }, () => ({ attribute: 'tag', is: 'filled' })) },
    })
    expect([grown.status, JSON.stringify(await grown.json())]).toEqual([422, expect.stringContaining('Middle')])
    expect(Date.now() - began).toBeLessThan(5000)
  })
})

describe('a body that does not come', () => {
  /** Opens a request and sends it drop by drop. */
  const drip = (head: string, drop: string, every: number) =>
    new Promise<string>(done => {
      let got = ''
      const { hostname, port } = new URL(demo.url)
      const socket = openSocket(Number(port), hostname, () => {
        socket.write(head)
        const timer = setInterval(() => socket.writable && socket.write(drop), every)
        socket.on('close', () => {
          clearInterval(timer)
          done(got)
        })
      })
      socket
        .on('data', (text: Buffer) => {
          got += text.toString()
        })
        .on('error', () => {})
      setTimeout(() => socket.destroy(), 60_000).unref()
    })
  const head = (type: string, length: number) =>
    `POST /w/points/form_journal/entries HTTP/1.1\r\nHost: x\r\nContent-Type: ${type}\r\nContent-Length: ${length}\r\n\r\n`
  it.each([
    ['JSON', 'application/json', 50_000, '{'],
    ['a form with files', 'multipart/form-data; boundary=b', 60_000, '--b\r\n'],
  ])('is given up: %s', async (_, type, length, drop) => {
    expect(await drip(head(type, length), drop, 300)).toMatch(/^HTTP\/1\.1 408 /)
  })
  it('holds no memory for long, and many at once are told to wait', async () => {
    // Each brings 20 MB and then nothing more; they come from many places, and a busy machine takes its time to bring them.
    const big = Buffer.alloc(20_000_000, 'x')
    const { id } = (await (await team('/api/team/points', 'POST', { name: `Files ${randomUUID()}` })).json()) as { id: string }
    const point = (await (await team(`/api/team/points/${id}`)).json()) as {
      name: string
      revision: number
      key: string
      workingCopy: { questions: object[] }
    }
    const definition = {
      ...point.workingCopy,
      questions: [...point.workingCopy.questions, { key: 'f', kind: 'file', label: 'File', required: false }],
    }
    const saved = (await (
      await team(`/api/team/points/${id}`, 'PUT', { revision: point.revision, name: point.name, definition })
    ).json()) as { revision: number }
    expect((await team(`/api/team/points/${id}/publish`, 'POST', { revision: saved.revision })).status).toBe(200)
    const { hostname, port } = new URL(demo.url)
    const answers = await Promise.all(
      Array.from(
        { length: 15 },
        (_, i) =>
          new Promise<string>(done => {
            let got = ''
            const socket = openSocket(Number(port), hostname, () => {
              socket.write(
                `POST /w/points/${point.key}/entries HTTP/1.1\r\nHost: x\r\nX-Forwarded-For: 192.0.2.${i + 1}\r\nContent-Type: multipart/form-data; boundary=b\r\nContent-Length: 24000000\r\n\r\n--b\r\nContent-Disposition: form-data; name="f"; filename="x.pdf"\r\n\r\n`,
              )
              socket.write(big)
            })
            socket
              .on('data', (text: Buffer) => {
                got += text.toString()
              })
              .on('error', () => {})
              .on('close', () => done(got.slice(9, 12)))
            setTimeout(() => socket.destroy(), 20_000).unref()
          }),
      ),
    )
    // Which of them find room is chance; that not all do, and that none keeps it, is not.
    // Whoever goes on writing for longer than we listen is cut off, and on a busy machine has not read its answer by then.
    const told = answers.filter(Boolean)
    expect(told.filter(a => a !== '503' && a !== '408')).toEqual([])
    expect(told.length).toBeGreaterThanOrEqual(10)
    expect(answers.filter(a => a === '503').length).toBeGreaterThanOrEqual(5)
    // All of it is free again.
    const data = new FormData()
    data.append('email', 'after@guests.example')
    expect((await fetch(`${demo.url}/w/points/${point.key}/entries`, { method: 'POST', redirect: 'manual', body: data })).status).toBe(303)
  })
})

it('nonsense from a few shuts a form for nobody', async () => {
  const statuses = await Promise.all(
    Array.from({ length: 900 }, (_, i) =>
      send('form_guide', '{}', { 'x-forwarded-for': `192.0.2.${i % 6}` }, demo.url).then(r => r.status),
    ),
  )
  expect(new Set(statuses)).toEqual(new Set([422]))
  expect(
    (await send('form_guide', { email: `valid.${randomUUID()}@guests.example`, first_name: 'V', sector: 'school' }, {}, demo.url)).status,
  ).toBe(201)
})

it('no log holds what people searched for or typed', async () => {
  const word = `Searched${randomUUID().slice(0, 8)}`
  await team(`/api/team/leads?search=${word}`)
  await team(`/api/team/leads/${word}`)
  await Promise.all(Array.from({ length: 6 }, () => team('/api/team/lists', 'POST', { name: word })))
  const sql = connect(house.databaseUrl, { max: 1 })
  await sql.unsafe(`select '${word}'::uuid`).catch(() => {})
  await sql.end()
  expect(said + readFileSync(join(house.place.data, 'postgres.log'), 'utf8')).not.toContain(word)
})

it('the application is still the one that was started', async () => {
  expect(said).not.toMatch(/starting it again/)
  await eventually(async () => (await fetch(`${demo.url}/health`)).status === 200)
})

it('what nobody caught is told without what it says: the application goes on, the worker begins anew', async () => {
  const worker = house.children.worker.pid()
  process.kill(house.children.app.pid()!, 'SIGUSR2')
  process.kill(worker!, 'SIGUSR2')
  await eventually(async () => said.split('unhandledRejection: Error 23505').length === 3 && house.children.worker.pid() !== worker)
  expect(said).not.toContain(WORD)
  expect((await fetch(`${demo.url}/health`)).status).toBe(200)
})
