import { readFileSync, rmSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Scorecard } from '#core/scoring/scorecard'
import type { DryRunView, MovedPerson, ScorecardView, SuggestionView, WhyUnderBoth } from '#core/team'
import { connect, type Sql } from '#db/client'
import { demoFile, openHouse, type House } from '../../scripts/house'
import { placeToTry } from '../../scripts/try-place'
import { eventually, type Demo } from '../support/house'
import { memberOf, type As } from '../support/members'

// A house of its own: what a new scorecard does to leads is no other test's business.
let house: House
let sql: Sql
let manager: As
const AT = '/api/team/scorecard'
const card = async () => (await manager<ScorecardView>(AT)).body
const run = async () => (await manager<{ run: DryRunView | null }>(`${AT}/dry-run`)).body.run
const save = async (definition: Scorecard) => manager(AT, 'PUT', { revision: (await card()).revision, definition })
const begin = async (more: object = {}) => manager(`${AT}/dry-run`, 'POST', { revision: (await card()).revision, ...more })
const ended = async () => {
  await eventually(async () => !['waiting', 'working'].includes((await run())!.state))
  return (await run())!
}
const peopleOf = async (from: string | null, to: string | null) => {
  const all: MovedPerson[] = []
  for (let page = 0; ; page++) {
    const { body } = await manager<{ people: MovedPerson[]; more: boolean }>(
      `${AT}/dry-run/people?from=${from ?? 'none'}&to=${to ?? 'none'}&page=${page}`,
    )
    all.push(...body.people)
    if (!body.more) return all
  }
}
const suggestion = async () => (await manager<{ suggestion: SuggestionView | null }>(`${AT}/suggestion`)).body.suggestion
const settled = () => eventually(async () => !(await card()).isTakingEffect)

beforeAll(async () => {
  const place = await placeToTry(process.cwd())
  house = await openHouse(place, { demo: { days: 40, perDay: 5 }, env: { CAVLIN_LIMITS: 'off' }, onOutput: () => {} })
  const demo = JSON.parse(readFileSync(demoFile(place.data), 'utf8')) as Demo
  sql = connect(house.databaseUrl, { max: 2 })
  manager = await memberOf(demo, 'ansel')
})
afterAll(async () => {
  await sql?.end()
  await house?.stop()
  if (house) rmSync(house.place.data, { recursive: true, force: true })
})

/** Other points, other lines, a rule off, one that is new and asks for what was done before. */
const changed = (c: Scorecard): Scorecard => ({
  ...c,
  halfLifeDays: c.halfLifeDays + 10,
  fit: c.fit.map((r, i) => (i === 0 ? { ...r, points: r.points + 15 } : i === 1 ? { ...r, off: true } : r)),
  interest: [
    ...c.interest,
    { key: 'any_page', name: 'Read anything', points: 3, on: 'page_view', when: null, most: { times: 2, days: 30 } },
  ],
  labels: c.labels.map((l, i) => (i === c.labels.length - 1 ? { ...l, fit: l.fit - 10, interest: l.interest + 5 } : l)),
})

describe('a dry run', () => {
  it('has nothing to try before anything was changed', async () => {
    await settled()
    expect(await run()).toBeNull()
    expect((await begin()).status).toBe(409)
    expect((await manager(`${AT}/dry-run`, 'DELETE')).status).toBe(409)
  })
  it('says for each cell who is in it, and that is what they are once the card is live', async () => {
    const before = await card()
    expect((await save(changed(before.workingCopy))).status).toBe(200)
    expect((await begin()).status).toBe(202)
    const done = await ended()
    expect(done).toMatchObject({ state: 'done', isCurrent: true, by: 'Ansel Thwaite', problem: null })
    const { flows, leads, rules, gains, losses, owners, ends } = done.result!
    const [{ n, open, won }] = await sql<[{ n: number; open: number; won: number }]>`
      select count(*)::int as n, count(*) filter (where s.stage in ('first', 'open') and w.qualified)::int as open, count(*) filter (where s.stage = 'won')::int as won
      from lead l join status s on s.key = l.status left join label w on w.key = l.label`
    expect([leads, done.total, done.done]).toEqual([n, n, n])
    expect(flows.reduce((sum, f) => sum + f.leads, 0)).toBe(n)
    expect(flows.filter(f => f.from !== f.to).length).toBeGreaterThan(0)
    expect(owners.flatMap(o => Object.values(o.labels)).reduce((sum, l) => sum + l.was, 0)).toBe(open)
    for (const side of ['was', 'would'] as const) expect(ends.reduce((sum, e) => sum + e.won[side], 0)).toBe(won)
    expect(rules.find(r => r.name === 'Read anything')).toMatchObject({ less: 0 })
    expect(rules.find(r => r.name === before.workingCopy.fit[1]!.name)).toMatchObject({ more: 0 })
    expect(gains.length).toBeGreaterThan(0)
    for (const [list, sign] of [
      [gains, 1],
      [losses, -1],
    ] as const) {
      expect(list.map(m => sign * m.change)).toEqual(list.map(m => sign * m.change).toSorted((a, b) => b - a))
      for (const m of list) {
        expect(sign * m.change).toBeGreaterThanOrEqual(1)
        // Whole points on both sides: one of each may have been rounded the other way.
        expect(Math.abs(m.after.fit + m.after.interest - m.before.fit - m.before.interest - m.change)).toBeLessThanOrEqual(1.05)
      }
    }

    const people: MovedPerson[] = []
    for (const { from, to, leads: size } of flows) {
      const own = await peopleOf(from, to)
      expect([from, to, own.length]).toEqual([from, to, size])
      people.push(...own)
    }
    const now = await sql<{ id: string; label: string | null; fit: number }[]>`select id, label, fit from lead order by id`
    expect(people.map(p => [p.lead, p.from, p.before.fit]).sort()).toEqual(now.map(l => [l.id, l.label, l.fit]).sort())

    // The lines of both cards add up to what the cell says.
    for (const p of [people[0]!, people.at(-1)!, ...gains.slice(0, 2).map(g => people.find(q => q.lead === g.lead)!)]) {
      const { body: why } = await manager<WhyUnderBoth>(`${AT}/dry-run/leads/${p.lead}`)
      for (const [side, score] of [
        ['live', p.before],
        ['tried', p.after],
      ] as const) {
        const sum = (axis: string) => why[side].reasons.filter(r => r.axis === axis).reduce((s, r) => s + r.now, 0)
        expect({ fit: sum('fit'), interest: sum('interest') }).toEqual(score)
        expect([why[side].fit, why[side].interest]).toEqual([score.fit, score.interest])
      }
      expect([why.live.label, why.tried.label]).toEqual([p.from, p.to])
    }

    expect((await manager(`${AT}/publish`, 'POST', { revision: done.revision })).status).toBe(200)
    await settled()
    const then = await sql<{ id: string; label: string | null; fit: number; interest: number }[]>`
      select l.id, l.label, l.fit, e.interest from lead l join lateral (select interest from lead_event where lead_id = l.id order by version desc limit 1) e on true order by id`
    const would = new Map(people.map(p => [p.lead, p]))
    expect(then.map(l => [l.id, l.label, l.fit])).toEqual(then.map(l => [l.id, would.get(l.id)!.to, would.get(l.id)!.after.fit]))
    // Those whose score is another one by the card have an event of it that says how much.
    const moved = then.filter(l => would.get(l.id)!.before.fit !== l.fit)
    expect(moved.length).toBeGreaterThan(0)
    for (const l of moved) expect(Math.abs(l.interest - would.get(l.id)!.after.interest)).toBeLessThan(1)
    expect(await run()).toMatchObject({ isCurrent: false })
  })
  it('is about a segment, or about those who came lately, where that is wanted', async () => {
    const { workingCopy } = await card()
    expect((await save({ ...workingCopy, fit: workingCopy.fit.map(r => ({ ...r, points: r.points + 1 })) })).status).toBe(200)
    await begin({ days: 7 })
    const [{ n }] = await sql<[{ n: number }]>`select count(*)::int as n from lead where created_at > now() - interval '7 days'`
    const lately = (await ended()).result!
    expect(lately.leads).toBe(n)
    // Only points of fit are others: nothing is earned anew.
    expect(lately.rules.length).toBeGreaterThan(0)
    expect(lately.rules.filter(r => r.axis !== 'fit')).toEqual([])
    const [segment] = await sql<{ id: string; name: string }[]>`select id, name from segment where removed_at is null order by name limit 1`
    const { body: segments } = await manager<{ id: string; leads: number }[]>('/api/team/segments')
    await begin({ segment: segment!.id })
    expect((await ended()).result!.leads).toBe(segments.find(s => s.id === segment!.id)!.leads)
    expect((await begin({ segment: crypto.randomUUID() })).status).toBe(422)
    // One that is removed before anybody has looked says so.
    await sql`update dry_run set state = 'waiting', who = ${{ segment: crypto.randomUUID() } as never}, result = null`
    expect(await ended()).toMatchObject({ state: 'failed', problem: expect.stringContaining('The segment was removed meanwhile') })
  })
  it('goes on one at a time, is stopped, and taken over from whoever fell silent', async () => {
    await begin()
    await ended()
    await sql`update dry_run set state = 'working', beat_at = now(), result = null`
    const second = await begin()
    expect([second.status, (second.body as { detail: string }).detail]).toEqual([409, expect.stringContaining('begun by Ansel')])
    expect((await manager(`${AT}/dry-run`, 'DELETE')).status).toBe(204)
    expect(await run()).toMatchObject({ state: 'stopped', result: null })
    expect((await begin()).status).toBe(202)
    const { result } = await ended()
    await sql`update dry_run set state = 'working', beat_at = now() - interval '2 minutes', result = null, done = 3`
    expect((await ended()).result).toEqual(result)
  })
  it('refuses what nobody could read', async () => {
    const { status, body } = await manager<{ detail: string }>(`${AT}/dry-run/people?from=nonsense&to=none`)
    expect([status, body.detail]).toEqual([422, expect.stringContaining('from which label')])
    expect((await manager(`${AT}/dry-run/leads/${crypto.randomUUID()}`)).status).toBe(404)
    expect((await manager(`${AT}/dry-run`, 'POST', { revision: 99 })).status).toBe(409)
    expect((await manager(`${AT}/dry-run`, 'POST', { revision: 1, days: -4 })).status).toBe(422)
  })
})

describe('a suggested card', () => {
  it('needs people whose end is known, and says how many', async () => {
    expect((await manager(`${AT}/suggestion`, 'POST', {})).status).toBe(202)
    await eventually(async () => (await suggestion())?.state === 'failed')
    expect((await suggestion())!.problem).toMatch(/At least 30|old enough/)
    expect((await manager(`${AT}/suggestion/take`, 'POST', { revision: 1 })).status).toBe(409)
  })
  it('is learned from what was known of people some days after they came, and taken as the working copy', async () => {
    // Whom somebody of us tells of later: schools come to it, others seldom do. What they are is said in what they sent.
    await sql`insert into lead_event (lead_id, version, at, cause, changes, fit, interest, card)
      select l.id, 100000, l.created_at + interval '9 days', 'status', '{"status": {"from": "untouched", "to": "won"}}', l.fit, 0, 1 from lead l
      where l.created_at < now() - interval '12 days' and (l.properties->>'sector' in ('school', 'council') or hashtext(l.id::text) % 5 = 0)`
    expect((await manager(`${AT}/suggestion`, 'POST', { maxRules: 6 })).status).toBe(202)
    await eventually(async () => (await suggestion())?.state === 'done')
    const { result } = (await suggestion())!
    expect(result!.positives).toBeGreaterThan(30)
    expect(result!.rules.length).toBeLessThanOrEqual(6)
    expect(result!.rules.map(r => r.sentence).join()).toMatch(/Sector is/)
    expect(result!.live!.auc).toBeGreaterThan(0)
    const before = await card()
    expect((await manager(`${AT}/suggestion/take`, 'POST', { revision: before.revision + 7 })).status).toBe(409)
    expect((await manager(`${AT}/suggestion/take`, 'POST', { revision: before.revision })).status).toBe(200)
    const now = await card()
    expect(now.live).toEqual(before.live)
    expect(now.workingCopy.fit.map(r => r.name)).toEqual(result!.rules.map(r => r.sentence.slice(0, 200)))
    expect(now.workingCopy.interest).toEqual(before.live!.definition.interest)
    expect(now.checks.filter(c => c.level === 'stop')).toEqual([])
    // It can be tried like any other.
    expect((await begin()).status).toBe(202)
    expect((await ended()).state).toBe('done')
  })
})
