import { randomUUID } from 'node:crypto'
import { afterAll, describe, expect, it } from 'vitest'
import type { NotesView } from '#core/chat/notes-view'
import { readDatabase, signedIn } from '../support/house'
import { liveChat, visitorIn } from '../support/live-chat'

const SCRIPT =
  'look: look up: What would you like to know?\n  otherwise\n    go to person\nmore: say Does that help?\n  > Yes\n    bye: end unrated: Good.\nperson: hand over to plan\n'
const word = `quillwort${Date.now().toString(36)}`
const made: string[] = []
async function note(title: string, body: string): Promise<string> {
  const as = await signedIn('mireille')
  const id = randomUUID()
  const answer = await as(`/api/team/notes/${id}`, 'PUT', { title, body })
  expect(answer.status).toBe(200)
  made.push(id)
  return id
}
afterAll(async () => {
  const as = await signedIn('tamsin')
  for (const id of made) await as(`/api/team/notes/${id}`, 'DELETE')
})
const view = async () => (await (await (await signedIn('tamsin'))('/api/team/notes')).json()) as NotesView

describe('a chat that looks into the notes', () => {
  it('answers with the one that covers what was asked, says whose words they are, and goes on', async () => {
    await note(`Growing ${word}`, `${word} wants shade and wet feet.`)
    const chat = await liveChat(SCRIPT)
    expect([chat.status, chat.errors]).toEqual([200, []])
    const v = await visitorIn(chat.key)
    await v.text(`How does ${word} grow?`)
    expect(v.said().slice(-3)).toEqual([`flow: ${word} wants shade and wet feet.`, 'flow: Does that help?', 'flow: '])
    expect(v.lines().find(l => l.what === 'note')!.from).toBe(`From our note “Growing ${word}”`)
    const [row] = await readDatabase(sql => sql`select more from message where conversation_id = ${v.id} and more->>'kind' = 'note'`)
    expect(row!.more).toMatchObject({ name: `Growing ${word}` })
  })
  it('asks which was meant when it is not sure, and takes “none” for an answer', async () => {
    await note(`Cutting ${word} back`, `In spring, ${word} is cut to the ground.`)
    const chat = await liveChat(SCRIPT)
    const v = await visitorIn(chat.key)
    // Half of what was asked is in notes, the other half in none.
    await v.text(`${word} zzyzx${word}`)
    expect([v.state().waits, v.said().at(-1)]).toEqual(['mean', 'flow: Did you mean one of these?'])
    const { choices } = v.asked()!
    expect(choices!.at(-1)).toBe('None of these')
    await v.choose(0)
    expect(v.said()).toContain('flow: Does that help?')
    const other = await visitorIn(chat.key)
    const question = `${word} yyzzy${word}`
    await other.text(question)
    await other.choose(other.asked()!.choices!.length - 1)
    expect((await view()).unanswered.flat().map(u => u.text)).toContain(question)
  })
  it('hands over what none covers, and lists it once with those that ask alike', async () => {
    const chat = await liveChat(SCRIPT)
    const asked = [`Is xenolith${word} allowed?`, `xenolith${word} allowed`]
    for (const text of asked) {
      const v = await visitorIn(chat.key)
      await v.text(text)
      expect(['waiting', 'ended']).toContain((await readDatabase(sql => sql`select state from conversation where id = ${v.id}`))[0]!.state)
    }
    const group = (await view()).unanswered.find(g => g.some(u => u.text === asked[0]))!
    expect(group.map(u => u.text).sort()).toEqual([...asked].sort())
    const as = await signedIn('mireille')
    expect((await as('/api/team/notes/unanswered', 'PUT', { ids: group.map(u => u.id), done: true })).status).toBe(204)
    expect((await view()).unanswered.flat().some(u => asked.includes(u.text))).toBe(false)
  })
})

describe('a note', () => {
  it('has a title of its own, and is not overwritten by who read it before it was changed', async () => {
    const as = await signedIn('tamsin')
    const id = await note(`Only one ${word}`, 'One.')
    const twin = await as(`/api/team/notes/${randomUUID()}`, 'PUT', { title: `only ONE ${word}`, body: 'Two.' })
    expect([twin.status, ((await twin.json()) as { errors: { field: string }[] }).errors[0]!.field]).toEqual([409, 'title'])
    const { changedAt } = (await view()).notes.find(n => n.id === id)!
    expect((await as(`/api/team/notes/${id}`, 'PUT', { title: `Only one ${word}`, body: 'Changed.', was: changedAt })).status).toBe(200)
    expect((await as(`/api/team/notes/${id}`, 'PUT', { title: `Only one ${word}`, body: 'Late.', was: changedAt })).status).toBe(409)
    expect((await view()).notes.find(n => n.id === id)!.body).toBe('Changed.')
  })
  it.each([
    [{ title: ' ', body: 'x' }, 'title'],
    [{ title: 'x', body: '' }, 'body'],
    [{ title: 'x', body: 'y'.repeat(4001) }, 'body'],
  ])('is refused as %j', async (body, field) => {
    const answer = await (await signedIn('tamsin'))(`/api/team/notes/${randomUUID()}`, 'PUT', body)
    expect([answer.status, ((await answer.json()) as { errors: { field: string }[] }).errors.map(e => e.field)]).toEqual([422, [field]])
  })
  it('does not ask what it answers already', async () => {
    const as = await signedIn('tamsin')
    expect((await as('/api/team/notes/setting', 'PUT', { answersFrom: 0.3, asksFrom: 0.6 })).status).toBe(422)
    const { setting } = await view()
    expect((await as('/api/team/notes/setting', 'PUT', setting)).status).toBe(204)
  })
})
