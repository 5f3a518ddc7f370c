import Ajv from 'ajv/dist/2020'
import addFormats from 'ajv-formats'
import { describe, expect, it } from 'vitest'
import { ask, demo, eventually, mails, readDatabase, send, signedIn, somebody } from '../support/house'
import { blankDefinition } from '#core/points/definition'
import { firm } from '../../demo/firm'

const VISIT = 'form_visit'
const JOURNAL = 'form_journal'
const raw = (key: string, init: RequestInit) =>
  fetch(`${demo().url}/w/points/${key}/entries`, { method: 'POST', redirect: 'manual', ...init })
const leadsOf = async (email: string) =>
  (await ask<{ leads: { id: string; email: string }[] }>(`/api/v1/leads?email=${encodeURIComponent(email)}`)).leads

describe('bad entries are refused with the fields named, and nothing is stored', () => {
  const who = somebody('never')
  const good = { email: who, first_name: 'N', last_name: 'N', sector: 'school', size: 'large' }
  it.each([
    ['an unknown form', 'nothing', { answers: good }, 404, []],
    ['a form that is not live', 'form_openday', { answers: good }, 404, []],
    ['an unknown answer', VISIT, { answers: { ...good, color: 'red' } }, 422, ['answers.color']],
    ['a wrong type', VISIT, { answers: { ...good, first_name: ['N'] } }, 422, ['answers.first_name']],
    ['a choice that is none', VISIT, { answers: { ...good, size: 'huge' } }, 422, ['answers.size']],
    [
      'missing answers',
      VISIT,
      { answers: { email: who } },
      422,
      ['answers.sector', 'answers.size', 'answers.first_name', 'answers.last_name'],
    ],
    ['no address', JOURNAL, { answers: { email: 'at home' } }, 422, ['answers.email']],
    ['an unknown field', VISIT, { answers: good, admin: true }, 422, ['admin']],
    ['no answers', VISIT, {}, 422, ['answers']],
    ['a list', VISIT, [], 422, ['']],
    ['a bad visitor', VISIT, { answers: good, visitor: 'me' }, 422, ['visitor']],
    ['a bad UTM parameter', VISIT, { answers: good, utm: { source: 7 } }, 422, ['utm.source']],
  ])('%s', async (_, key, body, status, fields) => {
    const reply = await send(key, JSON.stringify(body))
    expect(reply).toMatchObject({ status, type: 'application/problem+json', body: { status } })
    expect((reply.body.errors ?? []).map(e => e.field)).toEqual(fields)
    for (const error of reply.body.errors ?? []) expect(error.message).toMatch(/^[A-Z].*[.!?]$/)
  })
  it.each([
    ['broken JSON', { headers: { 'content-type': 'application/json' }, body: '{"answers":' }, 400],
    ['not UTF-8', { headers: { 'content-type': 'application/json' }, body: new Uint8Array([0x22, 0xff, 0x22]) }, 400],
    ['another content type', { headers: { 'content-type': 'text/plain' }, body: '{}' }, 415],
    [
      'over 64 kB',
      { headers: { 'content-type': 'application/json' }, body: JSON.stringify({ answers: { ...good, message: 'x'.repeat(65_536) } }) },
      413,
    ],
    [
      'a key too long',
      { headers: { 'content-type': 'application/json', 'idempotency-key': 'k'.repeat(300) }, body: JSON.stringify({ answers: good }) },
      422,
    ],
    [
      'a form with ten thousand fields',
      {
        headers: { 'content-type': 'application/x-www-form-urlencoded' },
        body: Array.from({ length: 10_000 }, (_, i) => `f${i}=1`).join('&'),
      },
      413,
    ],
    [
      'a form with a field twice',
      { headers: { 'content-type': 'application/x-www-form-urlencoded' }, body: `email=${who}&email=${who}` },
      422,
    ],
  ])('%s', async (_, init, status) => {
    const answer = await raw(JOURNAL, init)
    expect(answer.status).toBe(status)
    expect(answer.headers.get('content-type')).toBe('application/problem+json')
    expect(await answer.json()).toMatchObject({ type: 'about:blank', status, title: expect.any(String), detail: expect.any(String) })
  })
  it('left no trace of the person', async () => expect(await leadsOf(who)).toEqual([]))
})

describe('a good entry', () => {
  it('is answered 201 and comes out of the open API whole, and by mail', async () => {
    const email = somebody('ada')
    const text = `<script>alert(1)</script> "quoted" \u202eright to left\u202c 🌱\0\n${'long '.repeat(2000)}`.slice(0, 10_000)
    const reply = await send(VISIT, {
      email: ` ${email.toUpperCase()} `,
      first_name: 'Ada',
      last_name: 'Fenwright',
      company: 'Dunlow Academy',
      sector: 'school',
      size: 'large',
      timing: 'this_season',
      message: text,
    })
    expect(reply).toMatchObject({
      status: 201,
      body: { entry: expect.stringMatching(/^[0-9a-f-]{36}$/), next: { kind: 'message', text: expect.stringContaining('Thank you') } },
    })
    const [lead] = (await ask<{ leads: Record<string, never>[] }>(`/api/v1/leads?email=${email}`)).leads as never as {
      properties: { message: string }
      reasons: { axis: string; now: number }[]
      fit: number
      interest: number
      owner: { name: string }
      label: string
      tags: string[]
    }[]
    expect(lead).toMatchObject({
      firstName: 'Ada',
      company: 'Dunlow Academy',
      label: 'marketing_qualified',
      tags: ['visit'],
      status: 'untouched',
      nextStep: null,
      fit: 90,
      interest: 30,
    })
    expect(lead!.properties.message).toBe(text)
    for (const axis of ['fit', 'interest'] as const)
      expect(lead!.reasons.filter(r => r.axis === axis).reduce((n, r) => n + r.now, 0)).toBe(lead![axis])
    expect(['Mireille Vauclair', 'Desmond Oyelaran-Pike']).toContain(lead!.owner.name)
    const mail = await eventually(async () => (await mails()).find(m => m.text.includes(email.toUpperCase())))
    expect(mail.subject).toBe('Ada Fenwright, Dunlow Academy: Ask for a site visit (A school or college)')
    expect(mail.html).not.toContain('<script>')
  })
  it('counts once under one key, and gives the same answer', async () => {
    const email = somebody()
    const headers = { 'idempotency-key': `key-${email}` }
    const [first, ...rest] = await Promise.all(Array.from({ length: 6 }, () => send(JOURNAL, { email }, headers)))
    for (const again of [...rest, await send(JOURNAL, { email }, headers)]) expect(again).toEqual(first)
    expect(first!.status).toBe(201)
    expect((await send(JOURNAL, { email: somebody() }, headers)).status).toBe(422)
  })
  it('may come from a plain form: 303 to the thanks, or the form again with what was typed', async () => {
    const email = somebody()
    const form = (fields: Record<string, string>) =>
      raw(JOURNAL, {
        headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html' },
        body: new URLSearchParams(fields),
      })
    const sent = await form({ email, first_name: 'Plain', _key: email, _page: 'https://somewhere.example/page' })
    expect([sent.status, sent.headers.get('location')]).toEqual([303, '/p/journal/thanks'])
    expect(await (await fetch(`${demo().url}/p/journal/thanks`)).text()).toContain('Nearly there')
    await form({ email, first_name: 'Plain', _key: email })
    expect(await leadsOf(email)).toHaveLength(1)
    const wrong = await form({ email: 'at home', first_name: '"><b>Bo</b>' })
    const html = await wrong.text()
    expect(wrong.status).toBe(422)
    expect(html).toContain('This is not a complete e-mail address')
    expect(html).toContain('value="at home"')
    expect(html).not.toContain('<b>Bo</b>')
  })
  it('may come from any origin, asked first or not', async () => {
    const preflight = await fetch(`${demo().url}/w/points/${JOURNAL}/entries`, {
      method: 'OPTIONS',
      headers: { origin: 'https://elsewhere.example', 'access-control-request-method': 'POST' },
    })
    expect([preflight.status, preflight.headers.get('access-control-allow-origin')]).toEqual([204, '*'])
    expect(preflight.headers.get('access-control-allow-headers')).toContain('idempotency-key')
    const refused = await raw(JOURNAL, { headers: { 'content-type': 'application/json' }, body: '{' })
    expect([refused.status, refused.headers.get('access-control-allow-origin')]).toEqual([400, '*'])
  })
  it.each([
    ['POST', '/w/nothing', 404, 'There is nothing at this address.'],
    ['POST', '/w/', 404, 'There is nothing at this address.'],
    ['POST', '/w', 404, 'There is nothing at this address.'],
    ['POST', `/w/points/${JOURNAL}/nothing`, 404, 'There is nothing at this address.'],
    ['PUT', `/w/points/${JOURNAL}/entries`, 404, 'There is nothing at this address.'],
    ['POST', `/w/points/${JOURNAL.replace('_', '%5F')}/entries`, 400, 'The body is not valid JSON. Check quotes, commas and brackets.'],
    ['POST', `/w/points/${JOURNAL}/entries?page=2`, 400, 'The body is not valid JSON. Check quotes, commas and brackets.'],
  ])('or says what is wrong with where it was sent: %s %s', async (method, path, status, detail) => {
    const answer = await fetch(demo().url + path, { method, headers: { 'content-type': 'application/json' }, body: '{' })
    expect([answer.status, answer.headers.get('content-type'), answer.headers.get('access-control-allow-origin')]).toEqual([
      status,
      'application/problem+json',
      path === '/w' ? null : '*',
    ])
    expect(await answer.json()).toMatchObject({ status, detail })
  })
})

it('slows down one sender, and no other', async () => {
  const from = (ip: string) => ({ 'x-forwarded-for': ip })
  const statuses = await Promise.all(Array.from({ length: 230 }, () => send(JOURNAL, '{}', from('203.0.113.9')).then(r => r.status)))
  expect(statuses.filter(s => s === 429)).toHaveLength(30)
  const refused = await raw(JOURNAL, { headers: { 'content-type': 'application/json', ...from('203.0.113.9') }, body: '{}' })
  expect(Number(refused.headers.get('retry-after'))).toBeGreaterThan(0)
  expect((await send(JOURNAL, '{}', from('203.0.113.10'))).status).toBe(422)
})

describe('the open API', () => {
  const api = (path: string, key = demo().apiKey) => fetch(`${demo().url}/api/v1${path}`, { headers: { authorization: `Bearer ${key}` } })
  it('lets nobody in without a working key', async () => {
    for (const answer of [
      await fetch(`${demo().url}/api/v1/leads`),
      await api('/leads', 'cavlin_wrong'),
      await api('/leads/01a20b97-e822-7000-8009-1614ceec67cd', ''),
    ]) {
      expect(answer.status).toBe(401)
      expect(answer.headers.get('www-authenticate')).toContain('Bearer')
    }
  })
  it('walks through all leads, each once, newest first', async () => {
    const seen: { id: string; createdAt: string }[] = []
    for (let cursor: string | null = ''; cursor !== null;) {
      const page: { leads: typeof seen; next: string | null } = await (await api(`/leads?limit=37${cursor && `&cursor=${cursor}`}`)).json()
      seen.push(...page.leads)
      cursor = page.next
    }
    expect(new Set(seen.map(l => l.id)).size).toBe(seen.length)
    expect(seen.length).toBeGreaterThan(200)
    expect(seen.map(l => l.createdAt)).toEqual(
      seen
        .map(l => l.createdAt)
        .sort()
        .reverse(),
    )
  })
  it('filters, and refuses what it cannot read', async () => {
    const { leads } = (await (await api('/leads?label=sales_ready&status=untouched&status=in_talks')).json()) as {
      leads: { label: string; status: string }[]
    }
    expect(leads.length).toBeGreaterThan(0)
    for (const lead of leads) expect([lead.label, ['untouched', 'in_talks'].includes(lead.status)]).toEqual(['sales_ready', true])
    expect(((await (await api('/leads?email=nonsense')).json()) as { leads: [] }).leads).toEqual([])
    for (const query of ['?limit=0', '?limit=x', '?cursor=zzz', '?owner=me', '?colour=red', '?email=a@b.example&email=c@d.example'])
      expect((await api(`/leads${query}`)).status).toBe(422)
    for (const id of ['nonsense', '01a20b97-e822-7000-8009-1614ceec67cd', '%00']) expect((await api(`/leads/${id}`)).status).toBe(404)
  })
  it('is what its description says', async () => {
    const description = (await (await fetch(`${demo().url}/api/v1/openapi.json`)).json()) as {
      openapi: string
      components: { schemas: Record<string, object> }
      paths: Record<string, Record<string, { responses: Record<string, { content: Record<string, { schema: object }> }> }>>
    }
    expect(description.openapi).toBe('3.1.0')
    const ajv = new Ajv({ strict: false })
    addFormats(ajv)
    ajv.addSchema({ components: description.components }, 'api')
    const matches = (path: string, method: string, status: number, type: string, value: unknown) => {
      const { schema } = description.paths[path]![method]!.responses[status]!.content[type]!
      const validate = ajv.compile(JSON.parse(JSON.stringify(schema).replaceAll('"#/', '"api#/')) as object)
      expect(validate(value) ? [] : validate.errors).toEqual([])
    }
    // What is read is described by the classes that read it, each reference leading somewhere.
    const named = [...JSON.stringify(description).matchAll(/#\/components\/schemas\/(\w+)/g)].map(m => m[1]!)
    expect(named.filter(name => !description.components.schemas[name])).toEqual([])
    const fits = (name: string, value: unknown) => ajv.validate(`api#/components/schemas/${name}`, value)
    expect([
      fits('Entry', { answers: {}, page: null, took: 5 }),
      fits('Entry', { answers: 'x' }),
      fits('Entry', { answers: {}, via: 'pigeon' }),
      fits('Entry', { answers: {}, else: 1 }),
    ]).toEqual([true, false, false, false])
    expect([fits('AddedEvent', { name: 'Bought', email: 'a@b.example' }), fits('AddedEvent', { email: 'a@b.example' })]).toEqual([
      true,
      false,
    ])
    const point = blankDefinition('T')
    const NAMES = {
      point: 'PointDefinition',
      page: 'PageDefinition',
      scorecard: 'Scorecard',
      routing: 'RoutingPlan',
      segment: 'Condition',
    } as const
    const demos = firm('2026-01-01T00:00:00Z').flatMap(line =>
      line.kind in NAMES
        ? [
            [
              line.kind,
              fits(
                NAMES[line.kind as keyof typeof NAMES],
                line.kind === 'segment' ? line.condition : (line as { definition: unknown }).definition,
              ),
            ],
          ]
        : [],
    )
    expect(new Set(demos.map(([kind]) => kind)).size).toBe(5)
    expect([fits('PointDefinition', point), ...demos.filter(([, fit]) => !fit)]).toEqual([true])
    expect(fits('PointDefinition', { ...point, actions: [{ key: 'a', kind: 'launch' }] })).toBe(false)
    const all = [
      { attribute: 'label', is: 'one_of', value: ['hot'] },
      { attribute: 'tag', is: 'filled' },
    ]
    expect(
      [
        { all },
        { none: [{ any: all }] },
        { did: 'page', where: { attribute: 'page.path', is: 'starts_with', value: '/prices' }, times: 3, days: null },
        { did: 'file' },
      ].map(c => fits('Condition', c)),
    ).toEqual([true, true, true, true])
    expect(
      [
        { all, any: all },
        { attribute: 'tag', is: 'nearly', value: 'x' },
        { all: [{ tag: 'x' }] },
        { did: 'sleep' },
        { did: 'page', times: 0 },
      ].map(c => fits('Condition', c)),
    ).toEqual([false, false, false, false, false])
    const page = (await (await api('/leads?limit=100')).json()) as { leads: { id: string }[] }
    matches('/api/v1/leads', 'get', 200, 'application/json', page)
    matches('/api/v1/leads/{id}', 'get', 200, 'application/json', await (await api(`/leads/${page.leads[0]!.id}`)).json())
    matches('/api/v1/leads/{id}', 'get', 404, 'application/problem+json', await (await api('/leads/x')).json())
    matches('/w/points/{key}', 'get', 200, 'application/json', await (await fetch(`${demo().url}/w/points/${VISIT}`)).json())
    matches('/w/points/{key}/entries', 'post', 201, 'application/json', (await send(JOURNAL, { email: somebody() })).body)
    matches('/w/points/{key}/entries', 'post', 422, 'application/problem+json', (await send(JOURNAL, {})).body)
  })
  it('keeps of a key nothing that opens', async () => {
    const admin = await signedIn('orla')
    const { key } = (await (await admin('/api/team/keys', 'POST', { name: 'A test', scopes: ['leads:read'], days: 30 })).json()) as {
      key: string
    }
    expect((await api('/leads?limit=1', key)).status).toBe(200)
    const keys = (await (await admin('/api/team/keys')).json()) as { id: string; name: string }[]
    expect(JSON.stringify(keys)).not.toContain(key)
    await admin(`/api/team/keys/${keys.find(k => k.name === 'A test')!.id}/revoked`, 'PUT', { revoked: true })
    expect((await api('/leads?limit=1', key)).status).toBe(401)
  })
})

describe('members', () => {
  it('do what their role may, and are refused the rest', async () => {
    const [sales, marketer, admin] = (await Promise.all(['jonah', 'tamsin', 'orla'].map(signedIn))) as [
      Awaited<ReturnType<typeof signedIn>>,
      Awaited<ReturnType<typeof signedIn>>,
      Awaited<ReturnType<typeof signedIn>>,
    ]
    const {
      leads: [lead],
    } = (await (await sales('/api/team/leads?size=1')).json()) as { leads: { id: string }[] }
    const points = (await (await sales('/api/team/points')).json()) as { id: string }[]
    const status = async (as: typeof sales, path: string, method: string, body?: unknown) => (await as(path, method, body)).status
    const note = [`/api/team/leads/${lead!.id}/notes`, 'POST', { text: 'x' }] as const
    const make = ['/api/team/points', 'POST', { name: `By role ${Date.now()}` }] as const
    const put = [`/api/team/points/${points[0]!.id}/archived`, 'PUT', { archived: false }] as const
    expect([await status(sales, ...note), await status(marketer, ...note), await status(admin, ...note)]).toEqual([200, 403, 200])
    expect([await status(sales, ...make), await status(marketer, ...make)]).toEqual([403, 201])
    expect([
      await status(sales, ...put),
      await status(sales, '/api/team/keys', 'GET'),
      await status(marketer, '/api/team/keys', 'GET'),
    ]).toEqual([403, 403, 403])
    for (const path of [
      'today',
      'funnel',
      'house',
      'leads',
      'points',
      'qualify',
      'route',
      'reports',
      'bell',
      'keys',
      'live',
      `leads/${lead!.id}`,
    ])
      expect([path, (await fetch(`${demo().url}/api/team/${path}`)).status]).toEqual([path, 401])
  })
})

it('takes next steps only with a time that exists, and says so in one sentence a field', async () => {
  const sales = await signedIn('jonah')
  const {
    leads: [lead],
  } = (await (await sales('/api/team/leads?size=1')).json()) as { leads: { id: string }[] }
  const step = (body: unknown) => sales(`/api/team/leads/${lead!.id}/next-step`, 'PUT', body)
  for (const due of ['2026-W48', '2026-02-30T10:00:00Z', '+275760-09-13T00:00:00Z', '2026-11-24', 'tomorrow', 7, null, undefined]) {
    const answer = await step({ text: 'Call', due })
    expect([due, answer.status, ((await answer.json()) as { errors: unknown[] }).errors]).toEqual([
      due,
      422,
      [{ field: 'due', message: 'Say when it is due, as a date and time.' }],
    ])
  }
  expect((await step({ text: 'Call', due: '2026-12-01T09:00:00+01:00' })).status).toBe(200)
  expect((await step({ text: null })).status).toBe(200)
  const wrong = await sales(`/api/team/leads/${lead!.id}/status`, 'PUT', { status: null })
  expect(((await wrong.json()) as { errors: unknown[] }).errors).toEqual([{ field: 'status', message: 'Status must be a string.' }])
})

it('says of a rule which of the open leads on the square have points by it', async () => {
  const sales = await signedIn('jonah')
  const get = async <T>(path: string) => (await (await sales(`/api/team/scorecard/${path}`)).json()) as T
  const { ids } = await get<{ ids: string[] }>('square')
  const {
    live: { definition },
  } = await get<{ live: { definition: { fit: { key: string }[]; interest: { key: string }[] } } }>('')
  let some = 0
  for (const rule of [definition.fit[0]!.key, definition.interest[0]!.key, 'no-such-rule']) {
    const touched = await get<{ ids: string[] }>(`touched?rule=${rule}`)
    const sure = await readDatabase(
      sql => sql<{ id: string }[]>`
      select l.id from lead l where exists (select from jsonb_array_elements(l.reasons) r where r->>'rule' = ${rule}) and l.id = any(${ids}::uuid[])`,
    )
    expect([rule, touched.ids.toSorted()]).toEqual([rule, sure.map(r => r.id).sort()])
    some += touched.ids.length
  }
  expect(some).toBeGreaterThan(0)
  expect((await sales('/api/team/scorecard/touched')).status).toBe(400)
})

describe('a form in the making', () => {
  it('goes live by itself at its moment, as it was when that was planned, and says what kept it from that', async () => {
    const marketer = await signedIn('tamsin')
    const name = `Opens later ${Date.now()}`
    const { id } = (await (await marketer('/api/team/points', 'POST', { name })).json()) as { id: string }
    type View = {
      key: string
      revision: number
      workingCopy: { title: string; questions: object[] }
      live: { number: number; revision: number; madeBy: string; definition: { title: string } } | null
      goingLive: { at: string; revision: number; by: string; flaw: string | null } | null
    }
    const view = async () => (await (await marketer(`/api/team/points/${id}`)).json()) as View
    const save = async (definition: object) =>
      (
        (await (await marketer(`/api/team/points/${id}`, 'PUT', { revision: (await view()).revision, name, definition })).json()) as {
          revision: number
        }
      ).revision
    const plan = async (at: number | string, revision?: number) =>
      marketer(`/api/team/points/${id}/going-live`, 'PUT', {
        revision: revision ?? (await view()).revision,
        at: typeof at === 'string' ? at : new Date(Date.now() + at).toISOString(),
      })
    const { workingCopy } = await view()
    expect((await plan(-60_000)).status).toBe(422)
    expect((await plan(400 * 86_400_000)).status).toBe(422)
    expect((await plan('tomorrow')).status).toBe(422)
    expect((await plan(60_000, 99)).status).toBe(409)
    await save({ ...workingCopy, questions: [] })
    expect((await plan(60_000)).status).toBe(422)
    await save({ ...workingCopy, title: 'As it was' })
    expect((await plan(3_600_000)).status).toBe(200)
    expect(await (await marketer(`/api/team/points/${id}/going-live`, 'DELETE')).json()).toMatchObject({ goingLive: null })
    expect((await plan(1500)).status).toBe(200)
    const planned = (await view()).revision
    await save({ ...workingCopy, title: 'Changed since' })
    expect(await view()).toMatchObject({ live: null, goingLive: { revision: planned, by: expect.stringContaining('Tamsin'), flaw: null } })
    const live = await eventually(async () => (await view()).live)
    expect(live).toMatchObject({ number: 1, revision: planned, definition: { title: 'As it was' } })
    expect((await view()).goingLive).toBeNull()
    expect((await send((await view()).key, { email: somebody() })).status).toBe(201)

    // What is made live by hand is newer than what was planned before.
    await plan(3_600_000)
    expect((await marketer(`/api/team/points/${id}/publish`, 'POST', { revision: (await view()).revision })).status).toBe(200)
    expect((await view()).goingLive).toBeNull()

    // Another form took its name meanwhile: it stays as it is, and whoever planned it hears.
    await plan(4000)
    const other = (await (await marketer('/api/team/points', 'POST', { name: `${name} too` })).json()) as { id: string }
    const otherView = (await (await marketer(`/api/team/points/${other.id}`)).json()) as View
    expect((await marketer(`/api/team/points/${other.id}`, 'PUT', { revision: 1, name, definition: otherView.workingCopy })).status).toBe(
      200,
    )
    const flaw = await eventually(async () => (await view()).goingLive?.flaw)
    expect(flaw).toContain('is called')
    expect((await view()).live!.number).toBe(2)
    const mail = await eventually(async () => (await mails()).find(m => m.subject === `“${name}” could not go live`))
    expect([mail.to, mail.text.includes(flaw)]).toEqual(['tamsin@larkmoss.example', true])
    const { broken } = (await (await marketer('/api/team/today/points')).json()) as { broken: { id: string; why: string }[] }
    expect(broken.find(b => b.id === id)!.why).toContain(flaw)
    await marketer(`/api/team/points/${other.id}/archived`, 'PUT', { archived: true })
    // What was put away does not go live the moment it is brought back.
    expect((await plan(3_600_000)).status).toBe(200)
    for (const archived of [true, false]) expect((await marketer(`/api/team/points/${id}/archived`, 'PUT', { archived })).status).toBe(204)
    expect((await view()).goingLive).toBeNull()
    await marketer(`/api/team/points/${id}/archived`, 'PUT', { archived: true })
  })
  it('goes live only when nothing stops it, and is overwritten by nobody who did not see it', async () => {
    const marketer = await signedIn('tamsin')
    const { id } = (await (await marketer('/api/team/points', 'POST', { name: `Waiting list ${Date.now()}` })).json()) as { id: string }
    const point = (await (await marketer(`/api/team/points/${id}`)).json()) as {
      key: string
      slug: string
      name: string
      revision: number
      workingCopy: { questions: object[] }
    }
    const save = (revision: number, definition: object) =>
      marketer(`/api/team/points/${id}`, 'PUT', { revision, name: point.name, definition })
    expect((await send(point.key, { email: somebody() })).status).toBe(404)
    const empty = (await (await save(1, { ...point.workingCopy, questions: [] })).json()) as { revision: number }
    const refused = await marketer(`/api/team/points/${id}/publish`, 'POST', { revision: empty.revision })
    expect([refused.status, ((await refused.json()) as { errors: { field: string }[] }).errors[0]!.field]).toEqual([422, 'questions'])
    expect((await save(1, point.workingCopy)).status).toBe(409)
    const { revision } = (await (await save(empty.revision, point.workingCopy)).json()) as { revision: number }
    expect((await marketer(`/api/team/points/${id}/publish`, 'POST', { revision: 1 })).status).toBe(409)
    expect((await marketer(`/api/team/points/${id}/publish`, 'POST', { revision })).status).toBe(200)
    expect((await send(point.key, { email: somebody() })).status).toBe(201)
    expect((await save(revision, { ...point.workingCopy, version: 9 })).status).toBe(422)
    expect((await marketer(`/api/team/points/${id}/archived`, 'PUT', { archived: true })).status).toBe(204)
    expect((await send(point.key, { email: somebody() })).status).toBe(404)
  })
})
