import { describe, expect, it } from 'vitest'
import type { PointDefinition } from '#core/points/definition'
import { blankInQuiz } from '#core/quiz/starters'
import { demo, eventually, readDatabase, send, signedIn, somebody } from '../support/house'
import { liveQuiz as quiz, partsShown as shown, plainPages, SORTED, type Came } from '../support/live-quiz'

describe('a quiz', () => {
  it('is worked out on the server, and the entry knows what came of it', async () => {
    const q = await quiz('sorting', d => {
      d.actions = [
        { key: 'large', kind: 'tag', tags: ['large one'], when: { attribute: 'quiz.result', is: 'equal', value: 'large' } },
        { key: 'small', kind: 'tag', tags: ['small one'], when: { attribute: 'quiz.result', is: 'equal', value: 'small' } },
      ] as PointDefinition['actions']
    })
    expect([q.status, q.errors]).toEqual([200, []])
    const email = somebody('sorted')
    const { status, body } = await send(q.key, { ...SORTED, email })
    expect([status, (body as unknown as Came).next.kind]).toEqual([201, 'result'])
    expect((body as unknown as Came).next.html).toContain('>The large one</h2>')
    const entry = await readDatabase(sql => sql`select result, lead_id from entry where id = ${body.entry!}`)
    expect(entry[0]).toMatchObject({ result: { result: 'large', isTie: false, sums: { small: 0, middle: 0, large: 5 } } })
    const lead = await readDatabase(sql => sql`select tags from lead where id = ${entry[0]!.leadId as string}`)
    expect(lead[0]!.tags).toEqual(['large one'])
    // In the timeline the quiz reads as what was asked and answered, and what they came to.
    const { timeline } = (await (await q.as(`/api/team/leads/${entry[0]!.leadId as string}`)).json()) as {
      timeline: { kind: string; sentence: (string | { strong?: string })[]; payload: { answers: { question: string; text: string }[] } }[]
    }
    const line = timeline.find(l => l.kind === 'entry')!
    expect(line.sentence.map(piece => (typeof piece === 'string' ? piece : (piece.strong ?? ''))).join('')).toContain(
      ' and came to The large one',
    )
    expect(line.payload.answers[0]).toEqual({ question: 'Who is it for?', text: 'Many people' })
    const [notice] = await readDatabase(
      sql => sql`select subject, body from delivery where lead_id = ${entry[0]!.leadId as string} and member_id is not null`,
    )
    expect(notice).toMatchObject({
      subject: expect.stringContaining('(The large one)'),
      body: expect.stringContaining('came to “The large one”'),
    })
  })
  it('takes no result from a browser, nor answers to questions that the way never reached', async () => {
    const q = await quiz('sorting', d => {
      d.questions[0]!.quiz = blankInQuiz({ then: [{ when: { attribute: 'answer.for', is: 'equal', value: 'Myself' }, to: '' }] })
    })
    const sent = await send(
      q.key,
      JSON.stringify({ answers: { ...SORTED, for: 'Myself', email: somebody('short') }, result: 'large', judged: { result: 'large' } }),
    )
    expect([sent.status, sent.body.errors?.map(e => e.field)]).toEqual([422, ['result', 'judged']])
    const { status, body } = await send(q.key, { ...SORTED, for: 'Myself', email: somebody('short') })
    expect(status).toBe(201)
    expect((body as unknown as Came).next.html).toContain('>The small one</h2>')
    const [entry] = await readDatabase(sql => sql`select answers, result from entry where id = ${body.entry!}`)
    expect(Object.keys(entry!.answers as object)).toEqual(['for', 'email'])
    // What stands after a branch must be answered by who does not take it.
    const other = await send(q.key, { for: 'A team', email: somebody('long') })
    expect([other.status, other.body.errors?.map(e => e.field)]).toEqual([422, ['answers.time', 'answers.when']])
    const two = await send(q.key, { ...SORTED, for: ['Myself', 'A team'], email: somebody('two') })
    expect([two.status, two.body.errors?.map(e => e.field)]).toEqual([422, ['answers.for']])
  })
  it('says marks, and what would have been right', async () => {
    const q = await quiz('knowing')
    const { body } = await send(q.key, { one: 'The right answer', two: 'Another', three: 'The right answer', email: somebody('marks') })
    const { html } = (body as unknown as Came).next
    expect(html).toContain('>You know your way</h2>')
    expect(html).toContain('2 of 3 points')
    expect(html).toContain('You said: Another')
    expect(html).toContain('Right would have been: The right answer')
  })
  it('tells nobody what is right or what speaks for what before they have finished', async () => {
    for (const starter of ['sorting', 'knowing'] as const) {
      const q = await quiz(starter)
      const fetched = await (await fetch(`${demo().url}/w/points/${q.key}`)).text()
      const hosted = await (await fetch(`${demo().url}/p/${q.slug}`)).text()
      for (const text of [fetched, hosted])
        for (const word of ['weights', '"right"', '"said"', 'results']) expect([word, text.includes(word)]).toEqual([word, false])
    }
  })
  it('goes part by part without a script, on its own page, and says what is missing in each', async () => {
    const q = await quiz('sorting', d => {
      d.questions[1]!.quiz = blankInQuiz({ then: [{ when: { attribute: 'answer.time', is: 'equal', value: 'An hour a week' }, to: '' }] })
    })
    const { page, post } = await plainPages(q)
    expect(shown(page)).toEqual([['for']])
    const nothing = await post({ _at: '0', _to: 'next' })
    expect([nothing.status, shown(nothing.html)]).toEqual([422, [['for']]])
    expect(nothing.html).toContain('Please answer this.')
    const second = await post({ _at: '0', _to: 'next', for: 'A team' })
    expect([second.status, shown(second.html)]).toEqual([200, [['time']]])
    expect(second.html).toMatch(/value="A team" required checked/)
    const back = await post({ _at: '1', _to: 'back', for: 'A team' })
    expect(shown(back.html)).toEqual([['for']])
    // The branch passes the third question over.
    const last = await post({ _at: '1', _to: 'next', for: 'A team', time: 'An hour a week' })
    expect(shown(last.html)).toEqual([['first_name', 'email']])
    expect(last.html).toContain('Where may we send your result?')
    const sent = await post({ for: 'A team', time: 'An hour a week', email: somebody('plain'), first_name: 'Ida' })
    expect(sent.status).toBe(303)
    const result = await (await fetch(demo().url + sent.location!)).text()
    expect(result).toContain('>The one in the middle</h1>')
    // A word that is not ours shows nothing of anybody.
    const guessed = await (await fetch(`${demo().url}/p/${q.slug}/thanks?e=${'0'.repeat(8)}-0000-0000-0000-${'0'.repeat(12)}.x`)).text()
    expect(guessed).not.toContain('The one in the middle')
  })
  it('goes on in the edition that it was begun in', async () => {
    const q = await quiz('sorting')
    const { workingCopy, revision } = (await (await q.as(`/api/team/points/${q.id}`)).json()) as {
      workingCopy: PointDefinition
      revision: number
    }
    for (const c of workingCopy.questions[0]!.choices) c.quiz!.weights = [{ to: 'small', n: 1_000_000_000 }]
    const saved = (await (
      await q.as(`/api/team/points/${q.id}`, 'PUT', { revision, name: `Later ${q.key}`, definition: workingCopy })
    ).json()) as { revision: number }
    expect((await q.as(`/api/team/points/${q.id}/publish`, 'POST', { revision: saved.revision })).status).toBe(200)
    const titles = await eventually(async () => {
      const [old, now] = await Promise.all(
        [1, 2].map(
          async edition =>
            (
              (await send(q.key, JSON.stringify({ answers: { ...SORTED, email: somebody('edition') }, edition }))).body as unknown as Came
            ).next.html.match(/cv-title">([^<]+)/)![1],
        ),
      )
      return now === 'The small one' ? [old, now] : null
    })
    expect(titles).toEqual(['The large one', 'The small one'])
  })
  it.each<[string, (d: PointDefinition) => void, number, string]>([
    ['one outcome', d => d.quiz!.results.splice(1), 422, 'two outcomes'],
    ['no outcomes at all', d => d.quiz!.results.splice(0), 422, 'two outcomes'],
    ['an outcome without a title', d => (d.quiz!.results[1]!.title = ' '), 422, 'has no title'],
    ['a weight beyond all measure', d => (d.questions[0]!.choices[0]!.quiz!.weights[0]!.n = 1e10), 422, '1000000000'],
    ['half a weight', d => (d.questions[0]!.choices[0]!.quiz!.weights[0]!.n = 0.5), 422, 'integer'],
    ['two outcomes with one key', d => (d.quiz!.results[1]!.key = 'small'), 422, 'same key'],
    ['a branch back', d => (d.questions[2]!.quiz!.then = [{ when: null, to: 'for' }]), 422, 'round in circles'],
    ['a branch to nowhere', d => (d.questions[0]!.quiz!.then = [{ when: null, to: 'gone' }]), 422, 'taken out'],
    ['a question that nobody comes to', d => (d.questions[0]!.quiz!.then = [{ when: null, to: 'when' }]), 422, 'Nobody comes to'],
    [
      'two hundred questions of forty answers',
      d => {
        const [q] = d.questions
        const choices = Array.from({ length: 40 }, (_, n) => ({ ...structuredClone(q!.choices[0]!), value: `${n}`, text: `${n}` }))
        d.questions = Array.from({ length: 200 }, (_, n) => ({ ...q!, key: `q${n}`, choices: n < 3 ? choices : [] }))
      },
      422,
      '40',
    ],
    ['a form in a quiz’s place', d => (d.quiz = null), 422, 'what is made of the answers'],
  ])('says what is wrong with %s', async (_, change, status, message) => {
    const q = await quiz('sorting', d => void change(d))
    expect([q.status, q.errors.map(e => e.message).join(' ')]).toEqual([status, expect.stringContaining(message)])
  })
  it('has results: what people came to, counted, by entry and in the table that is taken away', async () => {
    const q = await quiz('sorting')
    const sent = async (answers: object) => send(q.key, { ...SORTED, ...answers, email: somebody('counted') })
    await sent({})
    await sent({})
    await sent({ for: 'Myself', time: 'An hour a week', when: 'Soon' })
    const [today] = new Date().toISOString().split('T')
    const group = { from: '2026-01-01', to: today }
    const made = await eventually(async () => {
      const { groups } = (await (await q.as(`/api/team/points/${q.id}/results`, 'POST', { groups: [group] })).json()) as {
        groups: { all: { sent: number }; answers: { label: string; rows: { value: string; text: string; n: number }[] }[] }[]
      }
      return groups[0]!.all.sent === 3 && groups[0]!.answers[0]
    })
    expect(made).toMatchObject({
      label: 'Result',
      rows: [
        { value: 'large', text: 'The large one', n: 2 },
        { value: 'small', n: 1 },
        { value: 'middle', n: 0 },
      ],
    })
    const { respondents } = (await (
      await q.as(`/api/team/points/${q.id}/respondents`, 'POST', { ...group, answer: { question: '@result', value: 'small' } })
    ).json()) as { respondents: { answers: Record<string, string> }[] }
    expect(respondents.map(r => [r.answers['@result'], r.answers.for])).toEqual([['small', 'Myself']])
    const csv = await (await q.as(`/api/team/points/${q.id}/take-away?as=csv&from=${group.from}&to=${today}`)).text()
    expect(csv.split(/\r?\n/)[0]).toContain('Result')
    expect(csv).toContain('The large one')
  })
  it('says which answers go with becoming qualified, each person once', async () => {
    const q = await quiz('sorting', d => {
      d.actions = [
        {
          key: 'ready',
          kind: 'label',
          label: 'sales_ready',
          when: {
            any: [
              { attribute: 'quiz.result', is: 'equal', value: 'large' },
              { attribute: 'answer.time', is: 'equal', value: 'An hour a week' },
            ],
          },
        },
      ] as PointDefinition['actions']
    })
    const often = [...Array(6).keys()]
    for (const i of often) await send(q.key, { ...SORTED, email: somebody(`ready${i}`) })
    for (const i of often)
      await send(q.key, { for: 'Myself', time: i ? 'An hour a week' : 'A day a week', when: 'Soon', email: somebody(`small${i}`) })
    const twice = somebody('twice')
    for (const when of ['Soon', 'This year']) await send(q.key, { for: 'A team', time: 'A day a week', when, email: twice })
    const [today] = new Date().toISOString().split('T')
    const ends = (await (await q.as(`/api/team/points/${q.id}/ends`, 'POST', { from: '2026-01-01', to: today })).json()) as {
      people: number
      qualified: number
      rows: { question: string; value: string; people: number; qualified: number; toQualified: { ratio: number } | null; toWon: null }[]
    }
    expect([ends.people, ends.qualified]).toEqual([13, 11])
    const row = (question: string, value: string) => ends.rows.find(r => r.question === question && r.value === value)
    expect(row('@result', 'large')).toMatchObject({
      people: 6,
      qualified: 6,
      toQualified: { ratio: expect.closeTo(6 / 6 / (5 / 7), 9) },
      toWon: null,
    })
    expect(row('for', 'A team')).toMatchObject({ people: 1, qualified: 0, toQualified: null })
  })
  it('is no form, and a form no quiz', async () => {
    const as = await signedIn('tamsin')
    const { id } = (await (await as('/api/team/points', 'POST', { name: `No quiz a form` })).json()) as { id: string }
    const { workingCopy } = (await (await as(`/api/team/points/${id}`)).json()) as { workingCopy: PointDefinition }
    const answer = await as(`/api/team/points/${id}`, 'PUT', {
      revision: 1,
      name: 'x',
      definition: { ...workingCopy, quiz: { kind: 'marks', results: [] } },
    })
    expect([answer.status, ((await answer.json()) as { errors: { field: string }[] }).errors[0]!.field]).toEqual([422, 'definition.quiz'])
  })
})
