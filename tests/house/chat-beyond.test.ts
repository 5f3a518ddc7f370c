import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ConversationsView, ConversationView } from '#core/chat/team'
import { blankQuestion } from '#core/points/definition'
import { mailUnread } from '#server/chat/by-mail'
import { readRuleset } from '#server/ruleset'
import { browserId } from '#server/trail/browser'
import { demo, eventually, member, readDatabase, send, signedIn, somebody, type Mail } from '../support/house'
import { alwaysThere, hoursAsBefore, liveChat, read, visitorIn } from '../support/live-chat'

type Visitor = Awaited<ReturnType<typeof visitorIn>>
const TAKEN_IN = 'name: ask first_name\nmail: ask email\ntake: do take in\nperson: hand over to plan\n'
const PNG = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg==', 'base64')
const PDF = Buffer.from('%PDF-1.4\n1 0 obj<</Type/Catalog>>endobj\ntrailer<</Root 1 0 R>>\n%%EOF\n')

let mireille: Awaited<ReturnType<typeof signedIn>>
let id = ''
beforeAll(async () => {
  id = await alwaysThere('mireille')
  mireille = await signedIn('mireille')
})

afterAll(hoursAsBefore)

/** Somebody who said who they are, and whom Mireille has answered. */
async function answered(
  words: string,
  script = TAKEN_IN,
): Promise<{ v: Visitor; email: string; chat: Awaited<ReturnType<typeof liveChat>> }> {
  const chat = await liveChat(script)
  const v = await visitorIn(chat.key)
  const email = somebody('talk')
  await v.answer('Edda')
  await v.answer(email)
  await v.text('Is there a discount for schools?')
  expect((await says(v.id, words)).status).toBe(201)
  return { v, email, chat }
}
const says = (talk: string, text: string, more: object = {}) =>
  read<ConversationView>(mireille, `/api/team/conversations/${talk}/messages`, 'POST', {
    message: randomUUID(),
    text,
    after: 1000,
    ...more,
  })
const seen = async (talk: string) => (await read<ConversationView>(mireille, `/api/team/conversations/${talk}`)).body
/** As if they had left some minutes ago. */
const leave = (talk: string) => readDatabase(sql => sql`update message set at = at - interval '3 minutes' where conversation_id = ${talk}`)
type Kept = Mail & { id: string }
const arrived = (email: string) =>
  eventually(async () =>
    ((await (await fetch(`${demo().standins.mailbox}/api/messages`)).json()) as Kept[]).findLast(
      m => m.to === email && /answered you/.test(m.subject),
    ),
  )
const reply = (mail: Kept, body: object) =>
  fetch(`${demo().standins.mailbox}/api/messages/${mail.id}/answer`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })

describe('a conversation whose visitor has left', () => {
  it('goes on by mail, once, and what they answer there stands in it', async () => {
    const { v, email, chat } = await answered('Ten per cent.')
    await says(v.id, 'And we come and look first.')
    await leave(v.id)
    const mail = await arrived(email)
    expect(mail.from).toContain(member('mireille').name)
    expect(mail.text).toMatch(/^Ten per cent\.\s+And we come and look first\.\s+Mireille[\s\S]*> Is there a discount for schools\?/)
    expect((await seen(v.id)).lines.at(-1)).toMatchObject({ by: 'house', more: { kind: 'mailed', to: email } })
    await v.text('x').catch(() => {})
    expect(await readDatabase(async sql => mailUnread(sql, () => readRuleset(sql), new Date(Date.now() + 600_000)))).not.toContain(v.id)

    expect((await reply(mail, { text: 'Then do come on Monday.\n\n-- \nEdda Moss\nHead of garden' })).status).toBe(202)
    const after = await eventually(async () => {
      const now = await seen(v.id)
      return now.lines.some(l => l.more?.kind === 'mail') && now
    })
    const line = after.lines.find(l => l.more?.kind === 'mail')!
    expect(line).toMatchObject({
      by: 'visitor',
      text: 'Then do come on Monday.',
      more: { from: null, auto: false, quoted: expect.stringContaining('Head of garden') },
    })
    expect([after.state, after.member]).toEqual(['talking', id])
    expect((await read<{ waiting: { id: string }[] }>(mireille, '/api/team/conversations/waiting')).body.waiting.map(w => w.id)).toContain(
      v.id,
    )

    // From somebody else's address, or by a program: for us to judge, never shown to the visitor.
    await reply(mail, { text: 'I am away', auto: true })
    await reply(mail, { text: 'Hello from elsewhere', from: 'stranger@elsewhere.example' })
    const both = await eventually(async () => {
      const now = await seen(v.id)
      return now.lines.filter(l => l.more?.kind === 'mail').length === 3 && now
    })
    expect(both.lines.flatMap(l => (l.more?.kind === 'mail' ? [[l.text, l.more.auto, l.more.from]] : []))).toEqual(
      expect.arrayContaining([
        ['I am away', true, null],
        ['Hello from elsewhere', false, 'stranger@elsewhere.example'],
      ]),
    )
    await v.text('I am back')
    expect(v.said()).toContain('visitor: Then do come on Monday.')
    expect(v.said().join(' ')).not.toMatch(/elsewhere|I am away/)
    expect(chat.key).toBeTruthy()
  })

  it('begins another when the one that the mail answers is over', async () => {
    const { v, email } = await answered('Yes.')
    await leave(v.id)
    const mail = await arrived(email)
    expect((await read(mireille, `/api/team/conversations/${v.id}/end`, 'POST', {})).status).toBe(200)
    await reply(mail, { text: 'One more question' })
    await reply(mail, { text: 'And another' })
    const lead = (await seen(v.id)).lead!.id
    const talks = await eventually(async () => {
      const { rows } = (await read<ConversationsView>(mireille, `/api/team/conversations?lead=${lead}`)).body
      const fresh = rows.find(r => r.id !== v.id)
      return fresh && (await seen(fresh.id)).lines.length === 2 && rows
    })
    expect(talks.map(t => [t.id === v.id, t.state, t.member])).toEqual(
      expect.arrayContaining([
        [true, 'ended', id],
        [false, 'waiting', id],
      ]),
    )
    expect(talks).toHaveLength(2)
    expect((await readDatabase(sql => sql`select began_by from conversation where id = ${talks.find(t => t.id !== v.id)!.id}`))[0]).toEqual(
      { beganBy: 'mail' },
    )
  })

  it('is not written to where they read it, and not to an address that nobody vouched for', async () => {
    const { v, email } = await answered('Hello?')
    await v.text('Yes, I am here')
    await leave(v.id)
    const due = () => readDatabase(sql => mailUnread(sql, () => readRuleset(sql), new Date()))
    expect(await due()).not.toContain(v.id)
    await says(v.id, 'Good.')
    await leave(v.id)
    await readDatabase(sql => sql`update lead set guarded_at = now() where email = ${email}`)
    expect(await due()).not.toContain(v.id)
  })
})

describe('files in a conversation', () => {
  async function files(v: Pick<Visitor, 'id' | 'secret'>, sent: [name: string, content: Buffer][], more: Record<string, string> = {}) {
    const form = new FormData()
    for (const [name, value] of Object.entries({ id: v.id, secret: v.secret, after: '0', message: randomUUID(), ...more }))
      form.append(name, value)
    for (const [name, content] of sent) form.append('file', new Blob([new Uint8Array(content)]), name)
    const answer = await fetch(`${demo().url}/w/chats/files`, { method: 'POST', body: form })
    return {
      status: answer.status,
      body: (await answer.json()) as {
        detail?: string
        errors?: { message: string }[]
        lines: { n: number; text: string; by: string; files?: { name: string; url: string; isPicture: boolean }[] }[]
      },
    }
  }

  it('go both ways, are shown to whom they are for, and to nobody who guesses', async () => {
    const chat = await liveChat('hello: say Hello.\nperson: hand over to plan\n')
    const v = await visitorIn(chat.key)
    const message = randomUUID()
    const sent = await files(
      v,
      [
        ['garden.png', PNG],
        ['sketch.pdf', PDF],
      ],
      { message },
    )
    expect(sent.status).toBe(200)
    const line = sent.body.lines.find(l => l.files)!
    expect([line.text, line.files!.map(f => f.isPicture)]).toEqual(['garden.png, sketch.pdf', [true, false]])
    const got = await fetch(line.files![0]!.url)
    expect([got.status, got.headers.get('content-type'), Buffer.from(await got.arrayBuffer()).equals(PNG)]).toEqual([
      200,
      'image/png',
      true,
    ])
    const address = line.files![0]!.url
    expect((await fetch(`${address.slice(0, -1)}${address.endsWith('A') ? 'B' : 'A'}`)).status).toBe(404)
    // The same again is one.
    await files(
      v,
      [
        ['garden.png', PNG],
        ['sketch.pdf', PDF],
      ],
      { message },
    )
    const [kept] = await readDatabase(
      sql =>
        sql`select count(*)::int as files, (select count(*)::int from message where conversation_id = ${v.id} and more->>'kind' = 'files') as lines from file where conversation_id = ${v.id}`,
    )
    expect(kept).toEqual({ files: 2, lines: 1 })

    const form = new FormData()
    for (const [name, value] of [
      ['message', randomUUID()],
      ['note', 'false'],
      ['after', '1000'],
    ])
      form.append(name!, value!)
    form.append('file', new Blob([new Uint8Array(PDF)]), 'offer.pdf')
    const cookie = (await import('../support/house')).cookieOf
    const answer = await fetch(`${demo().url}/api/team/conversations/${v.id}/files`, {
      method: 'POST',
      headers: { cookie: await cookie('mireille') },
      body: form,
    })
    expect(answer.status).toBe(201)
    await v.text('Thank you')
    const theirs = v.lines().find(l => l.by === 'member')!
    expect(theirs.files).toMatchObject([{ name: 'offer.pdf', isPicture: false }])
    const [file] = await readDatabase(
      sql => sql<{ id: string }[]>`select id from file where conversation_id = ${v.id} and made_by is not null`,
    )
    expect((await mireille(`/api/team/files/${file!.id}`)).status).toBe(200)
  })

  it('that lie, are too many, or come where something else is asked, are refused with what to do, and nothing of them stays', async () => {
    const chat = await liveChat('what: ask what\nperson: hand over to plan\n')
    const v = await visitorIn(chat.key)
    expect((await files(v, [['garden.png', PNG]])).status).toBe(409)
    await v.answer('A house')
    const lying = await files(v, [['garden.png', PDF]])
    expect([lying.status, lying.body.errors![0]!.message]).toEqual([422, expect.stringContaining('not what its name says')])
    expect(
      (
        await files(
          v,
          Array.from({ length: 6 }, (_, i) => [`${i}.pdf`, PDF] as [string, Buffer]),
        )
      ).status,
    ).toBe(422)
    expect((await files(v, [])).status).toBe(422)
    expect((await files({ id: v.id, secret: 'x'.repeat(43) }, [['a.pdf', PDF]])).status).toBe(404)
    expect((await files(v, [['a.pdf', PDF]], { after: 'soon' })).status).toBe(422)
    expect(
      (await fetch(`${demo().url}/w/chats/files`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' })).status,
    ).toBe(415)
    expect(await readDatabase(sql => sql`select 1 from file where conversation_id = ${v.id}`)).toEqual([])
  })

  it('answer a question for them, and come with the entry', async () => {
    const chat = await liveChat('plan: ask plan\nmail: ask email\ntake: do take in\nbye: end unrated: Thank you.\n', d => {
      d.questions.push(blankQuestion({ key: 'plan', kind: 'file', label: 'Have you got a plan?', required: true }))
    })
    expect(chat.errors).toEqual([])
    const v = await visitorIn(chat.key)
    await v.text('I have none')
    expect(v.said().at(-1)).toMatch(/^flow: .*file/i)
    expect((await v.answer('plan.pdf')).status).toBe(422)
    const asked = v.lines().findLast(l => l.html)!
    const sent = await files(v, [['plan.pdf', PDF]], { to: String(asked.n) })
    expect([sent.status, sent.body.lines.at(-1)]).toMatchObject([200, { what: 'question' }])
    const email = somebody('plan')
    await v.answer(email)
    const [entry] = await readDatabase(
      sql =>
        sql`select e.answers, f.name from conversation c join entry e on e.id = c.entry_id join file f on f.entry_id = e.id where c.id = ${v.id}`,
    )
    expect(entry).toEqual({ answers: { plan: ['plan.pdf'], email }, name: 'plan.pdf' })
  })
})

describe('a flow', () => {
  it('adds what is answered after the answers were taken in', async () => {
    const chat = await liveChat('mail: ask email\ntake: do take in\nname: ask first_name\nwhat: ask what\nbye: end unrated\n')
    const v = await visitorIn(chat.key)
    const email = somebody('later')
    await v.answer(email)
    await v.answer('Ottilie')
    await v.answer('A winter garden')
    const row = await eventually(async () => {
      const [one] = await readDatabase(
        sql => sql`select e.answers, l.first_name from lead l join entry e on e.lead_id = l.id where l.email = ${email}`,
      )
      return one?.firstName === 'Ottilie' && (one.answers as { what?: string }).what !== undefined && one
    })
    expect(row.answers).toEqual({ email, first_name: 'Ottilie', what: 'A winter garden' })
  })

  it('takes several of many, and goes the way of what is known in a browser that is theirs, and of nothing typed', async () => {
    const script = `rooms: ask rooms
branch
  if status equal "untouched"
    known: end unrated: We know you.
unknown: end unrated: We do not know you.
`
    const chat = await liveChat(script, d => {
      d.questions.push(
        blankQuestion({
          key: 'rooms',
          kind: 'some_of',
          label: 'What shall grow there?',
          choices: ['Tomatoes', 'Herbs', 'Orchids'].map(text => ({ value: text, text })),
        }),
      )
    })
    expect(chat.errors).toEqual([])
    const email = somebody('known')
    expect((await send('form_journal', { email, first_name: 'Wilf' })).status).toBe(201)
    const lead = await eventually(
      async () => (await readDatabase(sql => sql<{ id: string }[]>`select id from lead where email = ${email}`))[0]?.id,
    )
    const [theirs, other] = [randomUUID(), randomUUID()]
    await readDatabase(
      sql =>
        sql`insert into visitor_lead (id, visitor_id, lead_id, since, until, proven_at) values (${randomUUID()}, ${browserId(theirs)}, ${lead}, now(), 'infinity', now())`,
    )
    const goes = async (visitor: string | null) => {
      const v = await visitorIn(chat.key, { visitor })
      expect(v.asked()!.html).toContain('type="checkbox"')
      await v.answer('Tomatoes', 'Orchids')
      return v.said().slice(-2)
    }
    expect(await goes(theirs)).toEqual(['visitor: Tomatoes, Orchids', 'flow: We know you.'])
    expect(await goes(other)).toEqual(['visitor: Tomatoes, Orchids', 'flow: We do not know you.'])
    expect(await goes(null)).toEqual(['visitor: Tomatoes, Orchids', 'flow: We do not know you.'])
  })

  it('offers times of the owner, and the one that is taken stands as a meeting', async () => {
    const chat = await liveChat(`mail: ask email
take: do take in
when: meet 30 minutes, 14 days: When shall we call?
  otherwise
    no: end unrated: Then we write.
bye: end unrated: Till then.
`)
    expect(chat.errors).toEqual([])
    const v = await visitorIn(chat.key)
    const email = somebody('meets')
    await v.answer(email)
    expect(v.state().waits).toBe('time')
    const { choices } = v.asked()!
    expect(choices!.length).toBeGreaterThan(2)
    expect((await v.choose(choices!.length)).status).toBe(422)
    await v.choose(1)
    expect(v.said().slice(-3)).toEqual([`visitor: ${choices![1]}`, expect.stringMatching(/^house: Agreed: /), 'flow: Till then.'])
    const meetings = await readDatabase(
      sql => sql`select m.minutes from meeting m join lead l on l.id = m.lead_id where l.email = ${email}`,
    )
    expect(meetings).toEqual([{ minutes: 30 }])
    const none = await visitorIn(chat.key)
    await none.answer(somebody('meets'))
    await none.choose(none.asked()!.choices!.length - 1)
    expect(none.said().at(-1)).toBe('flow: Then we write.')
  })

  it('hands over to the people of a lane, and nobody else is told', async () => {
    const { members } = (await read<{ members: { id: string; email: string; role: string }[] }>(mireille, '/api/team/house')).body
    const { lanes } = (
      await read<{ live: { definition: { lanes: { key: string; name: string; pool: { member: string }[] }[] } } }>(
        mireille,
        '/api/team/plan',
      )
    ).body.live.definition
    // Colleagues of other tests have no password that is known here.
    const sales = members.filter(m => m.role === 'sales' && demo().members.some(d => d.email === m.email))
    const lane = lanes.find(l => l.pool.length > 0 && sales.some(m => l.pool.every(s => s.member !== m.id)))!
    const [inside, outside] = [members.find(m => m.id === lane.pool[0]!.member)!, sales.find(m => lane.pool.every(s => s.member !== m.id))!]
    const chat = await liveChat(`person: hand over to pool.${lane.key}\n`)
    expect(chat.errors).toEqual([])
    const v = await visitorIn(chat.key)
    await v.text('Anybody?')
    const told = async (as: typeof mireille) =>
      (await read<{ waiting: { id: string; pool: string | null }[] }>(as, '/api/team/conversations/waiting')).body.waiting.find(
        w => w.id === v.id,
      )?.pool
    await readDatabase(sql => sql`update conversation set due_at = '2001-01-01' where id = ${v.id}`)
    const as = (m: { email: string }) => signedIn(m.email.split('@')[0]!)
    expect([await told(await as(outside)), await told(await as(inside))]).toEqual([undefined, lane.name])
    const taken = await read<ConversationView>(mireille, `/api/team/conversations/${v.id}/member`, 'PUT', { to: id })
    expect(taken.body).toMatchObject({ state: 'talking', member: id })
    const back = await read<ConversationView>(mireille, `/api/team/conversations/${v.id}/member`, 'PUT', {
      to: `pool.${lane.key}`,
      words: 'Yours',
    })
    expect(back.body).toMatchObject({ state: 'waiting', member: null, pool: lane.name })
    expect((await read(mireille, `/api/team/conversations/${v.id}/member`, 'PUT', { to: 'pool.nowhere' })).status).toBe(422)
    const gone = await liveChat('person: hand over to pool.nowhere\n')
    expect(gone.errors.map(e => e.message)).toEqual([expect.stringContaining('the routing plan has no more')])
  })
})

describe('who and how much', () => {
  it('waits for whoever takes it when the colleague who led it does not work here any more', async () => {
    const chat = await liveChat('person: hand over to plan\n')
    const v = await visitorIn(chat.key)
    await v.text('Hello?')
    const orla = await signedIn('orla')
    const [one] = await readDatabase(sql => sql<{ id: string }[]>`select id from member where email = ${member('desmond').email}`)
    expect((await read(mireille, `/api/team/conversations/${v.id}/member`, 'PUT', { to: one!.id })).status).toBe(200)
    expect((await orla(`/api/team/members/${one!.id}`, 'PUT', { role: 'sales', active: false })).status).toBe(204)
    expect(await seen(v.id)).toMatchObject({ state: 'waiting', member: null })
    expect((await orla(`/api/team/members/${one!.id}`, 'PUT', { role: 'sales', active: true })).status).toBe(204)
    await v.text('Still there?')
    expect((await says(v.id, 'I am')).body).toMatchObject({ state: 'talking', member: id })
  })
  it('takes a thousand messages a minute from nobody, and loses none that it took', async () => {
    const chat = await liveChat('person: hand over to plan\n')
    const v = await visitorIn(chat.key)
    const answers = await Promise.all(Array.from({ length: 60 }, (_, i) => v.text(`Line ${i}`)))
    expect([answers.filter(a => a.status === 200).length, answers.filter(a => a.status === 429).length]).toEqual([30, 30])
    expect(
      await readDatabase(sql => sql`select count(*)::int as n from message where conversation_id = ${v.id} and by = 'visitor'`),
    ).toEqual([{ n: 30 }])
  })
})

describe('an edition', () => {
  it('is called something, which changes nothing that it says', async () => {
    const chat = await liveChat(null)
    const name = (to: unknown, n: number | string = 1) => chat.as(`/api/team/points/${chat.id}/editions/${n}`, 'PUT', { name: to })
    expect((await name('Before the fair')).status).toBe(204)
    const list = await read<{ number: number; name: string | null }[]>(chat.as, `/api/team/points/${chat.id}/editions`)
    expect(list.body.map(e => [e.number, e.name])).toEqual([[1, 'Before the fair']])
    expect([
      (await name('x'.repeat(81))).status,
      (await name('x', 7)).status,
      (await name('x', 'y')).status,
      (await name(' ')).status,
    ]).toEqual([422, 404, 404, 204])
  })
})

describe('pages of the site', () => {
  it('become notes, a heading each, and only pages that everybody can reach', async () => {
    const tamsin = await signedIn('tamsin')
    const bring = (address: string) =>
      read<{ notes: { title: string; body: string }[]; errors?: { message: string }[] }>(tamsin, '/api/team/notes/page', 'POST', {
        address,
      })
    const { status, body } = await bring(`${demo().standins.site}/prices`)
    expect([status, body.notes.length > 0]).toEqual([200, true])
    expect(body.notes.every(n => n.title.length <= 120 && n.body.length <= 4000 && !/<\w+/.test(n.body))).toBe(true)
    for (const address of [
      'http://127.0.0.1:5432/',
      'https://127.0.0.1/',
      'https://localhost/',
      'not an address',
      'file:///etc/passwd',
      `${demo().standins.site}/no-such-page`,
    ])
      expect([address, (await bring(address)).status]).toEqual([address, 422])
    expect((await fetch(`${demo().url}/api/team/notes/page`, { method: 'POST', body: '{}' })).status).toBe(401)
  })
})
