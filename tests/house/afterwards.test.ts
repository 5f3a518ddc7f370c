import { describe, expect, it } from 'vitest'
import { connect } from '#db/client'
import { form, visitorMail, q } from '../support/forms'
import { ask, demo, eventually, mails, readDatabase, send, signedIn, somebody } from '../support/house'

const lead = async (email: string) =>
  (
    await ask<{
      leads: {
        id: string
        firstName: string | null
        properties: Record<string, unknown>
        tags: string[]
        nextStep: { text: string; due: string } | null
        fit: number
      }[]
    }>(`/api/v1/leads?email=${email}`)
  ).leads[0]!
let senders = 0
/** Posts a form, each from a place of its own. */
const post = (url: string, fields: Record<string, string>) =>
  fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/x-www-form-urlencoded', 'x-forwarded-for': `198.51.100.${++senders % 250}` },
    body: new URLSearchParams(fields).toString(),
    redirect: 'manual',
  })
const timelineOf = async (id: string) =>
  (
    (await (await (await signedIn('tamsin'))(`/api/team/leads/${id}`)).json()) as {
      timeline: { kind: string; payload: Record<string, unknown> }[]
    }
  ).timeline

describe('a meeting that visitors choose', () => {
  const meeting = () =>
    form(d => {
      d.questions.push(q('first', 'short_text', { property: 'first_name' }))
      d.next = { kind: 'meeting', minutes: 30, days: 14 }
    })
  const times = (html: string) => [...html.matchAll(/name="at" value="(\d+)"/g)].map(m => Number(m[1]))

  it('is one of the owner’s free working hours, comes to both as a calendar file, and becomes the next step', async () => {
    const { key } = await meeting()
    const email = somebody('meet')
    const { body } = await send(key, { email, first: 'Ida' })
    const { url } = body.next as { url: string }
    const free = times(await (await fetch(url)).text())
    expect(free.length).toBeGreaterThan(20)
    const at = free.at(-1)!
    expect(new Date(at).getUTCDay() % 6).not.toBe(0)
    expect(await (await post(url, { at: String(at) })).text()).toContain('Agreed')
    const mail = await eventually(async () => (await mails()).find(m => m.to.includes(email) && m.subject.startsWith('Agreed')))
    expect(mail.text).toContain('30 minutes')
    const calendar = (m: typeof mail) => m.attachments!.find(a => a.type === 'text/calendar')!.text.replace(/\r\n /g, '')
    const stamp = (t: number) => new Date(t).toISOString().replace(/[-:]|\.\d+/g, '')
    expect(calendar(mail)).toContain(`DTSTART:${stamp(at)}`)
    expect(calendar(mail)).toContain(`DTEND:${stamp(at + 30 * 60_000)}`)
    expect(calendar(mail)).toContain('SEQUENCE:0')
    const known = await lead(email)
    expect(known.nextStep).toEqual({ text: 'Meet Ida', due: new Date(at).toISOString() })
    const told = await eventually(async () => (await mails()).find(m => m.subject.startsWith('Ida meets you on')))
    expect(/UID:(\S+)/.exec(calendar(told))![1]).toBe(/UID:(\S+)/.exec(calendar(mail))![1])
    // The same time is taken now, for whoever has the same owner; moving it gives it back.
    expect(times(await (await fetch(url)).text())).toContain(at)
    expect(await (await post(url, { at: String(free.at(-2)!) })).text()).toContain('Agreed')
    const moved = await eventually(async () => (await mails()).find(m => m.to.includes(email) && m.subject.startsWith('Moved')))
    expect(calendar(moved)).toContain('SEQUENCE:1')
    expect((await timelineOf(known.id)).filter(l => l.kind === 'meeting')).toHaveLength(2)
    expect((await lead(email)).nextStep!.due).toBe(new Date(free.at(-2)!).toISOString())
  })
  it('is called off by either side: the step goes, calendars take it back, and another time may be chosen', async () => {
    const { key } = await meeting()
    const email = somebody('off')
    const { body } = await send(key, { email, first: 'Ida' })
    const { url } = body.next as { url: string }
    const free = times(await (await fetch(url)).text())
    const at = free.at(-1)!
    await post(url, { at: String(at) })
    const known = await lead(email)
    const meetings = async () =>
      ((await (await (await signedIn('jonah'))(`/api/team/leads/${known.id}`)).json()) as { meetings: { id: string }[] }).meetings
    const [own] = await meetings()
    const off = async (id: string) =>
      (await signedIn('jonah'))(`/api/team/leads/${known.id}/meetings/${id}`, 'DELETE', { words: 'I am ill.' })
    expect([(await off(own!.id)).status, (await off(own!.id)).status]).toEqual([200, 409])
    const mail = await eventually(async () => (await mails()).find(m => m.to.includes(email) && m.subject.startsWith('Called off')))
    const calendar = mail.attachments!.find(a => a.type.startsWith('text/calendar'))!.text.replace(/\r\n /g, '')
    for (const line of ['METHOD:CANCEL', 'STATUS:CANCELLED', 'SEQUENCE:1']) expect(calendar).toContain(line)
    expect(mail.text).toContain('I am ill.')
    expect([(await lead(email)).nextStep, await meetings()]).toEqual([null, []])
    // The time is free again, also for them; and they may call it off themselves.
    expect(await (await post(url, { at: String(at) })).text()).toContain('Agreed')
    const [again] = await meetings()
    expect(await (await post(url, { off: crypto.randomUUID() })).text()).toContain('name="at"')
    expect(await (await post(url, { off: again!.id })).text()).toContain('Called off')
    expect((await timelineOf(known.id)).filter(l => l.kind === 'called_off').map(l => l.payload.by)).toEqual(['them', 'us'])
    const rows = await readDatabase(
      sql => sql<{ moved: number; calledOffAt: Date | null }[]>`select moved, called_off_at from meeting where lead_id = ${known.id}`,
    )
    expect([rows.length, rows[0]!.moved, rows[0]!.calledOffAt !== null]).toEqual([1, 3, true])
  })
  it('is moved by one of us to a free hour: calendars follow, they are told why, and may choose again', async () => {
    const { key } = await meeting()
    const email = somebody('shift')
    const { url } = (await send(key, { email, first: 'Ida' })).body.next as { url: string }
    await post(url, { at: String(times(await (await fetch(url)).text()).at(-1)!) })
    const known = await lead(email)
    const jonah = await signedIn('jonah')
    const {
      meetings: [own],
    } = (await (await jonah(`/api/team/leads/${known.id}`)).json()) as { meetings: { id: string; starts: string }[] }
    const path = `/api/team/leads/${known.id}/meetings/${own!.id}`
    const { free } = (await (await jonah(path)).json()) as { free: string[] }
    expect(free).not.toContain(own!.starts)
    const at = free.at(-1)!
    const move = (to: string) => jonah(path, 'PUT', { at: to, words: 'The van is in repair.' })
    expect([
      (await move(new Date(Date.parse(at) + 60_000).toISOString())).status,
      (await move('soon')).status,
      (await move(at)).status,
    ]).toEqual([409, 422, 200])
    const mail = await eventually(async () => (await mails()).find(m => m.to.includes(email) && m.subject.startsWith('Moved')))
    expect(mail.attachments!.find(a => a.type.startsWith('text/calendar'))!.text).toContain('SEQUENCE:1')
    expect(mail.text).toMatch(/Jonah Birkett has to move the meeting\.[^]+The van is in repair\./)
    expect((await lead(email)).nextStep).toEqual({ text: 'Meet Ida', due: at })
    expect((await timelineOf(known.id)).filter(l => l.kind === 'meeting').map(l => l.payload)).toMatchObject([
      { at, was: own!.starts, by: 'us', words: 'The van is in repair.' },
      { at: own!.starts },
    ])
    expect(await (await fetch(url)).text()).toContain('You can move it here')
    await jonah(path, 'DELETE', { words: null })
    expect([(await jonah(path)).status, (await move(own!.starts)).status]).toEqual([409, 409])
  })
  it('is nobody’s twice, whoever chooses at the same moment', async () => {
    const f = await form(d => {
      d.next = { kind: 'meeting', minutes: 30, days: 20 }
    })
    const orla = await signedIn('orla')
    const people = await Promise.all(
      [1, 2, 3, 4].map(async () => {
        const email = somebody('race')
        const { body } = await send(f.key, { email })
        const { id } = await lead(email)
        const { members } = (await (await orla('/api/team/house')).json()) as { members: { id: string; email: string }[] }
        await orla(`/api/team/leads/${id}/owner`, 'PUT', { owner: members.find(m => m.email.startsWith('desmond'))!.id })
        return (body.next as { url: string }).url
      }),
    )
    const at = times(await (await fetch(people[0]!)).text()).at(-1)!
    const came = await Promise.all(people.map(async url => (await post(url, { at: String(at) })).status))
    expect(came.filter(s => s === 200)).toHaveLength(1)
    expect(came.filter(s => s === 409)).toHaveLength(3)
  })
  it('is one, however often somebody comes: choosing again moves it', async () => {
    const { key } = await meeting()
    const email = somebody('again')
    const links = [] as string[]
    for (const first of ['Ida', 'Ida B', 'Ida C']) links.push(((await send(key, { email, first })).body.next as { url: string }).url)
    const free = times(await (await fetch(links[0]!)).text())
    for (const [i, link] of links.entries()) expect(await (await post(link, { at: String(free.at(-1 - i)!) })).text()).toContain('Agreed')
    const { id } = await lead(email)
    const rows = await readDatabase(
      sql => sql<{ startsAt: Date; moved: number }[]>`select starts_at, moved from meeting where lead_id = ${id}`,
    )
    expect(rows.map(r => [r.startsAt.getTime(), r.moved])).toEqual([[free.at(-3)!, 2]])
    expect(await (await fetch(links[1]!)).text()).toContain('You can move it here')
    // Two windows at once, too.
    await Promise.all(links.map((link, i) => post(link, { at: String(free.at(-5 - i)!) })))
    expect(await readDatabase(sql => sql`select 1 from meeting where lead_id = ${id}`)).toHaveLength(1)
  })
  it('cannot be chosen over and over from one place', async () => {
    const { key } = await meeting()
    const { url } = (await send(key, { email: somebody('often') })).body.next as { url: string }
    const from = (n: number) =>
      fetch(url, {
        method: 'POST',
        headers: { 'content-type': 'application/x-www-form-urlencoded', 'x-forwarded-for': '203.0.113.77' },
        body: `at=${n}`,
      })
    const statuses: number[] = []
    for (let n = 0; n < 24; n++) statuses.push((await from(n + 1)).status)
    expect(statuses.filter(s => s === 429)).toHaveLength(4)
  })
  it('is refused at a time that is not offered, and by a link that is not ours', async () => {
    const { key } = await meeting()
    const { url } = (await send(key, { email: somebody('odd') })).body.next as { url: string }
    for (const at of ['', 'soon', '1', String(Date.now() + 86_400_000 * 4000), '9'.repeat(30)])
      expect((await post(url, { at })).status).toBe(409)
    expect((await fetch(`${url.slice(0, -1)}${url.endsWith('A') ? 'B' : 'A'}`)).status).toBe(404)
  })
})

describe('a correction by the visitor', () => {
  const correctable = () =>
    form(d => {
      d.questions.push(
        q('first', 'short_text', { property: 'first_name' }),
        q('size', 'one_of', {
          property: 'size',
          choices: [
            { value: 'small', text: 'Small', tag: 'tiny' },
            { value: 'large', text: 'Large', tag: 'huge' },
          ],
        }),
      )
      d.returns = { correct: true, again: true }
    })
  const way = (body: Record<string, unknown>) =>
    (body.next as { ways: { text: string; url: string }[] }).ways.find(w => w.text.startsWith('Correct'))!.url

  it('changes the entry, what it had filled, the tags and the score, and keeps what was there before', async () => {
    const { key } = await correctable()
    const email = somebody('fix')
    const { body } = await send(key, { email, first: 'Idda', size: 'small' })
    const before = await lead(email)
    const url = way(body)
    const html = await (await fetch(url)).text()
    expect(html).toContain('value="Idda"')
    expect(html).not.toContain('name="email"')
    expect(await (await post(url, { first: 'Ida', size: 'large' })).text()).toContain('Corrected')
    const after = await lead(email)
    expect(after).toMatchObject({ firstName: 'Ida', properties: { size: 'large' }, tags: ['huge'] })
    expect(after.fit).toBeGreaterThan(before.fit)
    expect((await timelineOf(after.id)).find(l => l.kind === 'corrected')!.payload).toMatchObject({
      answers: [
        { question: 'first', from: 'Idda', to: 'Ida' },
        { question: 'size', from: 'Small', to: 'Large' },
      ],
      changed: [
        { property: 'first_name', from: 'Idda', to: 'Ida' },
        { property: 'size', from: 'small', to: 'large' },
      ],
    })
    // The same once more changes nothing and tells nobody.
    await post(url, { first: 'Ida', size: 'large' })
    expect((await timelineOf(after.id)).filter(l => l.kind === 'corrected')).toHaveLength(1)
    // What they said at first stays what they said then, also after a second correction.
    await post(url, { first: 'Idaa', size: 'large' })
    const said = (await timelineOf(after.id)).filter(l => l.kind === 'corrected' || l.kind === 'entry').map(l => l.payload.answers)
    expect(said[0]).toEqual([{ question: 'first', from: 'Ida', to: 'Idaa', key: 'first', was: 'Ida', now: 'Idaa' }])
    expect(said.at(-1)).toEqual([
      { question: 'Your e-mail address', text: email },
      { question: 'first', text: 'Idda' },
      { question: 'size', text: 'Small' },
    ])
  })
  it('leaves alone what was learnt since, and says what is wrong', async () => {
    const { key } = await correctable()
    const email = somebody('since')
    const { body } = await send(key, { email, first: 'Old' })
    await send(key, { email, first: 'Newer' })
    await post(way(body), { first: 'Corrected' })
    expect((await lead(email)).firstName).toBe('Newer')
    const wrong = await post(way(body), { first: 'X', size: 'gigantic', email: 'other@guests.example' })
    expect(wrong.status).toBe(422)
    expect(await wrong.text()).toContain('Choose one of the answers offered')
  })
  it('is not to be had where it is not allowed any more', async () => {
    const f = await correctable()
    const { body } = await send(f.key, { email: somebody('no') })
    const { revision } = await f.save({ ...f.definition, returns: { correct: false, again: false } }, f.revision)
    await f.publish(revision)
    expect((await fetch(way(body))).status).toBe(404)
  })
})

describe('a personal link', () => {
  it('lets somebody find in a form what we know, but nothing sensitive, and only whom we signed it for', async () => {
    const tamsin = await signedIn('tamsin')
    await tamsin('/api/team/properties', 'POST', { label: 'Illness', kind: 'short_text', sensitivity: 'sensitive' })
    const f = await form(d => {
      d.questions.push(
        q('first', 'short_text', { property: 'first_name' }),
        q('crops', 'some_of', {
          property: 'crops',
          choices: [
            { value: 'leaves', text: 'Leaves' },
            { value: 'trees', text: 'Trees' },
          ],
        }),
        q('ill', 'short_text', { property: 'illness' }),
        q('ok', 'consent', { label: 'Yes' }),
      )
      d.actions.push(visitorMail('thanks', 'Hello', 'Come again: {{again}}', 0))
    })
    const email = somebody('known')
    await send(f.key, { email, first: 'Ida <b>', crops: ['trees'], ill: 'hay fever', ok: 'yes' })
    const mail = await eventually(async () => (await mails()).find(m => m.to.includes(email)))
    const link = /http\S+cavlin=\S+/.exec(mail.text)![0]
    const html = await (await fetch(link)).text()
    expect(html).toContain('value="Ida &#60;b&#62;"')
    expect(html).toMatch(/value="trees" checked/)
    expect(html).not.toContain('hay fever')
    expect(html).not.toMatch(/name="ok"[^>]*checked/)
    const token = new URL(link).searchParams.get('cavlin')!
    const { questions } = (await (await fetch(`${demo().url}/w/points/${f.key}?cavlin=${token}`)).json()) as {
      questions: { key: string; preset?: unknown }[]
    }
    expect(questions.find(o => o.key === 'crops')!.preset).toEqual(['trees'])
    expect(await (await fetch(link.replace(token, `${token.slice(0, -2)}xx`))).text()).not.toContain('Ida')
  })
})

describe('what comes after', () => {
  it('is a thank-you page, a file, or what follows a confirmation', async () => {
    const files = (await (await (await signedIn('tamsin'))('/api/team/files')).json()) as { id: string; name: string }[]
    const guide = files.find(f => f.name === 'price-guide.pdf')!
    const paged = await form(d => {
      d.next = { kind: 'page' }
    })
    expect((await send(paged.key, { email: somebody() })).body.next).toEqual({ kind: 'page', url: `${demo().url}/p/${paged.slug}/thanks` })
    const filed = await form(d => {
      d.next = { kind: 'file', file: { id: guide.id, name: guide.name } }
      d.confirm = { subject: 'Yours?', text: '{{link}}', done: 'Take it', then: { kind: 'file', file: { id: guide.id, name: guide.name } } }
    })
    const email = somebody('filed')
    const next = (await send(filed.key, { email })).body.next as { url: string; name: string }
    expect(next.name).toBe('price-guide.pdf')
    expect((await fetch(next.url)).headers.get('content-type')).toBe('application/pdf')
    const mail = await eventually(async () => (await mails()).find(m => m.to.includes(email)))
    const done = await (await post(/http\S+\/c\/\S+/.exec(mail.text)![0], {})).text()
    expect(done).toContain(`/w/files/${guide.id}/price-guide.pdf`)
    const gone = await form(d => {
      d.next = { kind: 'file', file: { id: '01930000-0000-7000-8000-0000000000fe', name: 'gone.pdf' } }
    })
    expect(gone.key).toBeUndefined()
  })
  it('is a second mail only for who did not follow the link of the first', async () => {
    const { key } = await form(d => {
      d.actions.push(
        visitorMail('first', 'Look', 'Here: {{link}}', 0, { goal: { kind: 'address', address: 'https://larkmoss.example/look' } }),
        visitorMail('second', 'Did you look?', 'Again.', 3, { unlessClicked: true }),
      )
    })
    const [keen, idle] = [somebody('keen'), somebody('idle')]
    for (const email of [keen, idle]) await send(key, { email })
    const mail = await eventually(async () => (await mails()).find(m => m.to.includes(keen)))
    await eventually(async () => (await mails()).find(m => m.to.includes(idle)))
    const went = await fetch(/http\S+\/go\/\S+/.exec(mail.text)![0], {
      redirect: 'manual',
      headers: { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/130.0 Safari/537.36' },
    })
    expect([went.status, went.headers.get('location')]).toEqual([303, 'https://larkmoss.example/look'])
    const sql = connect(process.env.CAVLIN_TEST_CLUSTER!, { max: 1 })
    try {
      // The days pass.
      await sql`update delivery set due_at = now() where unless_clicked and lead_id in (select id from lead where email in ${sql([keen, idle])})`
      await eventually(async () => (await mails()).find(m => m.to.includes(idle) && m.subject === 'Did you look?'))
      const dropped = await sql<
        { dropped: string }[]
      >`select dropped from delivery where unless_clicked and lead_id = (select id from lead where email = ${keen})`
      expect(dropped.map(d => d.dropped)).toEqual(['clicked'])
    } finally {
      await sql.end()
    }
  })
})
