import { describe, expect, it } from 'vitest'
import type { PointDefinition } from '#core/points/definition'
import type { Results } from '#core/results/results'
import { blankInQuiz } from '#core/quiz/starters'
import { demo, eventually, readDatabase, send, somebody } from '../support/house'
import { liveQuiz, partsShown, plainPages, SORTED, type Came } from '../support/live-quiz'

type Nameless = Came & { finished: string; errors?: { field: string }[] }
const sendNameless = async (key: string, answers: object, more: object = {}, headers: Record<string, string> = {}) => {
  const { status, body } = await send(key, JSON.stringify({ answers, nameless: true, took: 60_000, ...more }), headers)
  return { status, body: body as unknown as Nameless }
}
type Quiz = Awaited<ReturnType<typeof liveQuiz>>
const keptOf = (q: Quiz) =>
  readDatabase(
    sql =>
      sql`select n.id, n.answers, n.result ->> 'result' as result, n.page, n.entry_id from nameless n where point_id = ${q.id} order by n.id`,
  )
const until = new Date(Date.now() + 86_400_000).toISOString().split('T')[0]
const resultsOf = async (q: Quiz) => {
  const { groups } = (await (
    await q.as(`/api/team/points/${q.id}/results`, 'POST', { groups: [{ from: '2026-01-01', to: until }] })
  ).json()) as { groups: Results[] }
  return groups[0]!
}
const skips = (d: PointDefinition) => {
  d.quiz!.skip = true
}
const after = (d: PointDefinition) => {
  d.quiz!.contact = 'after'
}

describe('who finishes a quiz without saying who they are', () => {
  it('gets the result and becomes nobody: no lead, no mail, no words they typed, and not what they had begun to say', async () => {
    const q = await liveQuiz('sorting', d => {
      skips(d)
      d.questions.splice(1, 0, {
        ...structuredClone(d.questions.find(o => o.key === 'first_name')!),
        key: 'words',
        property: null,
        kind: 'long_text',
        label: 'In your words',
        quiz: blankInQuiz(),
      })
    })
    expect(q.errors).toEqual([])
    const [before] = await readDatabase(
      sql => sql`select (select count(*) from lead)::int as leads, (select count(*) from delivery)::int as mails`,
    )
    const email = somebody('shy')
    const { status, body } = await sendNameless(
      q.key,
      { ...SORTED, words: 'I am Ida of 3 Garden Lane', email, first_name: 'Ida' },
      { page: `${demo().url}/p/x?who=ida` },
    )
    expect([status, body.next.kind]).toEqual([201, 'result'])
    expect(body.next.html).toContain('>The large one</h2>')
    const kept = await keptOf(q)
    expect(kept).toMatchObject([{ answers: SORTED, result: 'large', page: `${demo().url}/p/x`, entryId: null }])
    expect(JSON.stringify(kept)).not.toMatch(/Ida|shy/)
    const [now] = await readDatabase(
      sql =>
        sql`select (select count(*) from lead)::int as leads, (select count(*) from delivery)::int as mails, (select count(*) from lead where email = ${email})::int as own`,
    )
    expect(now!.own).toBe(0)
    // Others work in the same house meanwhile; what matters is that nothing is about this address.
    expect(now!.leads - before!.leads).toBeLessThan(50)
  })
  it('is counted once, however often the button’s press arrives, and is counted no more as nameless once they say who they are', async () => {
    const q = await liveQuiz('sorting', after)
    const key = { 'idempotency-key': `press-${q.key}` }
    const first = await sendNameless(q.key, SORTED, {}, key)
    const again = await sendNameless(q.key, SORTED, {}, key)
    expect(again.body.finished).toBe(first.body.finished)
    await sendNameless(q.key, { ...SORTED, for: 'Myself' })
    expect((await resultsOf(q)).all).toMatchObject({ sent: 0, nameless: 2 })
    expect((await resultsOf(q)).answers[0]).toMatchObject({ label: 'Result', answered: 2 })
    // Counted by the worker, it is the same.
    await eventually(
      async () => (await readDatabase(sql => sql`select 1 from nameless where point_id = ${q.id} and not counted`)).length === 0,
    )
    expect((await resultsOf(q)).all).toMatchObject({ sent: 0, nameless: 2 })
    const email = somebody('after')
    const named = await send(q.key, JSON.stringify({ answers: { ...SORTED, email }, finished: first.body.finished, took: 60_000 }))
    // The result stands above already: what comes is the thanks.
    expect([named.status, (named.body as unknown as Came).next.kind]).toEqual([201, 'message'])
    expect((await resultsOf(q)).all).toMatchObject({ sent: 1, nameless: 1 })
    await eventually(async () => (await keptOf(q)).length === 1)
    const { all, answers } = await resultsOf(q)
    expect(all).toMatchObject({ sent: 1, nameless: 1 })
    expect(answers[0]).toMatchObject({ answered: 2 })
  })
  it('cannot do so where the quiz does not let them, nor without answering', async () => {
    const strict = await liveQuiz('sorting')
    const refused = await sendNameless(strict.key, SORTED)
    expect([refused.status, refused.body.errors?.map(e => e.field)]).toEqual([422, ['answers.email']])
    const q = await liveQuiz('sorting', skips)
    const missing = await sendNameless(q.key, { for: 'Myself' })
    expect([missing.status, missing.body.errors?.map(e => e.field)]).toEqual([422, ['answers.time', 'answers.when']])
    expect(await keptOf(q)).toEqual([])
    // Another's quiz is not theirs to take out of the count.
    const other = await liveQuiz('sorting', after)
    const { body } = await sendNameless(other.key, SORTED)
    expect(
      (await send(q.key, JSON.stringify({ answers: { ...SORTED, email: somebody('thief') }, finished: body.finished, took: 60_000 })))
        .status,
    ).toBe(201)
    expect(await keptOf(other)).toMatchObject([{ entryId: null }])
  })
  it('is not counted when a guard caught it, and gets a result all the same', async () => {
    const q = await liveQuiz('sorting', skips)
    const trap = await sendNameless(q.key, SORTED, { homepage: 'https://x.example' })
    const fast = await sendNameless(q.key, SORTED, { took: 10 })
    expect([trap.status, fast.status]).toEqual([201, 201])
    expect(await keptOf(q)).toEqual([])
  })
  it('is made live only where nothing else asks who it is', async () => {
    const without = await liveQuiz('sorting', d => {
      skips(d)
      for (const o of d.questions) o.quiz = { ...blankInQuiz(), ...o.quiz, contact: false }
    })
    expect([without.status, without.errors.map(e => e.message).join(' ')]).toEqual([
      422,
      expect.stringContaining('nothing asks them who they are'),
    ])
  })
})

describe('without a script', () => {
  it('the questions who it is are skipped by a button, and the result has a page of its own', async () => {
    const q = await liveQuiz('sorting', skips)
    const { post } = await plainPages(q)
    const last = await post({ ...SORTED, _at: '2', _to: 'next' })
    expect(partsShown(last.html)).toEqual([['first_name', 'email']])
    expect(last.html).toMatch(/name="_to" value="skip">Skip this/)
    const skipped = await post({ ...SORTED, _at: '3', _to: 'skip' })
    expect(skipped.status).toBe(303)
    expect(await (await fetch(demo().url + skipped.location!)).text()).toContain('>The large one</h1>')
    // Loaded again, it is the same one.
    await post({ ...SORTED, _at: '3', _to: 'skip' })
    expect(await keptOf(q)).toHaveLength(1)
  })
  it('skipped at the start, they are asked no more, and stay nameless to the end', async () => {
    const q = await liveQuiz('sorting', d => {
      skips(d)
      d.quiz!.contact = 'start'
    })
    const { page, post } = await plainPages(q)
    expect(partsShown(page)).toEqual([['first_name', 'email']])
    const first = await post({ _at: '0', _to: 'skip' })
    expect([partsShown(first.html), first.hidden._skipped]).toEqual([[['for']], '1'])
    const end = await post({ ...SORTED, _skipped: '1', _at: '3' })
    expect(end.status).toBe(303)
    expect(await keptOf(q)).toMatchObject([{ answers: SORTED }])
    // Who changes their mind and goes on with the button that does not skip is asked again.
    const named = await post({ _skipped: '1', _at: '0', _to: 'next' })
    expect([named.status, partsShown(named.html)]).toEqual([422, [['first_name', 'email']]])
  })
  it('below the result they are asked who they are, and nothing else', async () => {
    const q = await liveQuiz('sorting', after)
    const { post } = await plainPages(q)
    const came = await post({ ...SORTED, _at: '2' })
    expect([came.status, partsShown(came.html)]).toEqual([200, [['first_name', 'email']]])
    expect(came.html).toContain('>The large one</h1>')
    const missing = await post({ ...SORTED, _finished: came.hidden._finished!, _at: '3' })
    expect(missing.status).toBe(422)
    const email = somebody('below')
    const sent = await post({ ...SORTED, email, _finished: came.hidden._finished!, _at: '3' })
    expect(sent.status).toBe(303)
    const entry = await readDatabase(
      sql => sql`select e.result ->> 'result' as result from entry e join lead l on l.id = e.lead_id where l.email = ${email}`,
    )
    expect(entry).toMatchObject([{ result: 'large' }])
    await eventually(async () => (await keptOf(q)).length === 0)
  })
  it('says of each part what was right, above the next', async () => {
    const q = await liveQuiz('knowing', d => {
      d.quiz!.says = 'each'
    })
    const { post } = await plainPages(q)
    const second = await post({ one: 'Another', _at: '0', _to: 'next' })
    expect(second.html).toContain('Right would have been: The right answer')
    // What was said is not to be unsaid.
    expect(second.html).not.toContain('value="back"')
  })
})

describe('what is said of answers', () => {
  it('is said of what was answered, and of nothing else', async () => {
    const q = await liveQuiz('knowing', d => {
      d.quiz!.says = 'each'
    })
    const say = async (answers: object, questions: string[]) => {
      const answer = await fetch(`${demo().url}/w/points/${q.key}/said`, { method: 'POST', body: JSON.stringify({ answers, questions }) })
      return { status: answer.status, ...((await answer.json()) as { said?: Record<string, string> }) }
    }
    expect((await say({ one: 'Another' }, ['one', 'two', 'nothing'])).said).toEqual({
      one: expect.stringContaining('Right would have been'),
    })
    expect((await say({ one: 'The right answer' }, ['one'])).said).toEqual({ one: expect.stringContaining('That is right.') })
    expect((await say({ one: 'Not offered' }, ['one'])).said).toEqual({})
    expect((await say([], ['one'])).status).toBe(422)
    const quiet = await liveQuiz('knowing')
    const answer = await fetch(`${demo().url}/w/points/${quiet.key}/said`, {
      method: 'POST',
      body: JSON.stringify({ answers: { one: 'Another' }, questions: ['one'] }),
    })
    expect(await answer.json()).toEqual({ said: {} })
  })
})

describe('an order of one’s own', () => {
  it('stays for one person, is another for another, and moves nothing that branches speak of', async () => {
    const q = await liveQuiz('sorting', d => {
      d.quiz!.shuffle = 'both'
      d.questions[2]!.shownIf = { attribute: 'answer.time', is: 'equal', value: SORTED.time }
    })
    expect(q.errors).toEqual([])
    const { page, hidden, post } = await plainPages(q)
    const choices = (html: string) => [...html.matchAll(/name="for" value="([^"]+)"/g)].map(m => m[1])
    const next = await post({ _at: '0', _to: 'next' })
    expect(next.hidden._seed).toBe(hidden._seed)
    expect(choices(next.html)).toEqual(choices(page))
    const others = await Promise.all(
      Array.from({ length: 12 }, async () => choices(await (await fetch(`${demo().url}/p/${q.slug}`)).text()).join()),
    )
    expect(new Set(others).size).toBeGreaterThan(1)
    expect([...page.matchAll(/data-question="(\w+)"/g)].map(m => m[1]).slice(0, 3)).toEqual(['for', 'time', 'when'])
  })
})

describe('a result that is shown to others', () => {
  it('says what it is and nothing of anybody, with data and a picture for links', async () => {
    const q = await liveQuiz('sorting', d => {
      d.quiz!.results[2]!.text = 'Dear {{lead.first_name}}{{^lead.first_name}}reader{{/lead.first_name}}, **measure** first.'
    })
    const { body } = await send(q.key, { ...SORTED, email: somebody('shown'), first_name: 'Wilhelmina' })
    const { html } = (body as unknown as Came).next
    expect(html).toContain('Dear Wilhelmina, <strong>measure</strong> first.')
    const href = /cv-share" href="([^"]+)"/.exec(html)![1]!
    expect(href).toBe(`${demo().url}/p/${q.slug}/r/large`)
    const page = await (await fetch(href)).text()
    expect(page).toContain('Dear reader, <strong>measure</strong> first.')
    expect(page).not.toContain('Wilhelmina')
    expect(page).toContain(`<meta property="og:title" content="The large one">`)
    const picture = /og:image" content="([^"]+)"/.exec(page)![1]!
    const drawn = await fetch(picture)
    expect([drawn.status, drawn.headers.get('content-type')]).toEqual([200, 'image/png'])
    const png = Buffer.from(await drawn.arrayBuffer())
    expect([png.readUInt32BE(16), png.readUInt32BE(20)]).toEqual([1200, 630])
    const other = Buffer.from(await (await fetch(picture.replace('large', 'small'))).arrayBuffer())
    expect(other.equals(png)).toBe(false)
    for (const gone of ['/r/nothing', '/r/nothing/picture', '/r/LARGE'])
      expect([gone, (await fetch(`${demo().url}/p/${q.slug}${gone}`)).status]).toEqual([gone, 404])
    const kept = await liveQuiz('sorting', d => {
      d.quiz!.share = false
    })
    expect((await fetch(`${demo().url}/p/${kept.slug}/r/large`)).status).toBe(404)
  })
  it('leads on to a meeting, or to something else of ours by whatever address that has', async () => {
    const other = await liveQuiz('knowing')
    const q = await liveQuiz('sorting', d => {
      const [small, , large] = d.quiz!.results
      Object.assign(small!, { call: { kind: 'point', point: other.key }, button: 'Go on' })
      Object.assign(large!, { call: { kind: 'meeting', minutes: 30, days: 14 }, button: 'Choose a time' })
    })
    expect(q.errors).toEqual([])
    const linkIn = (body: unknown) => /class="cv-button" href="([^"]+)"/.exec((body as Came).next.html)?.[1]
    const led = linkIn((await send(q.key, { for: 'Myself', time: 'An hour a week', when: 'Soon', email: somebody('led') })).body)
    const answer = await fetch(led!, { redirect: 'manual' })
    expect([answer.status, answer.headers.get('location')]).toEqual([303, `${demo().url}/p/${other.slug}`])
    const meet = linkIn((await send(q.key, { ...SORTED, email: somebody('meets') })).body)
    const choosing = await (await fetch(meet!)).text()
    expect(choosing).toMatch(/name="at"|No time is free/)
    expect((await fetch(`${demo().url}/w/points/no_such/page`)).status).toBe(404)
  })
})
