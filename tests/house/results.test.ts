import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import readXlsx from 'read-excel-file/node'
import { parse } from 'csv-parse/sync'
import { questionsAsked } from '#core/results/results'
import type { RespondentsView, ResultsView } from '#core/team'
import type { Sql } from '#db/client'
import { pointByKey } from '#db/points'
import { editionsOf } from '#db/results'
import { receive } from '#server/capture/receive'
import { countResults } from '#server/consumers/results'
import { openBatch } from '#server/ingest/change'
import { accept } from '#server/ingest/entries'
import { entriesOf, readResults } from '#server/results/read'
import { readRuleset, type Ruleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'
import { form, q } from '../support/forms'
import { demo, eventually, send, signedIn, somebody } from '../support/house'

const DAY = 86_400_000
const iso = (ms: number) => new Date(ms).toISOString().slice(0, 10)
const [FROM, TO] = [iso(Date.now() - 40 * DAY), iso(Date.now() + DAY)]

describe('results, as they are counted', () => {
  let db: TestDatabase
  let sql: Sql
  let ruleset: Ruleset
  let random = 99
  const below = (n: number) => (random = (random * 48271) % 2147483647) % n
  const one = <T>(of: readonly T[]): T => of[below(of.length)]!
  beforeAll(async () => {
    db = await freshDatabase()
    sql = db.sql
    ruleset = await readRuleset(sql)
  })
  afterAll(() => db.drop())

  async function enter(): Promise<void> {
    const point = (await pointByKey(sql, 'form_visit'))!
    const answers = {
      email: `r${below(400)}@results.example`,
      first_name: 'A',
      last_name: 'B',
      sector: one(['school', 'restaurant']),
      size: one(['small', 'large']),
      message: `m${below(1e6)}`,
    }
    const { intake, flaws } = receive(
      point,
      { answers, page: one(['https://s.example/a?x=1', 'https://s.example/b', null]), took: one([undefined, 3000, 60_000]) },
      null,
      Date.now() - below(30) * DAY,
    )
    expect(flaws).toEqual([])
    await sql.begin(async tx => accept(tx, ruleset, [intake!], { mails: false }))
  }
  /** A visitor corrects an entry, as `correctTo` does it. */
  async function correct(): Promise<void> {
    const point = (await pointByKey(sql, 'form_visit'))!
    const entries = await sql<
      { id: string; leadId: string; answers: Record<string, string> }[]
    >`select id, lead_id, answers from entry where point_id = ${point.id} and state = 'complete' order by id`
    if (!entries.length) return
    const { id, leadId, answers } = one(entries)
    const after = { ...answers, size: one(['small', 'medium', 'large']) }
    if (after.size === answers.size) return
    await sql.begin(async tx => {
      const batch = await openBatch(tx, ruleset, { ids: [leadId], at: Date.now() })
      await tx`update entry set answers = ${after as never}, corrected_at = now() where id = ${id}`
      const { questions } = point.live!.definition
      await batch.apply([
        {
          kind: 'correction',
          at: Date.now(),
          by: null,
          lead: leadId,
          entry: id,
          point: 'P',
          questions,
          before: { answers, values: {} },
          after: { answers: after, values: {} },
          notice: '',
        },
      ])
    })
  }
  /** The same, counted in the table of entries, by other means. */
  async function counted(point: string) {
    const { zone } = ruleset.house
    const within = sql`e.point_id = ${point} and e.state = 'complete' and (e.at at time zone ${zone})::date between ${FROM} and ${TO}`
    const [days, sizes, pages] = await Promise.all([
      sql<
        { k: string; n: number }[]
      >`select (e.at at time zone ${zone})::date::text as k, count(*)::int as n from entry e where ${within} group by 1 order by 1`,
      sql<
        { k: string; n: number }[]
      >`select e.answers ->> 'size' as k, count(*)::int as n from entry e where ${within} and e.answers ? 'size' group by 1 order by 1`,
      sql<
        { k: string; n: number }[]
      >`select coalesce(split_part(page, '?', 1), '') as k, count(*)::int as n from entry e where ${within} group by 1 order by 1`,
    ])
    return { days, sizes, pages }
  }
  async function read(point: string, condition: object | null = null) {
    const questions = questionsAsked(await editionsOf(sql, point))
    const results = await readResults(sql, entriesOf({ id: point, kind: 'form' }, { from: FROM, to: TO, condition }, ruleset), questions)
    const byKey = (rows: { k: string; n: number }[]) => rows.filter(r => r.n).sort((a, b) => (a.k < b.k ? -1 : 1))
    return {
      behind: results.behind,
      sent: results.all.sent,
      results,
      days: byKey(results.days.map(d => ({ k: d.day, n: d.sent }))),
      pages: byKey(results.pages.map(p => ({ k: p.page, n: p.sent }))),
      sizes: byKey(results.answers.find(a => a.question === 'size')!.rows.map(r => ({ k: r.value, n: r.n }))),
    }
  }

  it('equal a full count at any moment, with what is not counted yet, corrections included', async () => {
    const { id } = (await pointByKey(sql, 'form_visit'))!
    await countResults(sql, ruleset.house.zone)
    for (let round = 0; round < 6; round++) {
      for (let i = 0; i < 12; i++) await (below(3) ? enter() : correct())
      const now = await read(id)
      expect(now).toMatchObject({ ...(await counted(id)), behind: false })
      if (round % 2) while (await countResults(sql, ruleset.house.zone, 7));
    }
    // Counted anew from the beginning it is the same.
    await sql`update consumer set made_for = 'before' where name = 'results'`
    while (await countResults(sql, ruleset.house.zone));
    const { results, ...anew } = await read(id)
    expect(anew).toMatchObject(await counted(id))
    // And so it is read entry by entry, of all people.
    const { results: slowly, ...ofAll } = await read(id, { all: [] })
    expect({ ...ofAll, behind: false }).toEqual(anew)
    expect([slowly.answers, slowly.medianMs, slowly.looks]).toEqual([results.answers, results.medianMs, false])
  })
  it('are said to be behind when too much has happened', async () => {
    const { id } = (await pointByKey(sql, 'form_visit'))!
    await sql`update consumer set made_for = 'another day' where name = 'results'`
    expect((await read(id)).behind).toBe(true)
    while (await countResults(sql, ruleset.house.zone));
    expect((await read(id)).behind).toBe(false)
  })
})

describe('results of a form', () => {
  const post = async <T>(path: string, body: object, who = 'tamsin') =>
    (await (await (await signedIn(who))(path, 'POST', body)).json()) as T
  const group = { from: iso(Date.now() - DAY), to: TO }

  it('count looks at our own pages without a visitor, and not those of machines; what they do not know is no look', async () => {
    const { key, id, slug } = await form(d => {
      d.questions.push(q('town', 'short_text', { label: 'Town' }))
    })
    const agent = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
    const look = async (body: object, userAgent = agent) =>
      (
        await fetch(`${demo().url}/w/looks`, {
          method: 'POST',
          headers: { 'user-agent': userAgent, 'content-type': 'text/plain' },
          body: JSON.stringify({ path: `/p/${slug}`, point: key, edition: 1, ...body }),
        })
      ).status
    for (const kind of ['seen', 'seen', 'seen', 'started', 'started']) expect(await look({ kind })).toBe(204)
    for (const first of [true, false]) await look({ kind: 'question', question: 'town', first })
    await look({ kind: 'left', question: 'town' })
    await look({ kind: 'question', question: 'strange', first: true })
    expect(await look({ kind: 'seen' }, 'SomeBot/1.0 (crawler)')).toBe(204)
    for (const bad of [{ kind: 'bought' }, { kind: 'seen', path: '/elsewhere' }, { kind: 'seen', visitor: 'x' }])
      expect(await look(bad)).toBe(422)
    await send(key, JSON.stringify({ answers: { email: somebody('looks'), town: 'T' }, page: `${demo().url}/p/${slug}` }))
    const view = await eventually(async () => {
      const {
        groups: [g],
      } = await post<ResultsView>(`/api/team/points/${id}/results`, { groups: [group] })
      return g!.all.seen === 3 && g!.all.begun === 2 && g!.all.sent === 1 ? g : null
    })
    expect(view.stops).toEqual([{ question: 'town', label: 'Town', reached: 1, stopped: 1 }])
    expect(view.pages[0]).toMatchObject({ page: `${demo().url}/p/${slug}`, seen: 3, begun: 2, sent: 1 })
  })
  it('show who answered, the latest first, piece by piece, and only who answered so', async () => {
    const { key, id } = await form(d => {
      d.questions.push(
        q('size', 'one_of', {
          label: 'Size',
          choices: [
            { value: 's', text: 'Small', tag: undefined },
            { value: 'l', text: 'Large', tag: undefined },
          ],
        }),
      )
    })
    const emails = Array.from({ length: 53 }, () => somebody('many'))
    for (const [i, email] of emails.entries()) await send(key, { email, size: i % 2 ? 's' : 'l' })
    const first = await post<RespondentsView>(`/api/team/points/${id}/respondents`, group)
    expect([first.respondents.length, first.more]).toEqual([50, true])
    const { at, id: last } = first.respondents.at(-1)!
    const rest = await post<RespondentsView>(`/api/team/points/${id}/respondents`, { ...group, at, id: last })
    expect([rest.respondents.length, rest.more]).toEqual([3, false])
    expect(new Set([...first.respondents, ...rest.respondents].map(r => r.name))).toEqual(new Set(emails))
    const small = await post<RespondentsView>(`/api/team/points/${id}/respondents`, { ...group, answer: { question: 'size', value: 's' } })
    expect(small.respondents.map(r => r.answers.size)).toEqual(Array(26).fill('s'))
    const some = await post<ResultsView>(`/api/team/points/${id}/results`, {
      groups: [group, { ...group, condition: { all: [{ attribute: 'property.email', is: 'equal', value: emails[0] }] } }],
    })
    expect(some.groups.map(g => [g.all.sent, g.looks])).toEqual([
      [53, true],
      [1, false],
    ])
  })
  it('leave as CSV and XLSX, in which nothing is a formula', async () => {
    const { key, id } = await form(d => {
      d.questions.push(q('town', 'short_text', { label: 'Town' }))
    })
    const email = somebody('away')
    await send(key, { email, town: '=HYPERLINK("x")' })
    await send(key, { email: somebody('away'), town: '+33 1 42 68' })
    const as = await signedIn('orla')
    const away = async (format: string) => await as(`/api/team/points/${id}/take-away?as=${format}&from=${group.from}&to=${group.to}`)
    const csv = await away('csv')
    expect(csv.headers.get('content-disposition')).toContain('.csv')
    const rows = parse(Buffer.from(await csv.arrayBuffer()), { bom: true, columns: true }) as Record<string, string>[]
    expect(rows.map(r => r.Town)).toEqual(['+33 1 42 68', `'=HYPERLINK("x")`])
    expect(rows[1]!['E-mail']).toBe(email)
    const book = Buffer.from(await (await away('xlsx')).arrayBuffer())
    const sheets = await readXlsx(book)
    expect(sheets.map(w => w.sheet)).toEqual(['Figures', 'Where they stopped', 'Answers', 'Entries'])
    const [head, , last] = sheets[3]!.data as [string[], unknown, string[]]
    expect(last[head.indexOf('Town')]).toBe(`'=HYPERLINK("x")`)
    expect(sheets[0]!.data[1]).toEqual(['In all', null, 0, 0, 2])
    // Two groups side by side go along together, each row with its own.
    const second = encodeURIComponent(
      JSON.stringify({ ...group, condition: { all: [{ attribute: 'property.email', is: 'equal', value: email }] } }),
    )
    const both = async (format: string) => Buffer.from(await (await away(`${format}&second=${second}`)).arrayBuffer())
    const split = parse(await both('csv'), { bom: true, columns: true }) as Record<string, string>[]
    expect(split.map(r => [r.Group, r['E-mail'] === email])).toEqual([
      ['first', false],
      ['first', true],
      ['second', true],
    ])
    const two = await readXlsx(await both('xlsx'))
    expect(two.map(w => w.sheet)).toEqual([
      'Figures, first',
      'Where they stopped, first',
      'Answers, first',
      'Figures, second',
      'Where they stopped, second',
      'Answers, second',
      'Entries',
    ])
    expect(two[3]!.data[1]!.at(-1)).toBe(1)
    for (const bad of [
      'as=csv&from=2027-01-01&to=2027-01-02&second=7',
      'as=csv&from=2027-01-01&to=2027-01-02&second={',
      'as=pdf&from=2027-01-01&to=2027-01-02',
      'as=csv&from=2027-02-01&to=2027-01-02',
      'as=csv&from=x&to=y',
      'as=csv&from=2027-01-01&to=2027-01-02&condition={',
    ])
      expect([422, 400]).toContain((await as(`/api/team/points/${id}/take-away?${bad}`)).status)
  })
  it('of a landing page are its looks and what came through it', async () => {
    const as = await signedIn('tamsin')
    const [page] = ((await (await as('/api/team/pages')).json()) as { id: string; slug: string }[]).filter(
      p => p.slug === 'what-a-growing-house-costs',
    )
    const all = async () =>
      (await post<ResultsView>(`/api/team/points/${page!.id}/results`, { groups: [{ ...group, from: iso(Date.now() - 60 * DAY) }] }))
        .groups[0]!.all
    const before = await all()
    expect(before.seen).toBeGreaterThan(before.sent)
    const agent = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0'
    const look = (landing: string) =>
      fetch(`${demo().url}/w/looks`, {
        method: 'POST',
        headers: { 'user-agent': agent },
        body: JSON.stringify({ kind: 'seen', path: `/p/${page!.slug}`, landing }),
      })
    expect([(await look(page!.slug)).status, (await look('nowhere')).status, (await look('\u0000')).status]).toEqual([204, 204, 204])
    await send(
      'form_guide',
      JSON.stringify({
        answers: { email: somebody('landed'), first_name: 'A', sector: 'school' },
        landing: page!.slug,
        page: `${demo().url}/p/${page!.slug}`,
      }),
    )
    const after = await eventually(async () => {
      const now = await all()
      return now.sent > before.sent && now
    })
    expect(after).toEqual({ ...before, seen: before.seen + 1, sent: before.sent + 1, counted: before.counted + 1 })
  })
  it('show and let out nothing sensitive', async () => {
    const as = await signedIn('orla')
    await as('/api/team/properties', 'POST', { label: 'Illness', kind: 'short_text', sensitivity: 'sensitive' })
    const { key, id } = await form(d => {
      d.questions.push(
        q('ill', 'short_text', { label: 'Illness', property: 'illness', help: 'Why' }),
        q('town', 'short_text', { label: 'Town' }),
      )
    })
    await send(key, { email: somebody('ill'), ill: 'A secret cough', town: 'T' })
    const shown = await post<RespondentsView>(`/api/team/points/${id}/respondents`, group)
    expect(shown.respondents.map(r => Object.keys(r.answers).sort())).toEqual([['email', 'town']])
    for (const path of [`/api/team/points/${id}/take-away?as=csv&from=${group.from}&to=${group.to}`, '/api/team/leads/take-away?as=csv'])
      expect(await (await as(path)).text()).not.toContain('A secret cough')
  })
  it('and leads leave the same way, by the filters of their list', async () => {
    const as = await signedIn('jonah')
    const answer = await as('/api/team/leads/take-away?as=csv&status=untouched')
    const rows = parse(Buffer.from(await answer.arrayBuffer()), { bom: true, columns: true }) as Record<string, string>[]
    const { total } = (await (await as('/api/team/leads?status=untouched&size=1')).json()) as { total: number }
    expect(rows.length).toBe(total)
    expect(new Set(rows.map(r => r.Status))).toEqual(new Set(['Untouched']))
    expect((await as('/api/team/leads/take-away?as=csv&status2=x')).status).toBe(422)
  })
})
