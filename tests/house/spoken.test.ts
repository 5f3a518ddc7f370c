import { randomUUID } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { demo, eventually, readDatabase, signedIn } from '../support/house'
import { chatPost } from '../support/live-chat'

interface Spoken {
  spoken?: { point: string; id: string; secret: string }
}
/** A sign of life of a browser on the site. */
async function signOfLife(visitor: string, visit: string): Promise<{ status: number; body: Spoken | null }> {
  const body = JSON.stringify({
    visitor,
    site: demo().standins.site,
    sent: Date.now(),
    language: 'en',
    batches: [{ id: randomUUID(), visit, events: [{ kind: 'page', path: '/prices', title: 'Prices', at: Date.now() }] }],
  })
  const answer = await fetch(`${demo().url}/w/trail`, {
    method: 'POST',
    headers: { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0.0.0 Safari/537.36' },
    body,
  })
  return { status: answer.status, body: answer.status === 200 ? ((await answer.json()) as Spoken) : null }
}

describe('whoever is on the site', () => {
  it('is spoken to first, once, and only in their own browser', async () => {
    const [visitor, visit, other, otherVisit] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()]
    expect((await signOfLife(visitor, visit)).status).toBe(204)
    expect((await signOfLife(other, otherVisit)).status).toBe(204)
    const as = await signedIn('mireille')
    const said = await as(`/api/team/visits/${visit}/speak`, 'POST', { text: 'Good day. May I help with the sums?' })
    expect(said.status).toBe(201)
    const { id } = (await said.json()) as { id: string }
    expect((await as(`/api/team/visits/${visit}/speak`, 'POST', { text: 'Again?' })).status).toBe(409)
    expect((await signOfLife(other, otherVisit)).status).toBe(204)
    const { body } = await signOfLife(visitor, visit)
    expect(body!.spoken).toMatchObject({ point: 'chat_grower', id })
    const { secret } = body!.spoken!
    const answered = await chatPost('/said', { id, secret, after: 0, message: randomUUID(), kind: 'text', text: 'Yes, please' })
    expect(answered.body.lines.map(l => `${l.by}: ${l.text}`)).toEqual([
      expect.stringContaining('is here now.'),
      'member: Good day. May I help with the sums?',
      'visitor: Yes, please',
    ])
    const live = await fetch(`${demo().url}/w/chats/live`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ id, secret, after: 0 }),
    })
    expect(live.status).toBe(200)
    // Whoever has come for it is not told again; its word is kept no longer than that.
    await eventually(async () => (await readDatabase(sql => sql`select 1 from spoken_first where conversation_id = ${id}`)).length === 0)
    await live.body!.cancel()
    expect(await eventually(async () => (await signOfLife(visitor, visit)).status === 204)).toBe(true)
    const [row] = await readDatabase(sql => sql`select began_by, state from conversation where id = ${id}`)
    expect(row).toEqual({ beganBy: 'member', state: 'talking' })
  })
  it('who is not there is not spoken to', async () => {
    const as = await signedIn('mireille')
    expect((await as(`/api/team/visits/${randomUUID()}/speak`, 'POST', { text: 'Hello' })).status).toBe(404)
    expect((await as(`/api/team/visits/${randomUUID()}/speak`, 'POST', { text: ' ' })).status).toBe(422)
  })
})
