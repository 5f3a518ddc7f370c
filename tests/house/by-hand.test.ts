import { beforeAll, describe, expect, it } from 'vitest'
import type { LeadView } from '#core/team'
import type { TimelineLine } from '#core/timeline'
import { readDatabase, send, signedIn, somebody } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [jonah, mireille, tamsin] = [] as unknown as [Ask, Ask, Ask]
let mireilleId = ''
beforeAll(async () => {
  ;[jonah, mireille, tamsin] = (await Promise.all(['jonah', 'mireille', 'tamsin'].map(signedIn))) as [Ask, Ask, Ask]
  mireilleId = ((await (await jonah('/api/team/house')).json()) as { members: { id: string; name: string }[] }).members.find(m =>
    m.name.startsWith('Mireille'),
  )!.id
})
interface Answer {
  status: number
  body: LeadView & { detail?: string; errors?: { field: string; message: string }[] }
}
async function post(body: object, who = jonah): Promise<Answer> {
  const answer = await who('/api/team/leads', 'POST', body)
  return { status: answer.status, body: (await answer.json()) as Answer['body'] }
}
async function put(id: string, key: string, body: object, who = jonah): Promise<Answer> {
  const answer = await who(`/api/team/leads/${id}/properties/${key}`, 'PUT', body)
  return { status: answer.status, body: (await answer.json()) as Answer['body'] }
}
const seen = async (id: string) => (await (await jonah(`/api/team/leads/${id}`)).json()) as { lead: LeadView; timeline: TimelineLine[] }
const number = () => `06 39 98 ${String(Math.floor(Math.random() * 9000) + 1000).replace(/(..)(..)/, '$1 $2')}`

describe('somebody written down by hand', () => {
  it('is scored and labelled like anybody, belongs to whom one says, and that one hears of it', async () => {
    const email = somebody('hand')
    const { status, body } = await post({
      email,
      values: { first_name: 'Edda', last_name: 'Fenwick', sector: 'school', size: 'large' },
      owner: mireilleId,
      from: 'At the garden fair',
    })
    expect([status, body.name, body.owner?.name, body.fit > 0, body.label !== null, body.waitingSince]).toEqual([
      201,
      'Edda Fenwick',
      'Mireille Vauclair',
      true,
      true,
      null,
    ])
    const { timeline } = await seen(body.id)
    expect(timeline.find(l => l.kind === 'made')).toMatchObject({ actor: 'Jonah Birkett', payload: { from: 'At the garden fair' } })
    expect(await readDatabase(sql => sql`select from delivery where lead_id = ${body.id} and member_id = ${mireilleId}`)).toHaveLength(1)
    // What they send later is theirs.
    await send('form_journal', { email, first_name: 'Edda' })
    expect((await seen(body.id)).timeline.some(l => l.kind === 'entry')).toBe(true)
  })
  it('goes to whoever the plan says, or to nobody; a number alone is a way to reach them', async () => {
    const plan = await post({ email: somebody('plan'), values: { sector: 'school' }, owner: 'plan' })
    expect([plan.status, plan.body.owner !== null]).toEqual([201, true])
    const phone = number()
    const nobody = await post({ values: { first_name: 'Wilf', phone }, owner: null })
    expect([nobody.status, nobody.body.owner, nobody.body.email]).toEqual([201, null, null])
    // Found by the number however it is written.
    for (const written of [phone, phone.replaceAll(' ', ''), phone.replace(/^0/, '+33 '), phone.replace(/^0/, '0033')]) {
      const { leads } = (await (await jonah(`/api/team/leads?search=${encodeURIComponent(written)}`)).json()) as { leads: LeadView[] }
      expect([written, leads.map(l => l.id)]).toEqual([written, [nobody.body.id]])
    }
  })
  it('is not written down twice, however many try at once', async () => {
    const email = somebody('twice')
    const both = await Promise.all([
      post({ email, values: {}, owner: null }),
      post({ email: email.toUpperCase(), values: {}, owner: null }, mireille),
    ])
    expect(both.map(b => b.status).toSorted()).toEqual([201, 409])
    expect(both.find(b => b.status === 409)!.body.errors![0]!.message).toContain(both.find(b => b.status === 201)!.body.id)
  })
  it.each<[object, string]>([
    [{ values: {}, owner: null }, 'email'],
    [{ email: 'nonsense', values: {}, owner: null }, 'email'],
    [{ email: 'a@by-hand.example', values: { phone: 'ring me' }, owner: null }, 'values.phone'],
    [{ email: 'a@by-hand.example', values: { nothing_like_this: 'x' }, owner: null }, 'values.nothing_like_this'],
    [{ email: 'a@by-hand.example', values: { sector: 'spaceport' }, owner: null }, 'values.sector'],
    [{ email: 'a@by-hand.example', values: {}, owner: '01930000-0000-7000-8000-000000000999' }, 'owner'],
  ])('%j is refused, with the field', async (body, field) => {
    const answer = await post(body)
    expect([answer.status, answer.body.errors?.map(e => e.field)]).toEqual([422, [field]])
  })
  it('by who may', async () => expect((await post({ email: somebody('no'), values: {}, owner: null }, tamsin)).status).toBe(403))
})

describe('what is known of a lead', () => {
  it('is changed, scored anew, told in the timeline, and emptied; the second of two sees what the first wrote', async () => {
    const {
      body: { id, fit },
    } = await post({ email: somebody('edit'), values: { sector: 'private', town: 'Fenwick' }, owner: null })
    const school = await put(id, 'sector', { value: 'school', was: 'private' })
    expect([school.status, school.body.fit > fit]).toEqual([200, true])
    expect((await put(id, 'town', { value: 'Larkmoss', was: 'Brackwater' })).body.detail).toContain('There stands “Fenwick” by now')
    expect((await seen(id)).lead.properties.town).toBe('Fenwick')
    expect((await put(id, 'town', { value: '', was: 'Fenwick' })).body.properties.town).toBeUndefined()
    expect((await put(id, 'budget', { value: '12,500.50' })).body.properties.budget).toBe('1250050')
    expect((await put(id, 'crops', { value: ['leaves', 'fruit'] })).body.properties.crops).toEqual(['leaves', 'fruit'])
    expect((await put(id, 'last_name', { value: 'Moss' })).body.name).toBe('Moss')
    const { timeline } = await seen(id)
    expect(timeline.filter(l => l.kind === 'edited').map(l => (l.payload as { property: string }).property)).toEqual([
      'last_name',
      'crops',
      'budget',
      'town',
      'sector',
    ])
  })
  it.each([
    ['sector', 'spaceport'],
    ['email', 'a@b.example'],
    ['nothing_like_this', 'x'],
    ['build_by', 'soon'],
    ['children', 'many'],
  ])('%s cannot become “%s”', async (key, value) => {
    const {
      body: { id },
    } = await post({ email: somebody('bad'), values: {}, owner: null })
    const answer = await put(id, key, { value })
    expect([answer.status, answer.body.errors?.[0]?.field]).toEqual([422, 'value'])
  })
})
