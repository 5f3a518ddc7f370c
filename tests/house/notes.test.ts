import { beforeAll, describe, expect, it } from 'vitest'
import type { LeadView } from '#core/team'
import type { NotePayload, TimelineLine } from '#core/timeline'
import { cookieOf, demo, eventually, readDatabase, send, signedIn, somebody, type Mail } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [jonah, mireille, tamsin, orla] = [] as unknown as [Ask, Ask, Ask, Ask]
let members: { id: string; name: string }[] = []
beforeAll(async () => {
  ;[jonah, mireille, tamsin, orla] = (await Promise.all(['jonah', 'mireille', 'tamsin', 'orla'].map(signedIn))) as [Ask, Ask, Ask, Ask]
  members = ((await (await jonah('/api/team/house')).json()) as { members: typeof members }).members
})
const idOf = (name: string) => members.find(m => m.name.startsWith(name))!.id

async function lead(name = 'noted'): Promise<{ id: string; email: string }> {
  const email = somebody(name)
  expect((await send('form_journal', { email, first_name: 'Wilf' })).status).toBe(201)
  const found = await eventually(async () => ((await (await jonah(`/api/team/leads?search=${email}`)).json()) as { leads: LeadView[] }).leads[0])
  return { id: found.id, email }
}
const json = async <T>(answer: Response) => ({ status: answer.status, body: (await answer.json()) as T & { detail?: string } })
const note = (id: string, body: object, who = jonah) => who(`/api/team/leads/${id}/notes`, 'POST', body)
const change = async (id: string, body: object, who = jonah) => json(await who(`/api/team/leads/${id}/notes`, 'PUT', body))
const lines = async (id: string, who = jonah) => ((await (await who(`/api/team/leads/${id}`)).json()) as { timeline: TimelineLine[] }).timeline
const noteOf = async (id: string) => (await lines(id)).find(l => l.kind === 'note')!.payload as NotePayload
const told = (id: string, member: string) => readDatabase(sql => sql<{ subject: string; body: string }[]>`select subject, body from delivery where lead_id = ${id} and member_id = ${member} and subject like '%mentions you%' order by at`)

/** Sends a file as a browser does. */
async function upload(id: string, name: string, content: string, who = 'jonah') {
  const body = new FormData()
  body.append('file', new Blob([content]), name)
  return json<{ id: string; name: string; size: number }>(await fetch(`${demo().url}/api/team/leads/${id}/files`, { method: 'POST', headers: { cookie: await cookieOf(who) }, body }))
}

describe('a note', () => {
  it('tells whom it names, once, also by a later change, and never whoever wrote it', async () => {
    const { id } = await lead()
    expect((await note(id, { text: 'Ask @Mireille Vauclair about the roof, I am @Jonah Birkett.' })).status).toBe(200)
    const { of, mentions } = await noteOf(id)
    expect([mentions!.toSorted(), await told(id, idOf('Jonah'))]).toEqual([[idOf('Mireille'), idOf('Jonah')].toSorted(), []])
    expect((await told(id, idOf('Mireille'))).map(t => t.subject)).toEqual(['Jonah Birkett mentions you: Wilf'])
    const text = 'Ask @Mireille Vauclair about the roof.'
    expect((await change(id, { of, text, was: 'Ask @Mireille Vauclair about the roof, I am @Jonah Birkett.' })).status).toBe(200)
    expect(await told(id, idOf('Mireille'))).toHaveLength(1)
    expect((await change(id, { of, text: `${text} And @Orla Penhaligon.`, was: text })).status).toBe(200)
    expect(await told(id, idOf('Orla'))).toHaveLength(1)
  })

  it('is changed and removed by who wrote it alone, keeps what it said, and is not overwritten unseen', async () => {
    const { id } = await lead()
    await note(id, { text: 'They want tomatoes.' })
    const { of } = await noteOf(id)
    expect((await change(id, { of, text: 'x', was: 'They want tomatoes.' }, mireille)).status).toBe(403)
    expect((await change(id, { of, text: 'They want peppers.', was: 'They want tomatoes.' })).status).toBe(200)
    const late = await change(id, { of, text: 'They want beans.', was: 'They want tomatoes.' })
    expect([late.status, late.body.detail]).toEqual([409, expect.stringContaining('changed meanwhile')])
    expect((await noteOf(id)).versions.map(v => v.text)).toEqual(['They want peppers.'])
    expect((await change(id, { of, text: null, was: 'They want peppers.' })).status).toBe(200)
    expect((await noteOf(id)).versions.map(v => v.text)).toEqual(['They want peppers.', null])
    // It stands in one line, whatever became of it.
    expect((await lines(id)).filter(l => l.kind === 'note' || (l.kind as string) === 'note_changed')).toHaveLength(1)
    const other = await lead('elsewhere')
    expect((await change(other.id, { of, text: 'x', was: null })).status).toBe(404)
    expect((await change(id, { of: 'nonsense', text: 'x', was: null })).status).toBe(422)
    expect((await note(id, { text: '  ' })).status).toBe(422)
  })

  it('takes files along, each once, that members alone can read', async () => {
    const { id } = await lead()
    const file = await upload(id, 'plan.txt', 'Twelve metres by four.')
    expect([file.status, file.body.name]).toEqual([201, 'plan.txt'])
    // Not before it stands somewhere.
    expect((await jonah(`/api/team/files/${file.body.id}`)).status).toBe(404)
    expect((await note(id, { text: 'The plan', files: [file.body.id] })).status).toBe(200)
    expect((await noteOf(id)).files).toEqual([{ id: file.body.id, name: 'plan.txt', size: 22 }])
    expect(await (await mireille(`/api/team/files/${file.body.id}`)).text()).toBe('Twelve metres by four.')
    expect((await fetch(`${demo().url}/api/team/files/${file.body.id}`)).status).toBe(401)
    expect((await note(id, { text: 'Again', files: [file.body.id] })).status).toBe(422)
    const lie = await upload(id, 'plan.pdf', 'Not a PDF at all.')
    expect(lie.status).toBe(422)
  })

  it('and a mail to one person take files that leave with it', async () => {
    const { id, email } = await lead('files')
    const { body: file } = await upload(id, 'prices.csv', 'bench,40\n')
    expect((await jonah(`/api/team/leads/${id}/mails`, 'POST', { subject: 'Our prices', text: 'See there.', files: [file.id] })).status).toBe(202)
    type Kept = Mail & { attachments?: { name: string }[] }
    const mail = await eventually(async () => ((await (await fetch(`${demo().standins.mailbox}/api/messages`)).json()) as Kept[]).find(m => m.to === email && m.subject === 'Our prices'))
    expect(JSON.stringify(mail)).toContain('prices.csv')
    expect((await lines(id)).find(l => l.kind === 'wrote')!.payload).toMatchObject({ files: [{ name: 'prices.csv' }] })
  })
})

describe('a lead’s timeline', () => {
  it('is narrowed and searched, by what a note says now', async () => {
    const { id } = await lead()
    await note(id, { text: 'They asked for quince trees.' })
    await jonah(`/api/team/leads/${id}/calls`, 'POST', { result: 'reached', text: 'About the foundation.' })
    const of = async (query: string) => ((await (await jonah(`/api/team/leads/${id}/timeline?${query}`)).json()) as { lines: TimelineLine[] }).lines.map(l => l.kind)
    expect(await of('what=said')).toEqual(['call', 'note'])
    expect(await of('search=QUINCE')).toEqual(['note'])
    expect(await of('search=foundation')).toEqual(['call'])
    expect(await of('what=mails&search=quince')).toEqual([])
    await change(id, { of: (await noteOf(id)).of, text: 'They asked for figs.', was: 'They asked for quince trees.' })
    expect([await of('search=quince'), await of('search=figs')]).toEqual([[], ['note']])
    for (const bad of ['what=nonsense', 'before=yesterday']) expect((await jonah(`/api/team/leads/${id}/timeline?${bad}`)).status).toBe(400)
  })
})

describe('a search', () => {
  it('finds who is called nearly so, and in whose notes and mails words stand', async () => {
    const email = somebody('slip')
    await send('form_visit', { email, first_name: 'Theodosia', last_name: 'Wrackmoor', company: 'Wrackmoor', sector: 'school', size: 'large' })
    const found = await eventually(async () => ((await (await jonah(`/api/team/leads?search=${email}`)).json()) as { leads: LeadView[] }).leads[0])
    const alike = async (search: string) => (await (await jonah(`/api/team/leads/alike?search=${encodeURIComponent(search)}`)).json()) as { like: { id: string }[]; said: number }
    expect((await alike('Teodosia Wrakmoor')).like[0]?.id).toBe(found.id)
    const word = `zinnia${Date.now().toString(36)}`
    await note(found.id, { text: `They grow ${word} and thyme.` })
    expect((await alike(word)).said).toBe(1)
    const said = async (text: string) => ((await (await jonah(`/api/team/leads?said=${encodeURIComponent(text)}`)).json()) as { leads: LeadView[] }).leads.map(l => l.id)
    expect([await said(`${word} thyme`), await said(`${word} basil`)]).toEqual([[found.id], []])
    // What it does not say any more, nobody finds.
    await change(found.id, { of: (await noteOf(found.id)).of, text: null, was: `They grow ${word} and thyme.` })
    expect([(await alike(word)).said, await said(word)]).toEqual([0, []])
    expect((await jonah('/api/team/leads/alike')).status).toBe(400)
  })
})

describe('views of the table', () => {
  const kept = async (who: Ask) => ((await (await who('/api/team/views')).json()) as { views: { id: string; name: string; shared: boolean; columns: string[] }[] }).views
  it('are one’s own or everybody’s, and are changed by whose they are', async () => {
    const name = `V${Date.now()}`
    const body = { name, query: { owner: ['none'], sort: 'name' }, columns: ['label', 'p.sector'] }
    const own = await json<{ id: string }>(await jonah('/api/team/views', 'POST', { ...body, shared: false }))
    const shared = await json<{ id: string }>(await jonah('/api/team/views', 'POST', { ...body, shared: true }))
    expect([own.status, shared.status, (await jonah('/api/team/views', 'POST', { ...body, name: name.toUpperCase(), shared: true })).status]).toEqual([201, 201, 422])
    const of = async (who: Ask) => (await kept(who)).filter(v => v.name === name).map(v => v.shared)
    expect([await of(jonah), await of(mireille)]).toEqual([[false, true], [true]])
    expect((await mireille(`/api/team/views/${shared.body.id}`, 'PUT', body)).status).toBe(404)
    expect((await mireille(`/api/team/views/${own.body.id}`, 'DELETE')).status).toBe(404)
    expect((await orla(`/api/team/views/${shared.body.id}`, 'PUT', { ...body, columns: [] })).status).toBe(200)
    expect((await kept(mireille)).find(v => v.id === shared.body.id)!.columns).toEqual([])
    for (const id of [own.body.id, shared.body.id]) expect((await jonah(`/api/team/views/${id}`, 'DELETE')).status).toBe(200)
    expect(await of(jonah)).toEqual([])
  })
  it.each([{ name: '' }, { columns: ['nonsense'] }, { query: { drop: 'table' } }, { query: { search: { a: 1 } } }, { name: 'x'.repeat(61) }])('are refused as %j', async wrong => {
    expect((await jonah('/api/team/views', 'POST', { name: 'A', query: {}, columns: [], shared: false, ...wrong })).status).toBe(422)
  })
})

describe('ready texts', () => {
  it('are the team’s, are not overwritten unseen, and name only what there is', async () => {
    const id = crypto.randomUUID()
    const put = (body: object, who = jonah) => who(`/api/team/ready-texts/${id}`, 'PUT', { name: `T${id.slice(0, 8)}`, subject: 'About {{lead.company}}', body: 'When may I call?', ...body })
    expect((await put({ body: 'Dear {{lead.nonsense}}' })).status).toBe(422)
    expect((await put({ body: 'Dear {{lead.name' })).status).toBe(422)
    expect((await put({}, tamsin)).status).toBe(403)
    expect((await put({})).status).toBe(200)
    const all = async () => ((await (await mireille('/api/team/ready-texts')).json()) as { texts: { id: string; body: string; changedAt: string }[] }).texts
    const { changedAt } = (await all()).find(t => t.id === id)!
    expect((await put({ body: 'Mine', was: changedAt }, mireille)).status).toBe(200)
    expect((await put({ body: 'Theirs', was: changedAt })).status).toBe(409)
    expect((await all()).find(t => t.id === id)!.body).toBe('Mine')
    expect([(await jonah(`/api/team/ready-texts/${id}`, 'DELETE')).status, (await jonah(`/api/team/ready-texts/${id}`, 'DELETE')).status]).toEqual([200, 404])
  })
})

describe('a firm', () => {
  it('has all its people, by its name and by the domain of their addresses', async () => {
    const tag = Date.now().toString(36)
    const people = [
      { email: `ada.${tag}@firm-${tag}.example`, company: `Hollowbank ${tag} Ltd` },
      { email: `bo.${tag}@firm-${tag}.example`, company: '' },
      { email: `cy.${tag}@elsewhere-${tag}.example`, company: `HOLLOWBANK ${tag}` },
    ]
    for (const { email, company } of people) expect((await send('form_visit', { email, first_name: 'Ada', last_name: 'Quay', company: company || `Other ${tag}`, sector: 'school', size: 'large' })).status).toBe(201)
    const first = await eventually(async () => ((await (await jonah(`/api/team/leads?search=ada.${tag}`)).json()) as { leads: LeadView[] }).leads[0])
    const firm = await eventually(async () => {
      const body = (await (await jonah(`/api/team/leads/${first.id}/firm`)).json()) as { name: string; people: LeadView[]; happened: unknown[] }
      return body.people.length === 3 && body
    }, 60_000)
    expect([firm.people.map(p => p.email).toSorted(), firm.happened.length > 2]).toEqual([people.map(p => p.email).toSorted(), true])
    expect((await jonah(`/api/team/leads/${crypto.randomUUID()}/firm`)).status).toBe(404)
  }, 90_000)
})
