import { beforeAll, describe, expect, it } from 'vitest'
import type { LeadView, TodayView } from '#core/team'
import type { TimelineLine } from '#core/timeline'
import { demo, eventually, readDatabase, send, signedIn, somebody, type Mail } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [jonah, tamsin] = [] as unknown as [Ask, Ask]
beforeAll(async () => {
  ;[jonah, tamsin] = (await Promise.all(['jonah', 'tamsin'].map(signedIn))) as [Ask, Ask]
})

/** Somebody of Jonah's who waits. */
async function waiting(): Promise<{ id: string; email: string }> {
  const email = somebody('writes')
  expect((await send('form_journal', { email, first_name: 'Wilf' })).status).toBe(201)
  const { leads } = await eventually(async () => {
    const list = (await (await jonah(`/api/team/leads?search=${email}`)).json()) as { leads: LeadView[] }
    return list.leads.length > 0 && list
  })
  const { members } = (await (await jonah('/api/team/house')).json()) as { members: { id: string; name: string }[] }
  await jonah(`/api/team/leads/${leads[0]!.id}/owner`, 'PUT', { owner: members.find(m => m.name.startsWith('Jonah'))!.id })
  return { id: leads[0]!.id, email }
}
const write = (id: string, body: object, who = jonah) => who(`/api/team/leads/${id}/mails`, 'POST', body)
const seen = async (id: string) => (await (await jonah(`/api/team/leads/${id}`)).json()) as { lead: LeadView; timeline: TimelineLine[] }
type Kept = Mail & { id: string }
/** The mail as it came to them. */
const arrived = (email: string, subject: string) =>
  eventually(async () =>
    ((await (await fetch(`${demo().standins.mailbox}/api/messages`)).json()) as Kept[]).find(m => m.to === email && m.subject === subject),
  )
const answer = (mail: Kept, body: object) =>
  fetch(`${demo().standins.mailbox}/api/messages/${mail.id}/answer`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
const bring = (raw: string, headers: Record<string, string> = { 'content-type': 'message/rfc822' }) =>
  fetch(`${demo().url}/api/v1/mails`, { method: 'POST', headers: { authorization: `Bearer ${demo().apiKey}`, ...headers }, body: raw })

describe('a mail to one person', () => {
  it('goes out from who wrote it, stops the clock, and its answer comes back to the lead, to Today and to the clock', async () => {
    const { id, email } = await waiting()
    expect((await write(id, { subject: 'Your growing room', text: 'Hello Wilf,\n\nwhen may I call?\n\nJonah' })).status).toBe(202)
    const mail = await arrived(email, 'Your growing room')
    expect([mail.from, mail.text.trim()]).toEqual([expect.stringContaining('Jonah Birkett'), 'Hello Wilf,\n\nwhen may I call?\n\nJonah'])
    expect(mail.replyTo).toMatch(/^r[0-9a-f]{56}@replies\.larkmoss\.example$/)
    const written = await seen(id)
    expect([written.lead.waitingSince, written.timeline.find(l => l.kind === 'answered')?.payload]).toEqual([
      null,
      expect.objectContaining({ by: 'mail' }),
    ])

    expect((await answer(mail, { text: 'Tuesday after four suits me.' })).status).toBe(202)
    const came = await eventually(async () => {
      const now = await seen(id)
      return now.timeline.some(l => l.kind === 'replied') && now
    })
    const line = came.timeline.find(l => l.kind === 'replied')!.payload as { text: string; quoted: string; from?: string }
    expect([line.text, line.quoted.includes('> when may I call?'), line.from]).toEqual(['Tuesday after four suits me.', true, undefined])
    expect(came.lead.waitingSince).not.toBeNull()
    const today = (await (await jonah('/api/team/today')).json()) as TodayView
    expect(today.waiting.find(l => l.id === id)?.reply?.subject).toBe('Re: Your growing room')
    const told = await readDatabase(
      sql =>
        sql<{ subject: string }[]>`select subject from delivery where lead_id = ${id} and kind = 'notice' and subject like '%answered%'`,
    )
    expect(told.map(t => t.subject)).toEqual(['Wilf answered: Re: Your growing room'])
  })
  it('answered by a program asks for nothing; from another address it says so', async () => {
    const { id, email } = await waiting()
    await write(id, { subject: 'Away?', text: 'Hello' })
    const mail = await arrived(email, 'Away?')
    await answer(mail, { text: 'I am away until Monday.', auto: true })
    const auto = await eventually(async () => {
      const now = await seen(id)
      return now.timeline.some(l => l.kind === 'replied') && now
    })
    expect(auto.lead.waitingSince).toBeNull()
    await answer(mail, { text: 'It is me, from home.', from: 'wilf.at.home@elsewhere.example' })
    const other = await eventually(async () => {
      const now = await seen(id)
      return now.timeline.filter(l => l.kind === 'replied').length === 2 && now
    })
    expect(other.timeline.filter(l => l.kind === 'replied').map(l => (l.payload as { from?: string }).from)).toContain(
      'wilf.at.home@elsewhere.example',
    )
    expect(other.lead.waitingSince).not.toBeNull()
  })
  it('the same answer twice is one, in small letters too; one to an address that we did not write is refused', async () => {
    const { id, email } = await waiting()
    await write(id, { subject: 'Once', text: 'Hello' })
    const { replyTo } = await arrived(email, 'Once')
    const raw = (to: string) =>
      `From: ${email}\r\nTo: ${to}\r\nSubject: Re: Once\r\nMessage-ID: <once-${id}@a.example>\r\nContent-Type: text/plain; charset=iso-8859-1\r\nContent-Transfer-Encoding: 8bit\r\n\r\nYes, gr\xfcn\r\n`
    const latin = (text: string) => Buffer.from(text, 'latin1') as unknown as string
    expect([(await bring(latin(raw(replyTo!)))).status, (await bring(latin(raw(replyTo!.toUpperCase())))).status]).toEqual([204, 204])
    const { timeline } = await seen(id)
    expect(timeline.filter(l => l.kind === 'replied').map(l => (l.payload as { text: string }).text)).toEqual(['Yes, grün'])
    const forged = replyTo!.replace(/[0-9a-f](?=@)/, d => (d === '0' ? '1' : '0'))
    expect((await bring(raw(forged))).status).toBe(404)
  })
  it.each<[string, RequestInit['body'], number]>([
    ['no mail at all', 'x', 404],
    ['headers that break off', 'From: a@b.example\r\nTo: r', 404],
    ['an attachment bomb', `To: a@b.example\r\n\r\n${'x'.repeat(11 * 1024 * 1024)}`, 413],
  ])('%s is refused in words', async (_, body, status) => {
    const answer = await bring(body as string)
    expect([answer.status, typeof ((await answer.json()) as { detail: string }).detail]).toEqual([status, 'string'])
  })
  it('needs something to say, somebody to say it to, and somebody who may', async () => {
    const { id } = await waiting()
    expect((await write(id, { subject: 'x', text: ' ' })).status).toBe(422)
    expect((await write(id, { subject: 'two\nlines', text: 'x' })).status).toBe(422)
    expect((await write('01930000-0000-7000-8000-000000000999', { subject: 'x', text: 'x' })).status).toBe(404)
    expect((await write(id, { subject: 'x', text: 'x' }, tamsin)).status).toBe(403)
    const [phone] = await readDatabase(
      sql => sql<{ id: string }[]>`select id from lead where email is null and submitted_at is not null limit 1`,
    )
    if (phone) expect((await write(phone.id, { subject: 'x', text: 'x' })).status).toBe(422)
    expect((await bring('x', { 'content-type': 'text/plain' })).status).toBe(415)
  })
})
