import { describe, expect, it } from 'vitest'
import { TEXTS } from '#core/languages/say'
import { inLanguage } from '#core/points/in-language'
import { demo, eventually, mails, send, signedIn, somebody, type Mail } from '../support/house'
import { form, q, visitorMail } from '../support/forms'

const { ar, de } = TEXTS
const to = async (email: string) => (await mails()).filter(m => m.to.includes(email))
const mailTo = (email: string, subject: string): Promise<Mail> => eventually(async () => (await to(email)).find(m => m.subject === subject))
const linkIn = (mail: Mail, path: string) => new RegExp(`${demo().url}/${path}/[\\w.-]+`).exec(mail.text)![0]
const pageAt = async (path: string, headers: Record<string, string> = {}) => {
  const answer = await fetch(path.startsWith('http') ? path : demo().url + path, { headers: { accept: 'text/html', ...headers } })
  return { status: answer.status, html: await answer.text() }
}

describe('a form in Arabic', () => {
  const made = () =>
    form(d => {
      Object.assign(d, inLanguage(d, 'ar'))
      d.title = 'طلب زيارة'
      d.questions.push(q('sure', 'yes_no', { label: 'متأكد؟', required: true }))
      d.actions.push(visitorMail('thanks', 'شكرًا', 'قلت: {{answer.sure}}', 0))
      d.confirm = { subject: 'تأكيد', text: 'اضغط هنا:\n\n{{link}}', done: '', then: { kind: 'message' } }
      d.returns = { correct: true, again: false }
    })
  it('is Arabic in all that is ours, from the form to the way out of its mails', async () => {
    const { key, slug } = await made()
    const page = (await pageAt(`/p/${slug}`)).html
    expect(page).toMatch(/^<!doctype html><html lang="ar" dir="rtl">/)
    expect(page).toContain(`<span>${ar.yes}</span>`)
    const email = somebody('ar')
    const wrong = await send(key, { email: 'x' })
    expect((wrong.body as unknown as { errors: { message: string }[] }).errors.map(f => f.message)).toEqual([ar.notEmail, ar.chooseOne])
    const { body } = await send(key, { email, sure: 'yes' })
    expect(body).toMatchObject({ next: { text: ar.thanks, ways: [{ text: ar.correct }] } })
    const request = await mailTo(email, 'تأكيد')
    expect(request.html).toContain('<html lang="ar" dir="rtl">')
    expect(request.html).toContain(`>${ar.mailConfirm}</a>`)
    expect(request.text).toContain(ar.mailConfirmFoot)
    const confirm = linkIn(request, 'c')
    expect((await pageAt(confirm)).html).toContain(ar.confirmYes)
    expect(await (await fetch(confirm, { method: 'POST' })).text()).toContain(ar.confirmed)
    const thanks = await mailTo(email, 'شكرًا')
    expect(thanks.text).toContain(`قلت: ${ar.yes}`)
    expect((await pageAt(linkIn(thanks, 'leave'))).html).toContain(ar.leaveYes)
    const correct = (body as unknown as { next: { ways: { url: string }[] } }).next.ways[0]!.url
    expect((await pageAt(correct)).html).toContain(ar.correctKeep)
  })
})

describe('a form in several languages', () => {
  it('is shown in the one of its page or browser, and what follows an entry speaks it too; a colleague reads their own', async () => {
    const { key, slug, id } = await form(d => {
      d.questions.push(
        q('size', 'one_of', {
          label: 'Size',
          choices: [
            { value: 's', text: 'Small', tag: undefined },
            { value: 'l', text: 'Large', tag: undefined },
          ],
        }),
      )
      d.actions.push(visitorMail('thanks', 'Thank you', 'You said {{answer.size}}.', 0))
      d.returns = { correct: true, again: false }
      d.translations = [
        {
          key: 'ar',
          texts: [
            { key: 'questions.size.choices.s', text: 'صغير' },
            { key: 'actions.thanks.subject', text: 'شكرًا' },
            { key: 'actions.thanks.text', text: 'قلت {{answer.size}}.' },
          ],
        },
      ]
    })
    const shown = async (query: string, language = 'en') => {
      const answer = await fetch(`${demo().url}/w/points/${key}${query}`, { headers: { 'accept-language': language } })
      return [((await answer.json()) as { language: string }).language, answer.headers.get('vary')]
    }
    expect(
      [await shown(''), await shown('', 'ar-EG'), await shown('?lang=ar'), await shown('?lang=de', 'ar'), await shown('?lang=%00')].map(
        ([l]) => l,
      ),
    ).toEqual(['en', 'ar', 'ar', 'ar', 'en'])
    expect((await shown(''))[1]).toContain('Accept-Language')
    expect((await pageAt(`/p/${slug}`, { 'accept-language': 'ar' })).html).toContain('صغير')
    const email = somebody('tongue')
    // Without a script, and wrong at first: it comes back in the same language, whatever the browser asks for.
    const post = (fields: Record<string, string>) =>
      fetch(`${demo().url}/w/points/${key}/entries`, {
        method: 'POST',
        redirect: 'manual',
        headers: { accept: 'text/html', 'accept-language': 'en', 'content-type': 'application/x-www-form-urlencoded' },
        body: new URLSearchParams({ _language: 'ar', _shown: '1', size: 's', ...fields }).toString(),
      })
    expect(await (await post({ email: 'x' })).text()).toContain(ar.notEmail)
    const taken = await post({ email })
    expect(taken.headers.get('location')).toContain('lang=ar')
    expect((await pageAt(taken.headers.get('location')!)).html).toContain(ar.thanks)
    expect((await mailTo(email, 'شكرًا')).text).toContain('قلت صغير.')
    const { respondents } = (await (
      await (
        await signedIn('tamsin')
      )(`/api/team/points/${id}/respondents`, 'POST', { from: '2020-01-01', to: '2028-01-01' })
    ).json()) as { respondents: { answers: Record<string, string> }[] }
    expect(respondents[0]!.answers.size).toBe('s')
    const correct = /\/e\/[\w.-]+/.exec((await pageAt(taken.headers.get('location')!)).html)![0]
    expect((await pageAt(correct, { 'accept-language': 'en' })).html).toContain(ar.correctKeep)
  })
})

describe('a page that belongs to nothing', () => {
  it('speaks what the browser asks for, of what we speak', async () => {
    const title = async (language: string) =>
      (await pageAt('/p/nothing-is-here', { 'accept-language': language })).html.match(/lang="(\w+)"/)![1]
    expect([await title('de-CH,de;q=0.9,en;q=0.5'), await title('fi'), await title('xx, ar;q=0.2')]).toEqual(['de', 'en', 'ar'])
    expect((await pageAt('/c/nonsense', { 'accept-language': 'de' })).html).toContain(de.broken)
  })
})

describe('a house’s own words', () => {
  it('stand in place of ours as long as it has them, and lose nothing that only the moment knows', async () => {
    const orla = await signedIn('orla')
    const say = (body: object) => orla('/api/team/texts', 'PUT', body)
    try {
      expect((await say({ language: 'nl', key: 'notEmail', text: 'Dit adres klopt niet.' })).status).toBe(204)
      const { key } = await form(d => void Object.assign(d, inLanguage(d, 'nl')))
      await eventually(async () => JSON.stringify((await send(key, { email: 'x' })).body).includes('Dit adres klopt niet.'))
      for (const [wrong, why] of [
        [{ language: 'nl', key: 'download', text: 'Pak het' }, '{name}'],
        [{ language: 'xx', key: 'send', text: 'x' }, ''],
        [{ language: 'nl', key: 'nowhere', text: 'x' }, ''],
      ] as const) {
        const answer = await say(wrong)
        expect([answer.status, (await answer.text()).includes(why)]).toEqual([422, true])
      }
    } finally {
      await say({ language: 'nl', key: 'notEmail', text: '' })
    }
    expect(await (await orla('/api/team/texts')).json()).toEqual({})
  })
})
