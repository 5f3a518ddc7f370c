import { describe, expect, it } from 'vitest'
import { form, letter, q } from '../support/forms'
import { ask, mails, eventually, send, signedIn, somebody } from '../support/house'

type Lead = { id: string; email: string | null; firstName: string | null; lastName: string | null; properties: Record<string, unknown> }
const find = async (search: string) => (await ask<{ leads: Lead[] }>(`/api/v1/leads?search=${encodeURIComponent(search)}`)).leads
const byEmail = async (email: string) => (await ask<{ leads: Lead[] }>(`/api/v1/leads?email=${email}`)).leads
let n = 0
/** A number that nobody has used. */
const number = () => `06 ${String(Date.now() % 1e6).padStart(6, '0')}${String(n++ % 100).padStart(2, '0')}`
const written = (national: string) => `+33${national.replace(/\D/g, '').slice(1)}`
const byPhone = () => form((d) => {
  d.questions = [q('tel', 'phone', { property: 'phone', required: true }), q('first', 'short_text', { property: 'first_name' }), q('mail', 'email', { property: 'email' })]
  d.people = { ...d.people, same: ['phone'] }
  d.letters = [letter('thanks', 'Thank you', 'We have it.', 0)]
})

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
  it('gives somebody the address that they leave later, writes to it, and never takes another’s', async () => {
    const { key } = await byPhone()
    const tel = number()
    await send(key, { tel, first: 'Ida' })
    const email = somebody('later')
    await send(key, { tel, mail: email })
    const [lead] = await byEmail(email)
    expect(lead).toMatchObject({ firstName: 'Ida', properties: { phone: written(tel) } })
    await eventually(async () => (await mails()).find(m => m.to.includes(email)))
    // Somebody else's number, and this person's address: the number tells who it is, and the address stays where it was.
    const other = number()
    await send(key, { tel: other, first: 'Other' })
    expect((await send(key, { tel: other, mail: email })).status).toBe(201)
    expect((await byEmail(email))[0]!.id).toBe(lead!.id)
    expect((await find(written(other)))[0]).toMatchObject({ firstName: 'Other', email: null })
  })
  it('finds whom we knew by their address before the first such point went live', async () => {
    const before = await form((d) => { d.questions.push(q('tel', 'phone', { property: 'phone' })) })
    const email = somebody('before')
    const tel = number()
    await send(before.key, { email, tel })
    const { key } = await form((d) => {
      d.questions = [q('tel', 'phone', { property: 'phone', required: true }), q('name', 'short_text', { property: 'last_name', required: true })]
      d.people = { ...d.people, same: ['phone'] }
    })
    await send(key, { tel: written(tel), name: 'Known' })
    expect((await byEmail(email))[0]).toMatchObject({ lastName: 'Known' })
  })
  it('needs the number, and a question that asks for it', async () => {
    const { key } = await byPhone()
    expect((await send(key, { first: 'Ida' })).body.errors![0]!.field).toBe('answers.tel')
    const none = await form((d) => { d.people = { ...d.people, same: ['phone'] } })
    expect(none.key).toBeUndefined()
    const { errors } = (await none.publish(none.revision)).body
    expect(errors!.map(e => e.field)).toEqual(['people.same'])
  })
})

it('a pair of properties makes one person only where both agree', async () => {
  const { key } = await form((d) => {
    d.questions = [q('last', 'short_text', { property: 'last_name', required: true }), q('town', 'short_text', { property: 'town', required: true }), q('first', 'short_text', { property: 'first_name' })]
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
