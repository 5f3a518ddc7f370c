import { describe, expect, it } from 'vitest'
import { connect } from '#db/client'
import { form, visitorMail, q } from '../support/forms'
import { ask, demo, eventually, mails, send, somebody, type Mail } from '../support/house'

const to = async (email: string) => (await mails()).filter(m => m.to.includes(email))
const mailTo = (email: string, subject: string) => eventually(async () => (await to(email)).find(m => m.subject === subject))
const linkIn = (mail: Mail, path: string) => new RegExp(`${demo().url}/${path}/[\\w.-]+`).exec(mail.text)![0]
const press = (url: string) => fetch(url, { method: 'POST' })
async function waiting(email: string) {
  const sql = connect(process.env.CAVLIN_TEST_CLUSTER!, { max: 1 })
  try {
    return await sql<{ kind: string; days: number | null; sent: boolean; dropped: string | null }[]>`
      select t.kind, round(extract(epoch from t.due_at - now()) / 86400)::int as days, t.sent_at is not null as sent, t.dropped from delivery t join lead l on l.id = t.lead_id where t.member_id is null and l.email = ${email} order by t.id`
  } finally {
    await sql.end()
  }
}
const withMails = () =>
  form(d => {
    d.questions.push(q('first', 'short_text', { property: 'first_name' }))
    d.confirm = {
      subject: 'Yours, {{lead.name}}?',
      text: 'Press here:\n\n{{link}}',
      done: 'Now <b>we</b> know.',
      then: { kind: 'message' },
    }
    d.actions.push(
      visitorMail('thanks', 'Thank you, {{lead.first_name}}', 'You said “{{answer.first}}” in {{point.title}}.', 0),
      visitorMail('later', 'Still there?', 'Later.', 5),
    )
  })

describe('mails to visitors', () => {
  it('wait until the address is confirmed, by a press and not by a visit, and then go out', async () => {
    const { key } = await withMails()
    const email = somebody('confirm')
    await send(key, { email, first: 'Ida & <b>' })
    const request = await mailTo(email, 'Yours, Ida & <b>?')
    const link = linkIn(request, 'c')
    expect(await (await fetch(link)).text()).toContain('Yes, it was me, and it is mine')
    expect((await waiting(email)).map(w => [w.kind, w.days, w.sent])).toEqual([
      ['confirm', 0, true],
      ['mail', null, false],
      ['mail', null, false],
    ])
    expect(await (await press(link)).text()).toContain('Now &#60;b&#62;we&#60;/b&#62; know.')
    const thanks = await mailTo(email, 'Thank you, Ida & <b>')
    expect(thanks.text).toContain('You said “Ida & <b>” in')
    expect(thanks.html).not.toContain('<b>')
    expect((await waiting(email)).map(w => [w.kind, w.days, w.sent])).toEqual([
      ['confirm', 0, true],
      ['mail', 0, true],
      ['mail', 5, false],
    ])
    expect(await (await fetch(link)).text()).toContain('already')
    const {
      leads: [lead],
    } = await ask<{ leads: { id: string }[] }>(`/api/v1/leads?email=${email}`)
    expect(lead).toBeDefined()
  })
  it('go to whom their condition fits, all of them or the first only, as whom the point says', async () => {
    const large = { attribute: 'answer.size', is: 'equal' as const, value: 'l' }
    const made = (which: 'all' | 'first') =>
      form(d => {
        d.questions.push(
          q('size', 'one_of', {
            choices: [
              { value: 's', text: 'Small', tag: undefined },
              { value: 'l', text: 'Large', tag: undefined },
            ],
          }),
        )
        d.actions.push(
          visitorMail('big', 'For large ones', 'Big.', 0, { when: { all: [large] } }),
          visitorMail('rest', 'For everybody', 'All.', 0),
        )
        d.mailing = { which, name: 'Visits, Larkmoss', reply: 'visits@larkmoss.example' }
      })
    // All mails of an entry wait in the outbox together: once none waits, all have come.
    const gets = async (key: string, size: string) => {
      const email = somebody('fits')
      await send(key, { email, size })
      await eventually(async () => {
        const mails = await waiting(email)
        return mails.length > 0 && mails.every(m => m.sent || m.dropped)
      })
      return (await eventually(async () => (await to(email)).length === (await waiting(email)).length && (await to(email)))).sort((a, b) =>
        a.subject.localeCompare(b.subject),
      )
    }
    const subjects = async (key: string, size: string) => (await gets(key, size)).map(m => m.subject)
    const [all, first] = [await made('all'), await made('first')]
    expect(await subjects(all.key, 's')).toEqual(['For everybody'])
    expect(await subjects(all.key, 'l')).toEqual(['For everybody', 'For large ones'])
    const toLarge = await gets(first.key, 'l')
    expect(toLarge.map(m => m.subject)).toEqual(['For large ones'])
    expect(toLarge[0]).toMatchObject({ from: expect.stringContaining('Visits, Larkmoss'), replyTo: 'visits@larkmoss.example' })
    expect(await subjects(first.key, 's')).toEqual(['For everybody'])
    // What could never go out keeps it from going live.
    const useless = await form(d => {
      d.actions.push(
        visitorMail('rest', 'For everybody', 'All.', 0),
        visitorMail('never', 'Never', 'Never.', 0),
        visitorMail('gone', 'Gone', 'Gone.', 0, { when: { all: [{ attribute: 'answer.gone', is: 'filled' }] } }),
      )
      d.mailing.which = 'first'
    })
    expect((await useless.publish(useless.revision)).body.errors!.map(e => e.field)).toEqual([
      'actions.1.when',
      'actions.2.when',
      'actions.2.when',
    ])
  })
  it('stop when somebody leaves, also by one click, and no form puts them back', async () => {
    const { key } = await form(d => {
      d.questions.push(q('words', 'short_text'))
      d.actions.push(visitorMail('thanks', 'Thank you', 'We have it.', 0), visitorMail('later', 'Still there?', 'Later.', 3))
    })
    const email = somebody('leave')
    await send(key, { email })
    const leave = linkIn(await mailTo(email, 'Thank you'), 'leave')
    expect(await (await fetch(leave)).text()).toContain('Send me nothing more')
    expect((await waiting(email)).at(-1)).toMatchObject({ days: 3, dropped: null })
    expect(
      (
        await fetch(leave, {
          method: 'POST',
          headers: { 'content-type': 'application/x-www-form-urlencoded' },
          body: 'List-Unsubscribe=One-Click',
        })
      ).status,
    ).toBe(200)
    expect((await waiting(email)).at(-1)).toMatchObject({ dropped: 'unsubscribed' })
    // What they ask for now is answered; what would follow days later is not written.
    await send(key, { email, words: 'again' })
    expect((await waiting(email)).map(w => [w.days, w.dropped]).filter(w => w[1] === null)).toHaveLength(2)
    expect((await waiting(email)).filter(w => (w.days ?? 0) > 0 && !w.dropped)).toEqual([])
  })
  it('flood nobody, however often an address is typed into a form', async () => {
    const { key } = await form(d => {
      d.questions.push(q('words', 'short_text'))
      d.actions.push(visitorMail('thanks', 'Thank you', 'We have it.', 0))
    })
    const email = somebody('flooded')
    await Promise.all(Array.from({ length: 9 }, (_, n) => send(key, { email, words: `${n}` })))
    await eventually(async () => (await waiting(email)).every(w => w.sent || w.dropped))
    expect((await waiting(email)).filter(w => w.sent)).toHaveLength(5)
    expect((await waiting(email)).filter(w => w.dropped === 'too many')).toHaveLength(4)
  })
  it('have links that nobody else can write', async () => {
    const { key } = await withMails()
    const email = somebody('forged')
    await send(key, { email, first: 'Ida' })
    const link = linkIn(await mailTo(email, 'Yours, Ida?'), 'c')
    for (const bad of [
      link.slice(0, -1),
      `${link}x`,
      link.replace('/c/', '/leave/'),
      `${demo().url}/c/nothing`,
      `${demo().url}/c/${'a'.repeat(5000)}`,
    ]) {
      expect((await fetch(bad)).status).toBe(404)
      expect((await press(bad)).status).toBe(404)
    }
    expect((await waiting(email)).filter(w => w.sent).map(w => w.kind)).toEqual(['confirm'])
  })
})

it('a form whose mails name what does not exist cannot go live', async () => {
  const f = await form(() => {})
  const stops = async (text: string, confirm = false) => {
    const d = structuredClone(f.definition)
    if (confirm) d.confirm = { subject: 'S', text, done: '', then: { kind: 'message' } }
    else d.actions.push(visitorMail('a', 'S', text, 0))
    const { revision } = await f.save(d, f.revision)
    f.revision = revision
    return (await f.publish(revision)).body.errors?.map(e => e.field) ?? []
  }
  expect(await stops('{{lead.shoe_size}}')).toEqual(['actions.0.text'])
  expect(await stops('{{lead.first_name')).toEqual(['actions.0.text'])
  expect(await stops('{{link}}')).toEqual(['actions.0.text'])
  expect(await stops('No link', true)).toEqual(['confirm.text'])
  expect(await stops('{{link}}', true)).toEqual([])
})

it('let nothing that a stranger typed become a link, or fill the subject', async () => {
  const { key } = await form(d => {
    d.questions.push(q('first', 'short_text', { property: 'first_name' }), q('words', 'long_text'))
    d.actions.push(
      visitorMail(
        'thanks',
        'Thank you, {{lead.first_name}} {{answer.words}}',
        'Dear {{lead.first_name}},\n\n{{answer.words}}\n\n{{again}}',
        0,
      ),
    )
  })
  const email = somebody('links')
  await send(key, { email, first: 'win at evil.example', words: `https://evil.example/${'x'.repeat(2000)} now` })
  const mail = await eventually(async () => (await to(email))[0])
  expect(mail.subject).toBe('Thank you,')
  expect(mail.text.match(/https?:\/\/\S+/g)!.every(url => url.startsWith(demo().url))).toBe(true)
  expect(mail.html.match(/href="[^"]+"/g)!.every(href => href.includes(new URL(demo().url).host))).toBe(true)
  expect(mail.text).not.toContain('evil.example')
  expect(mail.text.length).toBeLessThan(1500)
  const long = somebody('long')
  await send(key, { email: long, first: 'A'.repeat(190), words: 'B '.repeat(300) })
  expect((await eventually(async () => (await to(long))[0])).subject.length).toBeLessThanOrEqual(160)
})
