import { describe, expect, it } from 'vitest'
import type { Learned } from '#core/learning/learn'
import { scoreRows, type LearnedRule } from '#core/learning/score-rows'
import { diceOf } from '#core/quiz/shuffle'
import { demo, eventually } from '../support/house'

type Answer = {
  status: number
  location: string | null
  body: Record<string, unknown> & { errors?: { field: string; message: string }[]; detail?: string }
}
const ask = async (path: string, body?: unknown, more: { key?: string; type?: string; method?: string } = {}): Promise<Answer> => {
  const answer = await fetch(demo().url + path, {
    method: more.method ?? (body === undefined ? 'GET' : 'POST'),
    headers: {
      authorization: `Bearer ${more.key ?? demo().apiKey}`,
      ...(body !== undefined && { 'content-type': more.type ?? 'application/json' }),
    },
    ...(body !== undefined && { body: typeof body === 'string' ? body : JSON.stringify(body) }),
  })
  return { status: answer.status, location: answer.headers.get('location'), body: (await answer.json()) as Answer['body'] }
}
const LEARN = '/api/v1/scorecards/learn'
const ended = async (location: string) => {
  let job: Answer['body'] = {}
  await eventually(async () => {
    job = (await ask(location)).body
    return job.state === 'done' || job.state === 'failed'
  })
  return job as {
    state: string
    problem: string | null
    progress: number
    result: (Omit<Learned, 'rules'> & { rules: (LearnedRule & { sentence: string })[] }) | null
  }
}

const dice = diceOf(31)
const rows = Array.from({ length: 700 }, () => ({
  sector: ['school', 'home', 'council'][Math.floor(dice() * 3)],
  size: Math.floor(dice() * 5),
  other: Math.floor(dice() * 4),
}))
const outcome = rows.map(r => Number(dice() < (r.sector === 'school' ? 0.4 : 0.05) + (r.size >= 3 ? 0.15 : 0)))

describe('the open API', () => {
  it('learns a scorecard from rows, by and by, says it in sentences, and scores rows by it', async () => {
    const begun = await ask(LEARN, { rows, outcome, maxRules: 6, seed: 3 })
    expect([begun.status, begun.location]).toEqual([202, `/api/v1/jobs/${begun.body.id as string}`])
    const { state, result, problem, progress } = await ended(begun.location!)
    expect([state, problem, progress]).toEqual(['done', null, 1])
    expect(result!.rules.length).toBeGreaterThan(0)
    expect(result!.rules.length).toBeLessThanOrEqual(6)
    expect(result!.rules.map(r => r.sentence).join()).toMatch(/sector is/)
    expect(result).toMatchObject({ rows: 700, positives: outcome.reduce((a, b) => a + b, 0) })
    const [low, high] = result!.crossValidated.aucRange
    expect(low).toBeGreaterThan(0.55)
    expect(high).toBeLessThanOrEqual(1)
    const scored = await ask('/api/v1/scorecards/score', { rules: result!.rules, rows })
    expect(scored.body.scores).toEqual(scoreRows(result!.rules, rows))
    // The same seed, the same card; and a table teaches the same as rows.
    const csv = ['sector,size,other,won', ...rows.map((r, i) => `${r.sector},${r.size},${r.other},${outcome[i] ? 'yes' : 'no'}`)].join('\n')
    const table = await ask(`${LEARN}?outcome=won&maxRules=6&seed=3`, csv, { type: 'text/csv' })
    expect(table.status).toBe(202)
    const again = (await ended(table.location!)).result!
    expect(again.crossValidated).toEqual(result!.crossValidated)
    expect(again.rules.map(r => [r.sentence, r.points])).toEqual(result!.rules.map(r => [r.sentence, r.points]))
  })
  it('says in words why nothing can be learned', async () => {
    const few = await ask(LEARN, { rows: rows.slice(0, 3), outcome: [1, 0, 0] })
    expect(await ended(few.location!)).toMatchObject({
      state: 'failed',
      result: null,
      problem: expect.stringMatching(/1 of 3 .* At least 30/),
    })
    const same = await ask(LEARN, { rows: rows.map(() => ({ a: 1 })), outcome })
    expect((await ended(same.location!)).problem).toMatch(/No column tells/)
  })
  it.each<[string, unknown, string, number?]>([
    ['an outcome list of another length', { rows, outcome: [1, 0] }, 'outcome'],
    ['an outcome that is none', { rows: rows.slice(0, 2), outcome: [1, 2] }, 'outcome.1'],
    ['rows that are none', { rows: [1, 2], outcome: [1, 0] }, 'rows.0'],
    ['no rows', { outcome: [] }, 'rows'],
    ['a million rows', { rows: Array.from({ length: 100_001 }, () => ({})), outcome: [] }, 'rows'],
    ['too many rules', { rows, outcome, maxRules: 5000 }, 'maxRules'],
    ['half a seed', { rows, outcome, seed: 0.5 }, 'seed'],
    ['a segment that is none', { segment: 'nothing' }, 'segment'],
  ])('refuses %s', async (_, body, field) => {
    const { status, body: said } = await ask(LEARN, body)
    expect([status, said.errors?.map(e => e.field)]).toEqual([422, [field]])
  })
  it('refuses tables and rules that cannot be read, keys that may not, and jobs of others', async () => {
    const csv = (text: string, query = '?outcome=won') => ask(LEARN + query, text, { type: 'text/csv' })
    expect((await csv('a,b\n1,2')).body.errors?.[0]?.message).toMatch(/no column “won”. It has: a, b/)
    expect((await csv('a,won\n1,perhaps')).body.errors?.[0]?.message).toMatch(/line 2 the outcome is “perhaps”/)
    expect((await csv('a,won\n"1,2')).status).toBe(422)
    expect((await csv('a,won\n1,1', '')).status).toBe(422)
    expect((await ask(LEARN, '<rows/>', { type: 'application/xml' })).status).toBe(415)
    const score = (body: unknown) => ask('/api/v1/scorecards/score', body).then(a => [a.status, a.body.errors?.[0]?.field])
    expect(await score({ rules: [{ when: { attribute: 'a', is: 'like', value: 1 }, points: 1 }], rows: [] })).toEqual([422, 'rules.0.when'])
    expect(await score({ rules: [{ when: { did: 'page', where: null, times: 1, days: null }, points: 1 }], rows: [] })).toEqual([
      422,
      'rules.0.when',
    ])
    expect(await score({ rules: [{ when: { all: [] }, points: 'many' }], rows: [] })).toEqual([422, 'rules.0.points'])
    expect(await score({ rules: [], rows: 7 })).toEqual([422, 'rows'])
    expect(
      await score({ rules: [{ when: { attribute: 'a', is: 'equal', value: 1 }, points: 2 }], rows: [{ a: 1 }, { a: '1' }, { b: 1 }] }),
    ).toEqual([200, undefined])
    expect((await ask(LEARN, { rows, outcome }, { key: 'cavlin_nobody' })).status).toBe(401)
    expect((await ask('/api/v1/jobs/00000000-0000-7000-8000-000000000000')).status).toBe(404)
  })
})
