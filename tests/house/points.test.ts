import { describe, expect, it } from 'vitest'
import type { PointDefinition } from '#core/points/definition'
import { HOUSE_THEME } from '#core/points/theme'
import { STARTERS } from '#core/points/starters'
import { connect } from '#db/client'
import { does, form, q } from '../support/forms'
import { ask, demo, eventually, mails, send, signedIn, somebody } from '../support/house'
import { letIn, reviewed } from '../support/review'

interface Lead {
  id: string
  email: string
  firstName: string | null
  properties: Record<string, string | string[]>
  tags: string[]
}
const leadOf = async (email: string) => (await ask<{ leads: Lead[] }>(`/api/v1/leads?email=${encodeURIComponent(email)}`)).leads[0]
const post = (key: string, fields: [string, string][], headers: Record<string, string> = {}) =>
  fetch(`${demo().url}/w/points/${key}/entries`, {
    method: 'POST',
    redirect: 'manual',
    headers: { 'content-type': 'application/x-www-form-urlencoded', ...headers },
    body: new URLSearchParams(fields).toString(),
  })
async function entriesOf(key: string) {
  const sql = connect(process.env.CAVLIN_TEST_CLUSTER!, { max: 1 })
  try {
    return await sql<
      { state: string; reason: string | null; via: string; edition: number; answers: Record<string, unknown>; leadId: string | null }[]
    >`
      select e.state, e.reason, e.via, d.number as edition, e.answers, e.lead_id from entry e join edition d on d.id = e.edition_id join point p on p.id = e.point_id where p.key = ${key} order by e.at`
  } finally {
    await sql.end()
  }
}

describe('questions of all kinds', () => {
  it('keep what was typed, and what it means, by script and by an ordinary form', async () => {
    const choices = [
      { value: 'leaves', text: 'Leaves', tag: 'salad' },
      { value: 'fruit', text: 'Fruit' },
    ]
    const { key } = await form(d => {
      d.questions.push(
        q('phone', 'phone', { property: 'phone' }),
        q('budget', 'money', { property: 'budget' }),
        q('by', 'date', { property: 'build_by' }),
        q('crops', 'some_of', { property: 'crops', choices }),
        q('roof', 'yes_no', { property: 'roof' }),
        q('site', 'url', { property: 'website' }),
        q('land', 'country', { property: 'country' }),
        q('from', 'short_text', { property: 'campaign', hidden: { from: 'page', value: 'none', parameter: 'utm_campaign' } }),
      )
    })
    const known = {
      phone: '+33142685300',
      budget: '450050',
      build_by: '2027-04-18',
      crops: ['leaves', 'fruit'],
      roof: 'yes',
      website: 'https://firm.example/',
      country: 'FR',
    }
    const typed = { phone: '01 42 68 53 00', budget: '4.500,50 €', by: '18.4.2027', roof: 'yes', site: 'firm.example', land: 'FR' }
    const [first, second] = [somebody('all'), somebody('plain')]
    expect(await send(key, { email: first, ...typed, crops: ['fruit', 'leaves'] })).toMatchObject({ status: 201 })
    expect(await leadOf(first)).toMatchObject({ properties: { ...known, campaign: 'none' }, tags: ['salad'] })
    const answer = await post(key, [
      ['email', second],
      ...Object.entries(typed),
      ['crops', 'leaves'],
      ['crops', 'fruit'],
      ['_page', 'https://site.example/x?utm_campaign=fair&token=secret'],
    ])
    expect(answer.status).toBe(303)
    expect(await leadOf(second)).toMatchObject({ properties: { ...known, campaign: 'fair' }, tags: ['salad'] })
    const [entry] = await entriesOf(key)
    expect(entry!.answers).toMatchObject({ phone: '01 42 68 53 00', budget: '4.500,50 €', crops: ['fruit', 'leaves'] })
  })
  it('are refused one by one when they do not fit, with the marketer’s own words where there are some', async () => {
    const { key } = await form(d => {
      d.questions.push(
        q('phone', 'phone', { error: 'We call you back: a number, please.' }),
        q('age', 'number', { limits: { least: 18, most: null } }),
        q('ok', 'consent', { required: true }),
      )
    })
    const reply = await send(key, { email: somebody(), phone: '1', age: '17' })
    expect(reply.body.errors).toEqual([
      { field: 'answers.phone', message: 'We call you back: a number, please.' },
      { field: 'answers.age', message: 'The least that fits here is 18.' },
      { field: 'answers.ok', message: 'Without this we cannot go on. Tick the box if you agree.' },
    ])
    expect(await entriesOf(key)).toEqual([])
  })
  it('that nobody is asked stand on the lead and in its owner’s mail, also where they fill no property', async () => {
    const { key, as } = await form(d => {
      d.questions.push(
        q('stand', 'short_text', { label: 'Stand', hidden: { from: 'fixed', value: 'Hall 4', parameter: '' } }),
        q('offer', 'short_text', { label: 'Offer', hidden: { from: 'page', value: 'none', parameter: 'offer' } }),
        q('from', 'short_text', {
          label: 'Campaign',
          property: 'campaign',
          hidden: { from: 'page', value: '', parameter: 'utm_campaign' },
        }),
      )
    })
    const email = somebody('unasked')
    expect((await send(key, { email, offer: 'spring', from: 'fair' })).status).toBe(201)
    const mail = await eventually(async () => (await mails()).find(m => m.text.includes(email)))
    expect(mail.text).toContain('Stand: Hall 4\nOffer: spring\n')
    expect(mail.text).not.toContain('Campaign')
    const { timeline, lead } = (await (await as(`/api/team/leads/${(await leadOf(email))!.id}`)).json()) as {
      timeline: object[]
      lead: { properties: object }
    }
    expect(JSON.stringify(timeline)).toContain('"question":"Stand","text":"Hall 4"')
    expect(lead.properties).toEqual({ campaign: 'fair' })
  })
  it('keep the exact words of a consent with their edition', async () => {
    const { key } = await form(d => {
      d.questions.push(q('ok', 'consent', { label: 'You may send me the journal, <four> times a year.', allows: ['journal'] }))
    })
    const email = somebody('agreed')
    await send(key, { email, ok: 'yes' })
    await send(key, { email })
    const sql = connect(process.env.CAVLIN_TEST_CLUSTER!, { max: 1 })
    const rows = await sql`select words, allows, question from consent where lead_id = ${(await leadOf(email))!.id}`
    await sql.end()
    expect(rows).toEqual([{ words: 'You may send me the journal, <four> times a year.', allows: ['journal'], question: 'ok' }])
  })
})

describe('an entry to an edition that is no longer live', () => {
  it('counts against the one it was shown, and is checked by it', async () => {
    const f = await form(d => {
      d.questions.push(q('old', 'short_text', { required: true }))
    })
    const next = structuredClone(f.definition)
    next.questions[1] = q('new', 'short_text', { required: true })
    const { revision } = await f.save(next, f.revision)
    expect((await f.publish(revision)).status).toBe(200)
    const body = (edition: number | undefined, answers: object) => JSON.stringify({ answers, edition, via: 'script' })
    expect((await send(f.key, body(1, { email: somebody(), old: 'x' }))).status).toBe(201)
    expect((await send(f.key, body(2, { email: somebody(), old: 'x' }))).status).toBe(422)
    expect((await send(f.key, body(undefined, { email: somebody(), new: 'x' }))).status).toBe(201)
    // An edition that never was: the live one is meant.
    expect((await send(f.key, body(77, { email: somebody(), new: 'x' }))).status).toBe(201)
    expect((await entriesOf(f.key)).map(e => e.edition)).toEqual([1, 2, 2])
  })
})

describe('what is set aside', () => {
  it('is kept with its reason, makes no lead, and gets the usual answer', async () => {
    const { key } = await form(d => {
      d.questions.push(q('a', 'short_text'), q('b', 'short_text'))
    })
    const email = somebody('machine')
    expect((await send(key, JSON.stringify({ answers: { email }, homepage: 'http://spam.example' }))).status).toBe(201)
    expect((await send(key, JSON.stringify({ answers: { email }, took: 30 }))).status).toBe(201)
    expect(
      (
        await post(key, [
          ['email', email],
          ['_homepage', 'x'],
        ])
      ).status,
    ).toBe(303)
    expect(await leadOf(email)).toBeUndefined()
    expect((await entriesOf(key)).map(e => [e.state, e.reason, e.leadId])).toEqual([
      ['refused', 'trap', null],
      ['refused', 'too_fast', null],
      ['refused', 'trap', null],
    ])
  })
  it('are all, where each entry is held: who approves is told once, at the bell and by mail, with what was said', async () => {
    const orla = await signedIn('orla')
    const { id: me } = (await (await orla('/api/session')).json()) as { id: string }
    const f = await form(d => {
      d.guards = { ...d.guards, hold: true, approvers: [me] }
    })
    const email = somebody('hold')
    const enter = async () => (await send(f.key, { email })).status
    expect(await enter()).toBe(201)
    expect((await ask<{ leads: unknown[] }>(`/api/v1/leads?email=${email}`)).leads).toEqual([])
    type Bell = { notices: { id: string; subject: string; leadId: string | null; readAt: string | null }[] }
    const [notice] = ((await (await orla('/api/team/bell')).json()) as Bell).notices
    expect(notice).toMatchObject({ subject: expect.stringMatching(/^An entry waits for approval: Form/), leadId: null, readAt: null })
    const mail = await eventually(async () => (await mails()).find(m => m.subject === notice!.subject && m.text.includes(email)))
    expect(mail.text).toContain('/qualify/review')
    expect((await orla('/api/team/bell', 'POST', { notice: notice!.id })).status).toBe(204)
    expect(((await (await orla('/api/team/bell')).json()) as Bell).notices.find(n => n.id === notice!.id)!.readAt).not.toBeNull()
    const [waiting] = (await reviewed(orla)).filter(r => JSON.stringify(r).includes(email))
    expect(waiting!.reason).toBe('every_one')
    await letIn(orla, waiting!.id)
    expect((await ask<{ leads: unknown[] }>(`/api/v1/leads?email=${email}`)).leads).toHaveLength(1)
    // Who is known is held as well.
    expect((await send(f.key, { email, message: undefined })).status).toBe(201)
    const gone = await form(d => {
      d.guards = { ...d.guards, approvers: ['01930000-0000-7000-8000-0000000000fd'] }
    })
    expect((await gone.publish(gone.revision)).body.errors!.map(e => e.field)).toEqual(['guards.approvers'])
  })
  it('are people whom the form is not for: held without a word, or told', async () => {
    const held = await form(d => {
      d.people.unknown = 'hold'
    })
    const email = somebody('new')
    expect((await send(held.key, { email })).status).toBe(201)
    expect(await leadOf(email)).toBeUndefined()
    expect((await entriesOf(held.key)).map(e => [e.state, e.reason])).toEqual([['held', 'unknown_person']])
    const closed = await form(d => {
      d.people.unknown = 'refuse'
    })
    const reply = await send(closed.key, { email }, { 'idempotency-key': 'stranger' })
    // Pressed again, it is the same answer and not a thank-you.
    expect(await send(closed.key, { email }, { 'idempotency-key': 'stranger' })).toEqual(reply)
    expect(reply).toMatchObject({ status: 422, body: { detail: expect.stringMatching(/^We do not know this address yet/) } })
    await send('form_journal', { email })
    expect((await send(closed.key, { email })).status).toBe(201)
  })
})

it('does not go live under the name of another, in whichever letters', async () => {
  const [one, two] = [await form(() => {}), await form(() => {})]
  const [mine] = ((await (await one.as('/api/team/points')).json()) as { id: string; name: string }[]).filter(p => p.id === one.id)
  const saved = await two.as(`/api/team/points/${two.id}`, 'PUT', {
    revision: two.revision,
    name: mine!.name.toUpperCase(),
    definition: two.definition,
  })
  const { status, body } = await two.publish(((await saved.json()) as { revision: number }).revision)
  expect([status, body.errors!.map(e => e.field)]).toEqual([422, ['name']])
})

describe("who is refused reads why, in the form's words or ours, however it was sent", () => {
  const refusals: [string, (d: PointDefinition) => void, Record<string, string>, number, number, string][] = [
    [
      'who is unknown',
      d => {
        d.people.unknown = 'refuse'
      },
      {},
      422,
      422,
      'We do not know this address yet, and this form is for people we know. Use the address that we write to you at.',
    ],
    [
      'who is unknown, where people are known by something else',
      d => {
        d.questions = [q('town', 'short_text', { property: 'town', required: true })]
        d.people = { ...d.people, unknown: 'refuse', same: ['town'], refusal: '' }
      },
      {},
      422,
      422,
      'We do not know you yet, and this form is for people we know. Check what you wrote, or write to us.',
    ],
    [
      'in their own words',
      d => {
        d.people = { ...d.people, unknown: 'refuse', refusal: 'Only for <members>.' }
      },
      {},
      422,
      422,
      'Only for <members>.',
    ],
    [
      'who comes too early',
      d => {
        d.closing.from = '2099-01-01T00:00:00Z'
      },
      {},
      410,
      410,
      'This form is not open yet. Come back a little later.',
    ],
    [
      'who comes too late',
      d => {
        d.closing = { ...d.closing, until: '2020-01-01T00:00:00Z', text: 'Over.', early: 'Soon.', full: 'Full.' }
      },
      {},
      410,
      410,
      'Over.',
    ],
    [
      'who comes when it is full',
      d => {
        d.closing = { ...d.closing, entries: 1, text: 'Over.', full: 'The tables are taken.' }
      },
      {},
      410,
      410,
      'The tables are taken.',
    ],
    [
      'who comes from another site',
      d => {
        d.guards = { ...d.guards, origins: ['https://ours.example'], refusal: 'Go to ours.example.' }
      },
      { origin: 'https://theirs.example' },
      403,
      403,
      'Go to ours.example.',
    ],
  ]
  it.each(refusals)('%s', async (_, change, headers, status, statusOfPage, words) => {
    const { key, definition } = await form(change)
    const answers = (): Record<string, string> =>
      definition.questions[0]!.key === 'town' ? { town: somebody('Town') } : { email: somebody('refused') }
    if (definition.closing.entries) expect((await send(key, answers())).status).toBe(201)
    const reply = await send(key, answers(), headers)
    expect([reply.status, reply.body.detail, reply.body.errors]).toEqual([status, words, undefined])
    for (const via of ['plain', 'frame', 'page']) {
      const page = await fetch(`${demo().url}/w/points/${key}/entries`, {
        method: 'POST',
        redirect: 'manual',
        headers: { 'content-type': 'application/x-www-form-urlencoded', accept: 'text/html', ...headers },
        body: new URLSearchParams({ ...answers(), _via: via }),
      })
      const html = await page.text()
      expect([via, page.status, page.headers.get('content-type')]).toEqual([via, statusOfPage, 'text/html; charset=utf-8'])
      expect(html).toContain(words.replace('<', '&#60;').replace('>', '&#62;'))
      expect(html.replace(/<script.*?<\/script>/gs, '')).not.toContain('Something is missing')
    }
  })
})

it('what is known changes only as point and question say', async () => {
  const email = somebody('known')
  await send('form_journal', { email, first_name: 'Ada' })
  const entry = async (change: (d: PointDefinition) => void, answers: object) => {
    const { key } = await form(d => {
      d.questions.push(
        q('first', 'short_text', { property: 'first_name' }),
        q('town', 'short_text', { property: 'town' }),
        q('words', 'long_text', { property: 'message' }),
      )
      change(d)
    })
    expect((await send(key, { email, ...answers })).status).toBe(201)
    return (await leadOf(email))!
  }
  expect(
    await entry(
      d => {
        d.people.known = 'leave'
      },
      { first: 'Bea', town: 'Larkmoss' },
    ),
  ).toMatchObject({ firstName: 'Ada', properties: {} })
  expect(
    await entry(
      d => {
        d.people.known = 'fill'
      },
      { first: 'Bea', town: 'Larkmoss' },
    ),
  ).toMatchObject({ firstName: 'Ada', properties: { town: 'Larkmoss' } })
  expect(
    await entry(
      d => {
        d.questions[2]!.onDifference = 'keep'
      },
      { first: 'Bea', town: 'Quernmoor', words: 'One' },
    ),
  ).toMatchObject({ firstName: 'Bea', properties: { town: 'Larkmoss', message: 'One' } })
  expect(
    await entry(
      d => {
        d.questions[3]!.onDifference = 'add'
      },
      { words: 'Two' },
    ),
  ).toMatchObject({ properties: { message: 'One\nTwo' } })
})

describe('a definition that comes over the wire', () => {
  it('is checked as strictly as in the editor', async () => {
    const f = await form(() => {})
    const bad = async (change: (d: PointDefinition) => void) => {
      const copy = structuredClone(f.definition)
      change(copy)
      const { status, errors } = await f.save(copy, f.revision)
      return [status, errors?.[0]?.field]
    }
    expect(
      await bad(d => {
        d.questions.push(q('x', 'secret' as never))
      }),
    ).toEqual([422, 'definition.questions.1.kind'])
    expect(
      await bad(d => {
        d.questions.push(q('x', 'number', { shownIf: { attribute: 'answer.email', is: 'nearly' } as never }))
      }),
    ).toEqual([422, 'definition.questions.1.shownIf.is'])
    expect(
      await bad(d => {
        d.theme.accent = 'url(javascript:1)'
      }),
    ).toEqual([422, 'definition.theme.accent'])
    expect(
      await bad(d => {
        d.questions.push(q('x', 'number', { limits: { least: {} as never, most: null } }))
      }),
    ).toEqual([422, 'definition.questions.1.limits.least'])
    expect(
      await bad(d => {
        ;(d as unknown as Record<string, unknown>).onload = 'alert(1)'
      }),
    ).toEqual([422, 'definition.onload'])
    // A circle of conditions: each is shown by the other.
    const circle = structuredClone(f.definition)
    circle.questions.push(
      q('a', 'short_text', { required: true, shownIf: { attribute: 'answer.b', is: 'filled' } }),
      q('b', 'short_text', { shownIf: { attribute: 'answer.a', is: 'filled' } }),
    )
    const { status, revision } = await f.save(circle, f.revision)
    expect(status).toBe(200)
    expect(await f.publish(revision)).toMatchObject({ status: 422, body: { errors: [{ field: 'questions.1.shownIf' }] } })
  })
})

describe('a test entry', () => {
  it('goes the whole way through the working copy, says what would come of it, and leaves nothing', async () => {
    const f = await form(d => {
      does(d, 'label', { label: 'marketing_qualified' })
      does(d, 'tag', { tags: ['tried'] })
    })
    const next = structuredClone(f.definition)
    next.questions.push(
      q('first', 'short_text', { property: 'first_name', required: true }),
      q('sector', 'one_of', {
        property: 'sector',
        choices: [
          { value: 'school', text: 'A school' },
          { value: 'private', text: 'Me' },
        ],
      }),
    )
    await f.save(next, f.revision)
    const email = somebody('trial')
    const rehearse = async (answers: object, more = {}) => {
      const answer = await f.as(`/api/team/points/${f.id}/rehearsal`, 'POST', { answers, ...more })
      return { status: answer.status, body: await answer.json() }
    }
    expect(await rehearse({ email })).toMatchObject({ status: 422, body: { errors: [{ field: 'answers.first' }] } })
    const { body } = await rehearse({ email, first: 'Ida', sector: 'school' }, { mail: true })
    expect(body).toMatchObject({
      person: { known: false, name: 'Ida' },
      tags: ['tried'],
      label: 'marketing_qualified',
      because: 'point',
      lane: 'Schools and councils',
      mail: { subject: expect.stringContaining('Ida') },
    })
    expect(body.reasons.filter((r: { axis: string }) => r.axis === 'fit').reduce((n: number, r: { now: number }) => n + r.now, 0)).toBe(
      body.fit,
    )
    expect(await leadOf(email)).toBeUndefined()
    expect(await entriesOf(f.key)).toEqual([])
    expect(await (await f.as(`/api/team/points/${f.id}`)).json()).toMatchObject({ live: { number: 1 } })
    const mail = await eventually(async () => (await mails()).find(m => m.subject.startsWith('Test: ') && m.subject.includes('Ida')))
    expect(mail).toMatchObject({
      to: expect.stringContaining('tamsin@larkmoss.example'),
      text: expect.stringContaining('nothing of it was kept'),
    })
    // Somebody we know is known, and stays as they were.
    await send('form_journal', { email, first_name: 'Ida' })
    expect((await rehearse({ email, first: 'Other' })).body).toMatchObject({
      person: { known: true },
      changed: [{ property: 'first_name', from: 'Ida', to: 'Other' }],
    })
    expect(await leadOf(email)).toMatchObject({ firstName: 'Ida', tags: ['journal'] })
  })
})

describe('letting in', () => {
  it('takes a held entry the whole way, once', async () => {
    const f = await form(d => {
      d.people.unknown = 'hold'
      d.questions.push(q('first', 'short_text', { property: 'first_name' }))
    })
    const email = somebody('held')
    const {
      body: { entry },
    } = await send(f.key, { email, first: 'Hal' })
    const sales = await signedIn('jonah')
    expect((await reviewed(sales)).find(a => a.id === entry)).toMatchObject({
      email,
      state: 'held',
      reason: 'unknown_person',
      answers: [
        { question: 'Your e-mail address', text: email },
        { question: 'first', text: 'Hal' },
      ],
    })
    const both = await Promise.all(
      [1, 2].map(
        async () => (await sales('/api/team/review/let-in', 'POST', { entries: [entry] })).json() as Promise<{ entries: string[] }>,
      ),
    )
    expect(both.flatMap(b => b.entries)).toEqual([entry])
    await letIn(sales, entry!)
    expect(await leadOf(email)).toMatchObject({ firstName: 'Hal' })
    expect((await entriesOf(f.key)).map(e => e.state)).toEqual(['complete'])
    await eventually(async () => (await mails()).find(m => m.subject.includes('Hal')))
  })
  it('can be taken back for a while, and so can a refusal, which says why', async () => {
    const f = await form(d => {
      d.people.unknown = 'hold'
    })
    const email = somebody('undo')
    const {
      body: { entry },
    } = await send(f.key, { email })
    const judge = async (way: string, more = {}) =>
      (await (await f.as(`/api/team/review/${way}`, 'POST', { entries: [entry], ...more })).json()) as { entries: string[] }
    const listed = async () => (await reviewed(f.as)).find(r => r.id === entry)!
    expect(await judge('let-in')).toMatchObject({ entries: [entry] })
    expect((await listed()).letInAt).not.toBeNull()
    expect(await judge('refuse', { why: 'Too late' })).toEqual({ entries: [] })
    expect(await judge('undo')).toEqual({ entries: [entry] })
    expect((await f.as('/api/team/review/refuse', 'POST', { entries: [entry], why: '  ' })).status).toBe(422)
    expect(await judge('refuse', { why: 'A test of ours' })).toEqual({ entries: [entry] })
    expect(await listed()).toMatchObject({ state: 'refused', judged: { why: 'A test of ours' }, letInAt: null })
    expect(await judge('refuse', { why: 'Again' })).toEqual({ entries: [] })
    expect(await judge('undo')).toEqual({ entries: [entry] })
    expect(await listed()).toMatchObject({ state: 'held', judged: null })
    expect((await ask<{ leads: unknown[] }>(`/api/v1/leads?email=${email}`)).leads).toEqual([])
  })
  it('is asked for by a condition on what an entry says, and of whom', async () => {
    const f = await form(d => {
      d.questions.push(
        q('sector', 'one_of', {
          property: 'sector',
          choices: [
            { value: 'private', text: 'Private', tag: null },
            { value: 'school', text: 'School', tag: null },
          ] as never,
        }),
      )
      d.guards = {
        ...d.guards,
        hold: true,
        when: {
          all: [
            { attribute: 'property.sector', is: 'equal', value: 'private' },
            { attribute: 'answer.email', is: 'contains', value: 'cond' },
          ],
        },
      }
    })
    const [held, known] = [somebody('cond'), somebody('cond')]
    await send(f.key, { email: held, sector: 'private' })
    await send(f.key, { email: known, sector: 'school' })
    expect((await reviewed(f.as)).filter(r => r.pointId === f.id)).toMatchObject([{ email: held, reason: 'condition' }])
    expect(await leadOf(known)).toMatchObject({ properties: { sector: 'school' } })
    // The answer of this very entry counts, also of who is known.
    await send(f.key, { email: known, sector: 'private' })
    expect((await reviewed(f.as)).filter(r => r.pointId === f.id)).toHaveLength(2)
    expect(await leadOf(known)).toMatchObject({ properties: { sector: 'school' } })
  })
  it('what looks like a machine is refused by itself, and can be let in', async () => {
    const f = await form(() => {})
    const email = somebody()
    // What a machine was answered names nothing.
    await send(f.key, JSON.stringify({ answers: { email }, homepage: 'x' }))
    const [refused] = (await reviewed(f.as)).filter(r => r.pointId === f.id)
    expect(refused).toMatchObject({ state: 'refused', reason: 'trap', judged: null })
    await letIn(f.as, refused!.id)
    expect(await leadOf(email)).toBeDefined()
  })
})

describe('editions and copies', () => {
  it('tell which plain copy asks an old edition, and let one go back', async () => {
    const f = await form(() => {})
    const page = 'https://firm.example/old'
    await post(f.key, [
      ['email', somebody()],
      ['_via', 'plain'],
      ['_edition', '1'],
      ['_page', page],
    ])
    const { revision } = await f.save({ ...f.definition, title: 'Anew' }, f.revision)
    await f.publish(revision)
    await post(f.key, [
      ['email', somebody()],
      ['_via', 'plain'],
      ['_edition', '1'],
      ['_page', page],
    ])
    await post(f.key, [
      ['email', somebody()],
      ['_via', 'plain'],
      ['_edition', '2'],
      ['_page', 'https://firm.example/new'],
    ])
    const copies = (await (await f.as(`/api/team/points/${f.id}/copies`)).json()) as { page: string; stale: boolean; entries: number }[]
    const row = ((await (await f.as('/api/team/points')).json()) as { key: string; stale: number }[]).find(p => p.key === f.key)
    expect(row).toMatchObject({ stale: 1, closing: { entries: null } })
    expect(copies.map(c => [c.page, c.stale, c.entries]).sort()).toEqual([
      ['https://firm.example/new', false, 1],
      [page, true, 2],
    ])
    expect(await (await f.as(`/api/team/points/${f.id}/editions`)).json()).toMatchObject([
      { number: 2, live: true, entries: 1, madeBy: 'Tamsin Rook' },
      { number: 1, live: false, entries: 2 },
    ])
    expect(await (await f.as(`/api/team/points/${f.id}/editions/1`)).json()).toMatchObject({
      number: 1,
      definition: { title: f.definition.title },
    })
    for (const none of ['9', '0', 'x', '99999999999']) expect((await f.as(`/api/team/points/${f.id}/editions/${none}`)).status).toBe(404)
  })
})

let begun = 0
describe('a new form', () => {
  it('begins blank, with a starter that could go live or lacks only its file, or as a copy', async () => {
    const as = await signedIn('tamsin')
    const begin = async (body: object) => {
      const answer = await as('/api/team/points', 'POST', { name: `Begun ${process.pid} ${++begun}`, ...body })
      const { id } = (await answer.json()) as { id: string }
      return {
        status: answer.status,
        point: id
          ? ((await (await as(`/api/team/points/${id}`)).json()) as { id: string; revision: number; workingCopy: PointDefinition })
          : null,
      }
    }
    for (const starter of STARTERS) {
      const { point } = await begin({ starter: starter.key })
      expect(point!.workingCopy.title).toBe(starter.definition.title)
      const answer = await as(`/api/team/points/${point!.id}/publish`, 'POST', { revision: point!.revision })
      // One that hands something over only wants that.
      const { errors } = (await answer.json()) as { errors?: { field: string }[] }
      expect([answer.status, errors?.map(f => f.field)]).toEqual(
        starter.key === 'guide' ? [422, ['next.file', 'actions.1.goal']] : [200, undefined],
      )
    }
    const { point } = await begin({ starter: 'price' })
    expect((await begin({ copyOf: point!.id })).point!.workingCopy).toEqual(point!.workingCopy)
    expect((await begin({ starter: 'nothing' })).status).toBe(422)
    expect((await begin({ copyOf: '01a0d68e-492b-7000-80c6-d18d899ecf21' })).status).toBe(422)
  })
})

describe('properties', () => {
  it('are added, changed and retired; what is known stays', async () => {
    const as = await signedIn('tamsin')
    const label = `Soil ${process.pid}`
    const put = (key: string, body: object) => as(`/api/team/properties/${key}`, 'PUT', { label, sensitivity: 'private', ...body })
    expect((await as('/api/team/properties', 'POST', { label, kind: 'one_of', sensitivity: 'ordinary' })).status).toBe(422)
    const choices = [
      { value: 'clay', text: 'Clay' },
      { value: 'sand', text: 'Sand' },
    ]
    const { key } = (await (
      await as('/api/team/properties', 'POST', { label, kind: 'one_of', sensitivity: 'ordinary', choices })
    ).json()) as { key: string }
    expect((await as('/api/team/properties', 'POST', { label: label.toUpperCase(), kind: 'date', sensitivity: 'ordinary' })).status).toBe(
      422,
    )
    const f = await form(d => {
      d.questions.push(q('soil', 'one_of', { property: key, choices }))
    })
    const email = somebody('soil')
    await send(f.key, { email, soil: 'clay' })
    expect((await put(key, { retired: true, choices })).status).toBe(204)
    const listed = ((await (await as('/api/team/house')).json()) as { properties: { key: string }[] }).properties.find(p => p.key === key)
    expect(listed).toMatchObject({ retired: true, sensitivity: 'private', choices })
    expect(await leadOf(email)).toMatchObject({ properties: { [key]: 'clay' } })
    expect((await put('email', { retired: true })).status).toBe(422)
    expect((await put('nothing', {})).status).toBe(404)
    expect((await put(key, { choices: [choices[0], { value: 'CLAY', text: 'Again' }] })).status).toBe(422)
    expect(
      (await (await signedIn('jonah'))('/api/team/properties', 'POST', { label: 'Mine', kind: 'date', sensitivity: 'ordinary' })).status,
    ).toBe(403)
  })
})

describe('a form that closes', () => {
  it('takes exactly as many entries as it has places, also when they come at once', async () => {
    const f = await form(d => {
      d.closing = { from: null, until: null, entries: 5, text: 'All five places are taken.', early: '', full: '' }
    })
    const replies = await Promise.all(Array.from({ length: 20 }, () => send(f.key, { email: somebody('place') })))
    expect(replies.filter(r => r.status === 201)).toHaveLength(5)
    expect(replies.find(r => r.status !== 201)).toMatchObject({ status: 410, body: { detail: 'All five places are taken.' } })
    expect(await entriesOf(f.key)).toHaveLength(5)
    expect(await (await fetch(`${demo().url}/w/points/${f.key}`)).json()).toMatchObject({ closed: 'All five places are taken.' })
    expect(await (await fetch(`${demo().url}/p/${f.slug}`)).text()).toContain('All five places are taken.')
    expect((await post(f.key, [['email', somebody()]])).status).toBe(410)
  })
  it('answers the same key as before, though it closed meanwhile', async () => {
    const f = await form(d => {
      d.closing = { from: null, until: null, entries: 1, text: '', early: '', full: '' }
    })
    const email = somebody('last')
    const first = await send(f.key, { email }, { 'idempotency-key': 'last-one' })
    expect(await send(f.key, { email }, { 'idempotency-key': 'last-one' })).toEqual(first)
  })
  it('opens and closes at its moments', async () => {
    const at = (ms: number) => new Date(Date.now() + ms).toISOString()
    const early = await form(d => {
      d.closing = { from: at(60_000), until: null, entries: null, text: '', early: '', full: '' }
    })
    const late = await form(d => {
      d.closing = { from: null, until: at(-1000), entries: null, text: '', early: '', full: '' }
    })
    const open = await form(d => {
      d.closing = { from: at(-1000), until: at(60_000), entries: null, text: '', early: '', full: '' }
    })
    expect(await Promise.all([early, late, open].map(async f => (await send(f.key, { email: somebody() })).status))).toEqual([
      410, 410, 201,
    ])
  })
})

it('closes for those, too, who say that they were shown an earlier edition', async () => {
  const f = await form(() => {})
  const { revision } = await f.save(
    {
      ...f.definition,
      closing: { from: null, until: new Date(Date.now() - 1000).toISOString(), entries: null, text: '', early: '', full: '' },
    },
    f.revision,
  )
  await f.publish(revision)
  expect((await send(f.key, JSON.stringify({ answers: { email: somebody() }, edition: 1 }))).status).toBe(410)
})

describe('an entry from a site', () => {
  it('that is not allowed is refused and kept; from one that is, and from a program, it is taken', async () => {
    const f = await form(d => {
      d.guards.origins = ['https://firm.example']
    })
    const from = async (origin: string | null) => (await send(f.key, { email: somebody('site') }, origin ? { origin } : {})).status
    expect(await Promise.all(['https://other.example', 'null', 'https://firm.example', demo().url, null].map(from))).toEqual([
      403, 403, 201, 201, 201,
    ])
    expect((await entriesOf(f.key)).filter(e => e.state === 'refused').map(e => e.reason)).toEqual(['origin', 'origin'])
  })
})

it('goes on to another address, by script and without', async () => {
  const f = await form(d => {
    d.next = { kind: 'address', address: 'https://firm.example/thanks?from=form' }
  })
  expect((await send(f.key, { email: somebody() })).body.next).toEqual({ kind: 'address', url: 'https://firm.example/thanks?from=form' })
  expect((await post(f.key, [['email', somebody()]])).headers.get('location')).toBe('https://firm.example/thanks?from=form')
  const bad = structuredClone(f.definition)
  bad.next = { kind: 'address', address: 'javascript:alert(1)' }
  const { revision } = await f.save(bad, f.revision)
  expect(await f.publish(revision)).toMatchObject({ status: 422, body: { errors: [{ field: 'next.address' }] } })
})

it('the same answers within a minute are one entry, pressed twice; other answers are another', async () => {
  const f = await form(d => {
    d.questions.push(q('words', 'short_text'))
  })
  const email = somebody('twice')
  const [a, b] = [await send(f.key, { email, words: 'x' }), await send(f.key, { email, words: 'x' })]
  expect(b.body.entry).toBe(a.body.entry)
  const many = await Promise.all(Array.from({ length: 6 }, () => send(f.key, { email, words: 'y' })))
  expect(new Set(many.map(r => r.body.entry)).size).toBe(1)
  expect(await entriesOf(f.key)).toHaveLength(2)
})

describe('a house style', () => {
  it('is followed by all forms that name it, also the live ones, as soon as it changes', async () => {
    const as = await signedIn('tamsin')
    const theme = { ...HOUSE_THEME, accent: '#7a1f5c' }
    const name = `Plum ${process.pid}`
    const { id } = (await (await as('/api/team/styles', 'POST', { name, theme })).json()) as { id: string }
    expect((await as('/api/team/styles', 'POST', { name: name.toUpperCase(), theme })).status).toBe(422)
    const f = await form(d => {
      d.houseStyle = id
    })
    const accent = async () => (await (await fetch(`${demo().url}/w/points/${f.key}`)).json()).theme.accent
    expect(await accent()).toBe('#7a1f5c')
    expect((await as(`/api/team/styles/${id}`, 'PUT', { theme: { ...theme, accent: '#123456' } })).status).toBe(204)
    expect(await accent()).toBe('#123456')
    expect(await (await fetch(`${demo().url}/p/${f.slug}`)).text()).toContain('--cv-accent:#123456')
    expect((await as(`/api/team/styles/${id}`, 'PUT', { theme: { ...theme, accent: 'red' } })).status).toBe(422)
    expect((await (await signedIn('jonah'))(`/api/team/styles/${id}`, 'PUT', { theme })).status).toBe(403)
  })
})

it('gives an owner, sets a next step and tells colleagues, as the form says', async () => {
  const house = (await (await (await signedIn('tamsin'))('/api/team/house')).json()) as {
    members: { id: string; name: string; email: string }[]
  }
  const id = (who: string) => house.members.find(m => m.email.startsWith(who))!.id
  const f = await form(d => {
    d.questions.push(q('first', 'short_text', { property: 'first_name' }), q('size', 'number'))
    does(d, 'owner', { owner: id('desmond') })
    does(d, 'next_step', { text: 'Send the drawing', days: 2 })
    does(d, 'tell', {
      members: [id('tamsin'), id('desmond')],
      when: { attribute: 'answer.size', is: 'at_least', value: 100 },
      subject: 'Large: {{lead.first_name}}, {{answer.size}} m²',
      text: 'Have a look.',
    })
  })
  const [large, small] = [somebody('large'), somebody('small')]
  await send(f.key, { email: large, first: 'Lena', size: '250' })
  await send(f.key, { email: small, first: 'Sam', size: '9' })
  const whole = async (email: string) =>
    (await ask<{ leads: { owner: { email: string }; nextStep: { text: string; due: string } }[] }>(`/api/v1/leads?email=${email}`))
      .leads[0]!
  for (const email of [large, small])
    expect(await whole(email)).toMatchObject({ owner: { email: 'desmond@larkmoss.example' }, nextStep: { text: 'Send the drawing' } })
  const told = await eventually(async () => (await mails()).find(m => m.subject === 'Large: Lena, 250 m²'))
  expect(told).toMatchObject({ to: expect.stringContaining('tamsin@'), text: expect.stringContaining('Have a look.') })
  // The owner is told once, by what owners are told.
  await eventually(async () => (await mails()).find(m => m.to.includes('desmond@') && m.subject.startsWith('Lena')))
  expect((await mails()).filter(m => m.subject.startsWith('Large:'))).toHaveLength(1)
  // Who is owned and has a next step keeps both.
  await send('form_journal', { email: large })
  const other = await form(d => {
    does(d, 'owner', { owner: id('jonah') })
    does(d, 'next_step', { text: 'Other', days: 1 })
  })
  await send(other.key, { email: large })
  expect(await whole(large)).toMatchObject({ owner: { email: 'desmond@larkmoss.example' }, nextStep: { text: 'Send the drawing' } })
})
