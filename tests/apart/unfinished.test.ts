import { randomUUID } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import type { TimelineLine, UnfinishedPayload } from '#core/timeline'
import { connect } from '#db/client'
import { writeReminders } from '#server/jobs/reminders'
import { browser } from '../support/browser'
import { form, q } from '../support/forms'
import { ask, demo, eventually, mails, send, signedIn, somebody } from '../support/house'

type Lead = {
  id: string
  email: string
  firstName: string | null
  submitted: boolean
  owner: object | null
  reasons: { rule: string }[]
  properties: Record<string, unknown>
}
const leadOf = async (email: string) => (await ask<{ leads: Lead[] }>(`/api/v1/leads?email=${encodeURIComponent(email)}`)).leads[0]
const timelineOf = async (id: string) =>
  ((await (await (await signedIn('orla'))(`/api/team/leads/${id}`)).json()) as { timeline: TimelineLine[] }).timeline
const left = (timeline: TimelineLine[]) => timeline.filter(l => l.kind === 'unfinished').map(l => l.payload as UnfinishedPayload)
const asking = () =>
  form(d => {
    d.questions = [
      q('mail', 'email', { property: 'email', required: true }),
      q('first', 'short_text', { property: 'first_name' }),
      q('tel', 'phone', { property: 'phone' }),
    ]
  })

describe('what is typed and not sent', () => {
  it('makes an unsubmitted lead: scored, without an owner, known by nobody’s bell, until they send', async () => {
    const { key } = await asking()
    const b = browser()
    await b.reads('/prices')
    const [id, email] = [randomUUID(), somebody('typed')]
    expect(await b.types(id, { point: key }, { first: 'Ida', tel: '06 12 34 56 78' })).toBe(204)
    expect(await b.types(id, { point: key }, { first: 'Ida', mail: email, tel: '06 12 34 56 78' })).toBe(204)
    const lead = (await leadOf(email))!
    expect(lead).toMatchObject({ submitted: false, owner: null, firstName: 'Ida', properties: {} })
    expect(lead.reasons.map(r => r.rule)).toContain('Read the prices')
    expect(left(await timelineOf(lead.id))).toEqual([
      expect.objectContaining({
        page: 'https://site.example/contact',
        sent: false,
        answers: [
          { question: 'mail', text: email },
          { question: 'first', text: 'Ida' },
        ],
      }),
    ])
    expect((await ask<{ leads: Lead[] }>('/api/v1/leads?submitted=no&limit=200')).leads.map(l => l.id)).toContain(lead.id)
    await b.reads('/growing-houses')
    expect((await leadOf(email))!.reasons.map(r => r.rule)).toContain('Looked at growing houses')
    expect((await send(key, JSON.stringify({ answers: { mail: email, first: 'Ida' }, visitor: b.visitor, unfinished: id }))).status).toBe(
      201,
    )
    const submitted = (await leadOf(email))!
    expect(submitted).toMatchObject({ id: lead.id, submitted: true })
    expect(submitted.owner).not.toBeNull()
    const after = await timelineOf(lead.id)
    expect(left(after)).toEqual([])
    expect(after.map(l => l.kind)).toContain('created')
    // What was under way when they sent it changes nothing any more.
    expect(await b.types(id, { point: key }, { first: 'Late', mail: email })).toBe(204)
    expect(left(await timelineOf(lead.id))).toEqual([])
  })
  it('is the newest that was typed, in whichever order it comes, and nobody else’s', async () => {
    const { key } = await asking()
    const [b, other] = [browser(), browser()]
    const [id, email] = [randomUUID(), somebody('order')]
    await b.types(id, { point: key }, { mail: email, first: 'Second' }, { turn: 5 })
    await b.types(id, { point: key }, { mail: email, first: 'First' }, { turn: 3 })
    expect(await other.types(id, { point: key }, { mail: somebody('thief'), first: 'Thief' }, { turn: 9 })).toBe(204)
    expect(left(await timelineOf((await leadOf(email))!.id)).map(u => u.answers.at(-1)!.text)).toEqual(['Second'])
  })
  it('follows an address that they mend, and leaves nobody behind under the wrong one', async () => {
    const { key } = await asking()
    const b = browser()
    const [id, right] = [randomUUID(), somebody('right')]
    const wrong = right.replace('guests', 'gests')
    await b.types(id, { point: key }, { mail: wrong })
    const made = (await leadOf(wrong))!
    await b.types(id, { point: key }, { mail: right })
    expect(await leadOf(wrong)).toBeUndefined()
    expect((await leadOf(right))!.id).toBe(made.id)
    // It was somebody whom we know: what was typed is theirs, and they stay as they are.
    const known = somebody('known')
    await send(key, { mail: known, first: 'Known' })
    await b.types(id, { point: key }, { mail: known, first: 'Other' })
    expect(await leadOf(right)).toBeUndefined()
    const lead = (await leadOf(known))!
    expect(lead).toMatchObject({ firstName: 'Known', submitted: true })
    expect(left(await timelineOf(lead.id))).toHaveLength(1)
  })
  it('of somebody whom we know is theirs, also where they write down another’s address', async () => {
    const { key } = await asking()
    const b = browser()
    const [email, other] = [somebody('writer'), somebody('colleague')]
    await send(key, JSON.stringify({ answers: { mail: email }, visitor: b.visitor }))
    const id = randomUUID()
    for (const words of ['Please write to', 'Please do write to'])
      await b.types(id, { form: 'Ask the gardener' }, { question: `${words} ${other}` })
    expect(await leadOf(other)).toBeUndefined()
    expect(left(await timelineOf((await leadOf(email))!.id))).toHaveLength(1)
    // Asked for their own address they may give another: then it is somebody else at this computer.
    await b.types(randomUUID(), { point: key }, { mail: other })
    expect(await leadOf(other)).toMatchObject({ submitted: false })
  })
  it('in the site’s own form is kept by its marks, and told from what was sent there', async () => {
    const b = browser()
    const [id, email] = [randomUUID(), somebody('gardener')]
    await b.types(id, { form: 'Ask the gardener' }, { email, first_name: 'Ida', question: 'When do I sow?', note: '4111 1111 1111 1111' })
    const lead = (await leadOf(email))!
    expect(lead).toMatchObject({ submitted: false, firstName: 'Ida' })
    expect(left(await timelineOf(lead.id))[0]).toMatchObject({
      form: 'Ask the gardener',
      sent: false,
      answers: expect.arrayContaining([{ question: 'question', text: 'When do I sow?' }]) as unknown,
    })
    expect(left(await timelineOf(lead.id))[0]!.answers).toHaveLength(3)
    await b.types(id, { form: 'Ask the gardener' }, { email, first_name: 'Ida', question: 'When do I sow?' }, { sent: true })
    expect(left(await timelineOf(lead.id))[0]).toMatchObject({ sent: true })
  })
  it('is erased with everything else when they change their mind', async () => {
    const { key } = await asking()
    const b = browser()
    const email = somebody('mind')
    await b.types(randomUUID(), { point: key }, { mail: email })
    expect(await leadOf(email)).toBeDefined()
    expect((await fetch(`${demo().url}/w/visitors/${b.visitor}/forget`, { method: 'POST' })).status).toBe(204)
    expect(await leadOf(email)).toBeUndefined()
  })
  it('is reminded of once, where the house allows it and the person agreed, and not once they have sent it', async () => {
    const { key } = await form(d => {
      d.questions = [
        q('mail', 'email', { property: 'email', required: true }),
        q('first', 'short_text', { property: 'first_name' }),
        q('ok', 'consent', { label: 'Mails are welcome', allows: ['journal'] }),
      ]
      d.reminder = { hours: 2, subject: '{{lead.first_name}}, shall we keep it?', text: 'Go on here: {{link}}' }
    })
    const orla = await signedIn('orla')
    const site = (await (await orla('/api/team/site')).json()) as object
    const sql = connect(process.env.CAVLIN_TEST_CLUSTER!, { max: 2 })
    // The worker knows where Cavlin is to be found.
    process.env.CAVLIN_URL = demo().url
    const later = (hours: number) => writeReminders(sql, new Date(Date.now() + hours * 3_600_000))
    const people = { agreed: somebody('agreed'), silent: somebody('silent'), sent: somebody('sent') }
    const toThem = async (email: string) => (await mails()).filter(m => m.to.includes(email)).map(m => m.subject)
    try {
      const b = { agreed: browser(), silent: browser(), sent: browser() }
      await b.agreed.types(randomUUID(), { point: key }, { mail: people.agreed, first: 'Ida', ok: 'yes' })
      await b.silent.types(randomUUID(), { point: key }, { mail: people.silent, first: 'Sil' })
      const id = randomUUID()
      await b.sent.types(id, { point: key }, { mail: people.sent, first: 'Sen', ok: 'yes' })
      await send(key, JSON.stringify({ answers: { mail: people.sent, first: 'Sen', ok: 'yes' }, visitor: b.sent.visitor, unfinished: id }))
      expect(await later(3)).toBe(0)
      expect((await orla('/api/team/site', 'PUT', { ...site, mailUnfinished: true })).status).toBe(204)
      expect(await later(1)).toBe(0)
      expect(await later(3)).toBe(1)
      expect(await later(4)).toBe(0)
      const [mail] = await eventually(async () => {
        const all = (await mails()).filter(m => m.to.includes(people.agreed))
        return all.length ? all : null
      })
      expect(mail!.subject).toBe('Ida, shall we keep it?')
      expect((await fetch(/https?:\/\/\S+\/p\/[\w-]+/.exec(mail!.text)![0])).status).toBe(200)
      // It ends with a way to leave, which works.
      const leave = new RegExp(`${demo().url}/leave/[\\w.-]+`).exec(mail!.text)![0]
      expect((await fetch(leave)).status).toBe(200)
      expect([await toThem(people.silent), await toThem(people.sent)]).toEqual([[], []])
      // Who was written to can change their mind as well.
      expect((await fetch(`${demo().url}/w/visitors/${b.agreed.visitor}/forget`, { method: 'POST' })).status).toBe(204)
      expect(await leadOf(people.agreed)).toBeUndefined()
    } finally {
      await orla('/api/team/site', 'PUT', { ...site, mailUnfinished: false })
      await sql.end()
    }
  })
  it('that cannot be read is refused with the field, and nothing is kept of machines or where the house says no', async () => {
    const { key } = await asking()
    const b = browser()
    expect(await b.types('nonsense', { point: key }, { mail: 'x' })).toBe(422)
    expect(await b.types(randomUUID(), { point: 'form_of_nobody' }, { mail: 'x' })).toBe(404)
    expect(await b.types(randomUUID(), { point: key, form: 'both' } as { point: string }, { mail: 'x' })).toBe(422)
    const email = somebody('robot')
    const body = (id: string) =>
      JSON.stringify({
        id,
        visitor: b.visitor,
        point: key,
        answers: { mail: email },
        settled: ['mail'],
        page: 'https://site.example/',
        turn: 1,
        since: 0,
      })
    expect(
      (
        await fetch(`${demo().url}/w/unfinished`, {
          method: 'POST',
          headers: { 'user-agent': 'Mozilla/5.0 (compatible; SomeBot/1.0; +https://bot.example)' },
          body: body(randomUUID()),
        })
      ).status,
    ).toBe(204)
    expect(await leadOf(email)).toBeUndefined()
  })
})
