import type { ReviewList } from '#core/review'
import { describe, expect, it } from 'vitest'
import { form, visitorMail, q } from '../support/forms'
import { ask, mails, eventually, readDatabase, send, signedIn, somebody } from '../support/house'

type Lead = { id: string; email: string | null; firstName: string | null; lastName: string | null; properties: Record<string, unknown> }
const find = async (search: string) => (await ask<{ leads: Lead[] }>(`/api/v1/leads?search=${encodeURIComponent(search)}`)).leads
const byEmail = async (email: string) => (await ask<{ leads: Lead[] }>(`/api/v1/leads?email=${email}`)).leads
let n = 0
/** A number that nobody has used. */
const number = () => `06 ${String(Date.now() % 1e6).padStart(6, '0')}${String(n++ % 100).padStart(2, '0')}`
const written = (national: string) => `+33${national.replace(/\D/g, '').slice(1)}`
const byPhone = () =>
  form(d => {
    d.questions = [
      q('tel', 'phone', { property: 'phone', required: true }),
      q('first', 'short_text', { property: 'first_name' }),
      q('mail', 'email', { property: 'email' }),
    ]
    d.people = { ...d.people, same: ['phone'] }
    d.actions.push(visitorMail('thanks', 'Thank you', 'We have it.', 0))
  })

/** Follows the link of a mail that asks to confirm, and presses its button. */
async function confirm(text: string): Promise<{ status: number; text: string }> {
  const url = /https?:\/\/\S+\/c\/\S+/.exec(text)![0]
  expect(await (await fetch(url)).text()).toContain('Is this address yours?')
  const answer = await fetch(url, { method: 'POST' })
  return { status: answer.status, text: await answer.text() }
}

describe('a point that knows people by their number', () => {
  it('makes one lead of one number, in any writing, and of both at the same moment', async () => {
    const { key } = await byPhone()
    const tel = number()
    expect((await send(key, { tel, first: 'Ida' })).status).toBe(201)
    await Promise.all([send(key, { tel: written(tel), first: 'Ida' }), send(key, { tel: tel.replace(/ /g, ''), first: 'Ida B' })])
    const found = await find(written(tel))
    expect(found).toHaveLength(1)
    expect(found[0]).toMatchObject({ email: null, properties: { phone: written(tel) } })
    const fresh = number()
    await Promise.all(Array.from({ length: 8 }, (_, i) => send(key, { tel: fresh, first: `At once ${i}` })))
    expect(await find(written(fresh))).toHaveLength(1)
  })
  it('keeps an address that comes later as a claim, which becomes theirs when it is confirmed', async () => {
    const { key } = await byPhone()
    const tel = number()
    await send(key, { tel, first: 'Ida' })
    const email = somebody('later')
    await send(key, { tel, mail: email })
    expect(await byEmail(email)).toEqual([])
    const ask = await eventually(async () => (await mails()).find(m => m.to.includes(email)))
    expect([ask.subject, ask.text.includes(email), ask.text.includes('Ida')]).toEqual(['Is this address yours?', true, false])
    expect((await confirm(ask.text)).text).toContain('Confirmed')
    const [lead] = await byEmail(email)
    expect(lead).toMatchObject({ firstName: 'Ida', properties: { phone: written(tel) } })
    // What waited goes out now, and only now.
    await eventually(async () => (await mails()).find(m => m.to.includes(email) && m.subject === 'Thank you'))
    // Somebody else's number, and this person's address: the number tells who it is, and the address stays where it was.
    const other = number()
    await send(key, { tel: other, first: 'Other' })
    expect((await send(key, { tel: other, mail: email })).status).toBe(201)
    expect((await byEmail(email))[0]!.id).toBe(lead!.id)
    expect((await find(written(other)))[0]).toMatchObject({ firstName: 'Other', email: null })
  })
  it('shows a stranger who knows the number nothing, not even after they confirmed', async () => {
    const { key, slug } = await form(d => {
      d.questions = [
        q('tel', 'phone', { property: 'phone', required: true }),
        q('first', 'short_text', { property: 'first_name' }),
        q('words', 'long_text', { property: 'message' }),
        q('mail', 'email', { property: 'email' }),
      ]
      d.people = { ...d.people, same: ['phone'] }
      d.actions.push(visitorMail('thanks', 'Thank you, {{lead.first_name}}', 'Again: {{again}} Correct: {{correct}} {{answer.words}}', 0))
      d.returns = { correct: true, again: true }
    })
    const tel = number()
    await send(key, { tel, first: 'Secretia', words: 'nobody shall read this' })
    const stranger = somebody('stranger')
    await send(key, { tel, mail: stranger, words: 'a stranger' })
    const ask = await eventually(async () => (await mails()).find(m => m.to.includes(stranger)))
    await new Promise(r => setTimeout(r, 2500))
    expect((await mails()).filter(m => m.to.includes(stranger))).toHaveLength(1)
    expect(`${ask.text}${ask.html}`).not.toMatch(/Secretia|nobody shall|\/e\/|cavlin=/)
    await confirm(ask.text)
    const thanks = await eventually(async () => (await mails()).find(m => m.to.includes(stranger) && m.subject.startsWith('Thank you')))
    expect(`${thanks.subject}${thanks.text}`).not.toMatch(/Secretia|nobody shall/)
    for (const url of thanks.text.match(/https?:\/\/\S+/g)!)
      expect([url, await (await fetch(url)).text()]).toEqual([url, expect.not.stringMatching(/Secretia|nobody shall/)])
    const [lead] = await byEmail(stranger)
    const jonah = await signedIn('jonah')
    const links = (await (await jonah(`/api/team/leads/${lead!.id}/links`)).json()) as { url: string }[]
    expect(await (await fetch(links.find(l => l.url.includes(slug))!.url)).text()).not.toContain('Secretia')
    // A colleague finds out that it is them: from now on they are known again.
    expect((await jonah(`/api/team/leads/${lead!.id}/vouched`, 'PUT', {})).status).toBe(204)
    expect((await jonah(`/api/team/leads/${lead!.id}/vouched`, 'PUT', {})).status).toBe(404)
    expect(await (await fetch(links.find(l => l.url.includes(slug))!.url)).text()).toContain('Secretia')
  })
  it('goes to a person when two confirm, and what they judge is done', async () => {
    const { key } = await byPhone()
    const tel = number()
    await send(key, { tel, first: 'Two' })
    const [one, two, three] = [somebody('one'), somebody('two'), somebody('three')]
    for (const mail of [one, two, three]) await send(key, { tel, mail })
    const asked = async (who: string) => (await eventually(async () => (await mails()).find(m => m.to.includes(who)))).text
    expect((await confirm(await asked(one))).text).toContain('Confirmed')
    expect((await confirm(await asked(two))).text).toContain('one of us looks at what we have')
    const [lead] = await byEmail(one)
    const tamsin = await signedIn('tamsin')
    const waiting = ((await (await tamsin('/api/team/review')).json()) as ReviewList).items.filter(
      i => i.kind === 'claim' && i.lead === lead!.id,
    )
    expect(waiting).toMatchObject([{ address: two, own: one }])
    const { claims } = (await (await tamsin(`/api/team/leads/${lead!.id}`)).json()) as {
      claims: { id: string; address: string; confirmed: boolean }[]
    }
    expect(claims.map(c => [c.address, c.confirmed])).toEqual([
      [two, true],
      [three, false],
    ])
    const judge = (id: string, theirs: boolean) => tamsin(`/api/team/leads/${lead!.id}/claims/${id}`, 'PUT', { theirs }).then(r => r.status)
    expect([
      await judge(claims[1]!.id, false),
      await judge(claims[0]!.id, true),
      await judge(claims[0]!.id, true),
      await judge(lead!.id, true),
    ]).toEqual([204, 204, 409, 404])
    expect([(await byEmail(one)).length, (await byEmail(two))[0]!.id]).toEqual([0, lead!.id])
    await eventually(async () => (await mails()).find(m => m.to.includes(two) && m.subject === 'Thank you'))
    // Neither of the others is written to, now or later.
    for (const mail of [one, three]) await send(key, { tel, mail })
    await new Promise(r => setTimeout(r, 2500))
    expect((await mails()).filter(m => m.to.includes(three)).map(m => m.subject)).toEqual(['Is this address yours?'])
    // Another's address cannot be theirs.
    const other = somebody('other')
    await send('form_journal', { email: other })
    await send(key, { tel, mail: other })
    const fresh = (await (await tamsin(`/api/team/leads/${lead!.id}`)).json()) as { claims: { id: string; address: string }[] }
    expect(await judge(fresh.claims.find(c => c.address === other)!.id, true)).toBe(409)
  })
  it('lets whoever got the question leave, and not the person', async () => {
    const { key } = await byPhone()
    const tel = number()
    const [own, foreign] = [somebody('own'), somebody('foreign')]
    await send(key, { tel, mail: own, first: 'Own' })
    await send(key, { tel, mail: foreign })
    const { leave } = await eventually(async () => (await mails()).find(m => m.to.includes(foreign)))
    const answer = await fetch(leave!, { method: 'POST' })
    expect([answer.status, await answer.text()]).toEqual([200, expect.stringContaining(foreign)])
    await send(key, { tel, first: 'Own again' })
    await eventually(async () => (await mails()).filter(m => m.to.includes(own)).length === 2)
    const [lead] = await readDatabase(sql => sql<{ unsubscribedAt: Date | null }[]>`select unsubscribed_at from lead where email = ${own}`)
    expect(lead!.unsubscribedAt).toBeNull()
  })
  it('a table claims without a word, and only where nothing speaks against it', async () => {
    const { key } = await byPhone()
    const [tel, shared] = [number(), number()]
    await send(key, { tel, first: 'Tabula' })
    await send(key, { tel: shared, first: 'Office' })
    const tamsin = await signedIn('tamsin')
    const { id } = (await (await tamsin('/api/team/lists', 'POST', { name: `Claims ${Date.now()}` })).json()) as { id: string }
    const [mine, wrong, a, b] = ['mine', 'wrong', 'a', 'b'].map(somebody) as [string, string, string, string]
    const csv = [
      'E-mail,Phone,First name',
      `${mine},${written(tel)},Tabula`,
      `${a},${written(shared)},A`,
      `${b},${written(shared)},B`,
    ].join('\n')
    expect(await (await tamsin(`/api/team/lists/${id}/people`, 'POST', { csv, replace: false, dryRun: false })).json()).toMatchObject({
      fresh: 2,
      known: 1,
    })
    expect([(await byEmail(mine)).length, (await byEmail(a)).length, (await byEmail(b)).length]).toEqual([0, 1, 1])
    const [lead] = await find(written(tel))
    const { claims } = (await (await tamsin(`/api/team/leads/${lead!.id}`)).json()) as { claims: { address: string }[] }
    expect(claims.map(c => c.address)).toEqual([mine])
    // Another name under the number is somebody else.
    await tamsin(`/api/team/lists/${id}/people`, 'POST', {
      csv: `E-mail,Phone,First name\n${wrong},${written(tel)},Elsewho`,
      replace: false,
      dryRun: false,
    })
    expect(await byEmail(wrong)).toHaveLength(1)
    await new Promise(r => setTimeout(r, 2500))
    expect((await mails()).filter(m => [mine, wrong, a, b].some(address => m.to.includes(address)))).toEqual([])
  })
  it('finds whom we knew by their address before the first such point went live', async () => {
    const before = await form(d => {
      d.questions.push(q('tel', 'phone', { property: 'phone' }))
    })
    const email = somebody('before')
    const tel = number()
    await send(before.key, { email, tel })
    const { key } = await form(d => {
      d.questions = [
        q('tel', 'phone', { property: 'phone', required: true }),
        q('name', 'short_text', { property: 'last_name', required: true }),
      ]
      d.people = { ...d.people, same: ['phone'] }
    })
    await send(key, { tel: written(tel), name: 'Known' })
    expect((await byEmail(email))[0]).toMatchObject({ lastName: 'Known' })
  })
  it('needs the number, and a question that asks for it', async () => {
    const { key } = await byPhone()
    expect((await send(key, { first: 'Ida' })).body.errors![0]!.field).toBe('answers.tel')
    const none = await form(d => {
      d.people = { ...d.people, same: ['phone'] }
    })
    expect(none.key).toBeUndefined()
    const { errors } = (await none.publish(none.revision)).body
    expect(errors!.map(e => e.field)).toEqual(['people.same'])
  })
})

it('a pair of properties makes one person only where both agree', async () => {
  const { key } = await form(d => {
    d.questions = [
      q('last', 'short_text', { property: 'last_name', required: true }),
      q('town', 'short_text', { property: 'town', required: true }),
      q('first', 'short_text', { property: 'first_name' }),
    ]
    d.people = { ...d.people, same: ['last_name', 'town'] }
  })
  const last = `Pairwood${Date.now().toString(36)}`
  await send(key, { last, town: 'Brackwater', first: 'Ida' })
  await send(key, { last: `  ${last.toUpperCase()} `, town: 'brackwater', first: 'Ada' })
  await send(key, { last, town: 'Elsewhere', first: 'Eve' })
  const found = await find(last)
  expect(found.map(l => l.firstName).sort()).toEqual(['Ada', 'Eve'])
  const orla = await signedIn('orla')
  expect((await orla(`/api/team/leads/${found[0]!.id}`)).status).toBe(200)
})
