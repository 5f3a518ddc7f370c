import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { ConversationsView, ConversationView } from '#core/chat/team'
import { forgetTalks } from '#db/conversations'
import { demo, eventually, member, readDatabase, signedIn, somebody } from '../support/house'
import { alwaysThere, hoursAsBefore, chatPost, liveChat, read, visitorIn } from '../support/live-chat'

const ONE = `hello: say Good morning.
  > I am planning something
    what: ask what
  > Nothing
    bye: end unrated: Come back any time.
name: ask first_name
mail: ask email, read back
take: do take in
person: hand over to plan: Thank you, {{lead.first_name}}.
  otherwise
    later: end rated: We write to you.
`
const ANYBODY = 'hello: say Hello. What can we do for you?\nperson: hand over to plan\n'

describe('a conversation', () => {
  it('asks one thing at a time, checks it, reads it back, and is an entry when the flow says so', async () => {
    const chat = await liveChat(ONE, d => {
      d.actions = [{ key: 'tag', kind: 'tag', tags: ['from the chat'], when: null }] as never
    })
    expect([chat.status, chat.errors]).toEqual([200, []])
    const v = await visitorIn(chat.key)
    expect(v.begun.status).toBe(201)
    expect([v.said(), v.state().waits, v.asked()!.choices]).toEqual([
      ['flow: Good morning.', 'flow: '],
      'choice',
      ['I am planning something', 'Nothing'],
    ])
    await v.choose(0)
    expect(v.asked()!.html).toContain('name="what"')
    await v.answer('A greenhouse for our school')
    await v.answer('Wanda')
    await v.answer('not an address')
    expect(v.said().at(-1)).toMatch(/^flow: This is not a complete e-mail address/)
    expect(v.state().waits).toBe('answer')
    const email = somebody('chat')
    await v.answer(email)
    expect([v.said().at(-1), v.state().waits]).toEqual([`flow: Did I get that right? “${email}”`, 'right'])
    await v.choose(0)
    expect(v.said()).toContain('flow: Thank you, Wanda.')
    const [entry] = await readDatabase(
      sql =>
        sql`select e.answers, e.state, l.id as lead, l.tags, l.first_name, c.state as talk from conversation c join entry e on e.id = c.entry_id join lead l on l.id = c.lead_id where c.id = ${v.id}`,
    )
    expect(entry).toMatchObject({
      answers: { what: 'A greenhouse for our school', first_name: 'Wanda', email },
      state: 'complete',
      tags: ['from the chat'],
      firstName: 'Wanda',
    })
    expect(['waiting', 'ended']).toContain(entry!.talk)
  })

  it('counts what is sent again once, and keeps the order that it arrived in', async () => {
    const chat = await liveChat(ANYBODY)
    const v = await visitorIn(chat.key)
    const ids = Array.from({ length: 8 }, () => randomUUID())
    const answers = await Promise.all(ids.flatMap((id, i) => [0, 1, 2].map(() => v.say({ kind: 'text', text: `Line ${i}` }, id))))
    expect(new Set(answers.map(a => a.status))).toEqual(new Set([200]))
    const rows = await readDatabase(
      sql => sql<{ n: number; text: string }[]>`select n, text from message where conversation_id = ${v.id} order by n`,
    )
    expect(rows.map(r => r.n)).toEqual(rows.map((_, i) => i + 1))
    expect(
      rows
        .filter(r => r.text.startsWith('Line'))
        .map(r => r.text)
        .sort(),
    ).toEqual(ids.map((_, i) => `Line ${i}`))
  })

  it('is shown to nobody who does not hold its word, and takes no nonsense', async () => {
    const chat = await liveChat(ONE)
    const [v, other] = [await visitorIn(chat.key), await visitorIn(chat.key)]
    const stolen = await chatPost('/said', {
      id: v.id,
      secret: other.secret,
      after: 0,
      message: randomUUID(),
      kind: 'text',
      text: 'Hello?',
    })
    const none = await chatPost('/said', {
      id: randomUUID(),
      secret: other.secret,
      after: 0,
      message: randomUUID(),
      kind: 'text',
      text: 'Hello?',
    })
    expect([stolen.status, none.status, stolen.body.detail]).toEqual([404, 404, none.body.detail])
    expect((await chatPost('/live', { id: v.id, secret: other.secret, after: 0 })).status).toBe(404)
    expect((await v.say({ kind: 'text', text: 'x'.repeat(2001) })).status).toBe(422)
    expect((await v.say({ kind: 'text', text: ' \u202e\u0007 ' })).status).toBe(422)
    expect((await v.say({ kind: 'text', text: 'x'.repeat(70_000) })).status).toBe(413)
    expect((await v.choose(7)).status).toBe(422)
    expect((await v.answer('somebody')).status).toBe(409)
    expect((await v.say({ kind: 'rating', n: 5 })).status).toBe(409)
    expect((await visitorIn('form_visit')).begun.status).toBe(404)
    await v.text('<b>bold</b> \u202eturned')
    const html = v.lines().find(l => l.by === 'visitor')!
    expect(html.text).toBe('<b>bold</b> turned')
  })

  it('goes on in the edition it began, when another is made live in the middle of it', async () => {
    const chat = await liveChat(ONE)
    const v = await visitorIn(chat.key)
    const { body } = await read<{ workingCopy: { chat: { flow: { steps: { key: string; text: string }[] } } }; revision: number }>(
      chat.as,
      `/api/team/points/${chat.id}`,
    )
    body.workingCopy.chat.flow.steps.find(s => s.key === 'bye')!.text = 'Another goodbye.'
    const saved = await read<{ revision: number }>(chat.as, `/api/team/points/${chat.id}`, 'PUT', {
      revision: body.revision,
      name: chat.name,
      definition: body.workingCopy,
    })
    expect((await chat.as(`/api/team/points/${chat.id}/publish`, 'POST', { revision: saved.body.revision })).status).toBe(200)
    await v.choose(1)
    expect(v.said().at(-1)).toBe('flow: Come back any time.')
    const fresh = await visitorIn(chat.key)
    await fresh.choose(1)
    expect(fresh.said().at(-1)).toBe('flow: Another goodbye.')
  })
})

describe('the conversations of the team', () => {
  afterAll(hoursAsBefore)
  let id = ''
  beforeAll(async () => {
    id = await alwaysThere('mireille')
    await alwaysThere('jonah')
  })

  it('stand with nobody, are taken, answered, handed over and ended, and the visitor sees who is there', async () => {
    const chat = await liveChat(ANYBODY, d => (d.chat!.address = 'away'))
    const mireille = await signedIn('mireille')
    const v = await eventually(async () => {
      const one = await visitorIn(chat.key)
      const [row] = await readDatabase(sql => sql`select state from conversation where id = ${one.id}`)
      return row!.state === 'waiting' && one
    })
    expect(v.said().at(-1)).toMatch(/^house: One of us answers here/)
    await v.text('Do you build on slopes?')
    const { body: list } = await read<ConversationsView>(mireille, '/api/team/conversations?heap=nobody')
    expect(list.rows.find(r => r.id === v.id)).toMatchObject({
      state: 'waiting',
      unread: true,
      last: { by: 'visitor', text: 'Do you build on slopes?' },
    })
    const first = await read<ConversationView>(mireille, `/api/team/conversations/${v.id}`)
    const reply = await read<ConversationView>(mireille, `/api/team/conversations/${v.id}/messages`, 'POST', {
      message: randomUUID(),
      text: 'We do, up to ten degrees.',
      after: first.body.lines.at(-1)!.n,
    })
    expect(reply.status).toBe(201)
    expect(reply.body).toMatchObject({ state: 'talking', member: id })
    await v.text('Thank you')
    expect(v.said().slice(-3)).toEqual([
      `house: ${member('mireille').name} is here now.`,
      'member: We do, up to ten degrees.',
      'visitor: Thank you',
    ])
    expect([v.state().with, v.lines().find(l => l.by === 'member')!.name]).toEqual([member('mireille').name, member('mireille').name])

    // A colleague does not answer without seeing that somebody leads it; a note of theirs stays among us.
    const jonah = await signedIn('jonah')
    const refused = await read<ConversationView>(jonah, `/api/team/conversations/${v.id}/messages`, 'POST', {
      message: randomUUID(),
      text: 'Hello',
      after: 1000,
    })
    expect([refused.status, refused.body.detail]).toEqual([
      409,
      expect.stringContaining(`${member('mireille').name} is in this conversation`),
    ])
    expect(
      (
        await read(jonah, `/api/team/conversations/${v.id}/messages`, 'POST', {
          message: randomUUID(),
          text: 'They asked last week, too',
          note: true,
          after: 0,
        })
      ).status,
    ).toBe(201)
    await v.text('One more thing')
    expect(v.said().join(' ')).not.toContain('last week')

    const other = await readDatabase(sql => sql<{ id: string }[]>`select id from member where email = ${member('jonah').email}`)
    const handed = await read<ConversationView>(mireille, `/api/team/conversations/${v.id}/member`, 'PUT', {
      to: other[0]!.id,
      words: 'Slopes are yours',
    })
    expect(handed.body).toMatchObject({ state: 'waiting', member: other[0]!.id })
    expect((await read<ConversationsView>(jonah, '/api/team/conversations?heap=mine')).body.rows.map(r => r.id)).toContain(v.id)
    expect((await read(jonah, `/api/team/conversations/${v.id}/end`, 'POST', {})).status).toBe(200)
    await v.say({ kind: 'text', text: 'Are you there?' }).then(a => expect(a.status).toBe(409))
    const rated = await visitorAgain(v)
    expect(rated).toMatchObject({ state: { waits: 'rating', open: false } })
    expect((await v.say({ kind: 'rating', n: 4, text: 'Quick' })).status).toBe(200)
    const { body: done } = await read<ConversationView>(jonah, `/api/team/conversations/${v.id}`)
    expect(done).toMatchObject({ state: 'ended', rating: 4, ratingText: 'Quick' })
    expect((await v.say({ kind: 'rating', n: 1 })).status).toBe(409)
  })

  it('stop the clock of whose they are, and stand in their story, with what they thought of it', async () => {
    const chat = await liveChat(ONE)
    const v = await visitorIn(chat.key)
    await v.choose(0)
    await v.answer('A house')
    await v.answer('Sabine')
    await v.answer(somebody('clock'))
    await v.choose(0)
    const [row] = await readDatabase(sql => sql<{ leadId: string }[]>`select lead_id from conversation where id = ${v.id}`)
    const waits = async () => (await readDatabase(sql => sql`select waiting_since from lead where id = ${row!.leadId}`))[0]!.waitingSince
    expect(await waits()).not.toBeNull()
    const mireille = await signedIn('mireille')
    expect(
      (await read(mireille, `/api/team/conversations/${v.id}/messages`, 'POST', { message: randomUUID(), text: 'Good day', after: 1000 }))
        .status,
    ).toBe(201)
    expect(await waits()).toBeNull()
    expect((await read(mireille, `/api/team/conversations/${v.id}/end`, 'POST', {})).status).toBe(200)
    await v.text('x').catch(() => {})
    expect((await v.say({ kind: 'rating', n: 5, text: 'Kind' })).status).toBe(200)
    const { body } = await read<{ timeline: { kind: string; sentence: (string | { strong?: string; faint?: string })[] }[] }>(
      mireille,
      `/api/team/leads/${row!.leadId}`,
    )
    const said = body.timeline
      .filter(l => ['talked', 'answered'].includes(l.kind))
      .map(l => l.sentence.map(p => (typeof p === 'string' ? p : (p.strong ?? p.faint ?? ''))).join(''))
    expect(said.join(' | ')).toMatch(
      new RegExp(
        `Found the conversation in ${chat.name} very good Kind.*ended in ${chat.name}.*${member('mireille').name} answered them in ${chat.name}`,
      ),
    )
    expect(said.some(s => s.includes('in a chat'))).toBe(true)
  })

  it('are not answered by two at once, who have not seen each other', async () => {
    const chat = await liveChat(ANYBODY)
    const v = await visitorIn(chat.key)
    await v.text('Hello?')
    const [mireille, jonah] = [await signedIn('mireille'), await signedIn('jonah')]
    const { body } = await read<ConversationView>(mireille, `/api/team/conversations/${v.id}`)
    const after = body.lines.at(-1)!.n
    const both = await Promise.all(
      [mireille, jonah].map((as, i) =>
        read<ConversationView>(as, `/api/team/conversations/${v.id}/messages`, 'POST', {
          message: randomUUID(),
          text: `Answer ${i}`,
          after,
        }),
      ),
    )
    expect(both.map(b => b.status).sort()).toEqual([201, 409])
  })

  it('reach the other side by themselves, in order, and after a line that was cut', async () => {
    const chat = await liveChat(ANYBODY)
    const v = await visitorIn(chat.key)
    await v.text('Hello?')
    const mireille = await signedIn('mireille')
    const heard: string[] = []
    const listen = async (after: number) => {
      const cut = new AbortController()
      const answer = await fetch(`${demo().url}/w/chats/live`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ id: v.id, secret: v.secret, after }),
        signal: cut.signal,
      })
      void (async () => {
        const reader = answer.body!.pipeThrough(new TextDecoderStream()).getReader()
        for (let text = ''; ;) {
          const { value, done } = await reader.read()
          if (done) return
          text += value
          for (const part of text.split('\n\n').slice(0, -1)) {
            const data = /^data: (\{.*)$/m.exec(part)?.[1]
            if (data)
              for (const line of (JSON.parse(data) as { lines?: { by: string; text: string; n: number }[] }).lines ?? [])
                if (line.by === 'member') heard.push(line.text)
          }
          text = text.slice(text.lastIndexOf('\n\n') + 2)
        }
      })().catch(() => {})
      return () => cut.abort()
    }
    const reply = (text: string) =>
      read(mireille, `/api/team/conversations/${v.id}/messages`, 'POST', { message: randomUUID(), text, after: 1000 })
    let cut = await listen(0)
    await reply('One')
    await eventually(async () => heard.includes('One'))
    cut()
    await reply('Two')
    const last = await readDatabase(sql => sql<{ n: number }[]>`select n from message where conversation_id = ${v.id} and text = 'One'`)
    cut = await listen(last[0]!.n)
    await reply('Three')
    await eventually(async () => heard.includes('Three'))
    expect(heard).toEqual(['One', 'Two', 'Three'])
    cut()
  })
})

const visitorAgain = async (v: Awaited<ReturnType<typeof visitorIn>>) => {
  const answer = await fetch(`${demo().url}/w/chats/live`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ id: v.id, secret: v.secret, after: 0 }),
  })
  const reader = answer.body!.getReader()
  const { value } = await reader.read()
  await reader.cancel()
  return JSON.parse(/^data: (.*)$/m.exec(new TextDecoder().decode(value))![1]!) as object
}

describe('what was said long ago', () => {
  it('is let go of where nobody is known by it, with what hung on it, and kept where it is somebody’s story', async () => {
    const chat = await liveChat(ONE)
    const [nobody, known] = [await visitorIn(chat.key), await visitorIn(chat.key)]
    await known.choose(0)
    await known.answer('A house')
    await known.answer('Olwen')
    await known.answer(somebody('kept'))
    await known.choose(0)
    await readDatabase(sql => sql`update conversation set last_at = '2001-01-01' where id = any(${[nobody.id, known.id]}::uuid[])`)
    await readDatabase(sql => forgetTalks(sql, new Date('2001-02-01')))
    const left = await readDatabase(
      sql =>
        sql<
          { id: string }[]
        >`select distinct conversation_id as id from message where conversation_id = any(${[nobody.id, known.id]}::uuid[])`,
    )
    expect(left.map(r => r.id)).toEqual([known.id])
    expect((await nobody.text('Hello?')).status).toBe(404)
  })
})

describe('figures of conversations', () => {
  it('are those of the chat and the days that are asked for, and the file holds the same', async () => {
    const chat = await liveChat(ANYBODY)
    const [a, b] = [await visitorIn(chat.key), await visitorIn(chat.key)]
    const as = await signedIn('ansel')
    const found = await read<{ talks: { id: string; asked: number | null; way: string[] }[] }>(
      as,
      `/api/team/conversations/figures?days=2&point=${chat.id}`,
    )
    expect(found.body.talks.map(t => t.id).sort()).toEqual([a.id, b.id].sort())
    expect(found.body.talks[0]).toMatchObject({ way: ['hello', 'person'], asked: expect.any(Number) })
    const csv = await (await as(`/api/team/conversations/take-away?as=csv&days=2&point=${chat.id}`)).text()
    expect(csv.trim().split('\r\n')).toHaveLength(3)
    expect(csv).toContain(`/follow-up/conversations?of=${a.id}`)
    expect((await as('/api/team/conversations/figures?days=0')).status).toBe(422)
    expect((await as('/api/team/conversations/figures?point=x')).status).toBe(422)
    expect((await as('/api/team/conversations/take-away?as=pdf')).status).toBe(422)
  })
  it('what waits for somebody is said to those who work leads, and to nobody else', async () => {
    const chat = await liveChat(ANYBODY)
    const v = await visitorIn(chat.key)
    await v.text('Anybody?')
    const ids = async (who: string) =>
      (await read<{ waiting: { id: string }[] }>(await signedIn(who), '/api/team/conversations/waiting')).body.waiting.map(w => w.id)
    const all = await readDatabase(sql => sql`select 1 from conversation where state = 'waiting'`)
    if (all.length <= 20) expect(await ids('mireille')).toContain(v.id)
    expect(await ids('tamsin')).toEqual([])
  })
})
