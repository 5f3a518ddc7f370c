import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Scorecard } from '#core/scoring/scorecard'
import { interestKey } from '#core/scoring/interest-key'
import { leadState } from '#db/book'
import { briefLeads } from '#db/leads'
import type { Sql } from '#db/client'
import { pointByKey } from '#db/points'
import { addScorecard, liveScorecard, takeoverOf } from '#db/scoring'
import { countFor, saveSegment } from '#db/segments'
import { receive } from '#server/capture/receive'
import { accept } from '#server/ingest/entries'
import { judgeDue, takeOver, takeOverSome } from '#server/jobs/due'
import { activeMembers } from '#db/members'
import { carryOut } from '#server/follow-up/acts'
import { readRuleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'

const DAY = 86_400_000
let db: TestDatabase
let sql: Sql
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
})
afterAll(() => db.drop())

let n = 0
async function enter(at: number, sector = 'school', email = `due${++n}@time.example`): Promise<string> {
  const answers = { email, first_name: 'A', sector }
  const { intake } = receive((await pointByKey(sql, 'form_guide'))!, { answers }, null, at)
  const [result] = await sql.begin(async tx => accept(tx, await readRuleset(tx), [intake!], { mails: true }))
  if (result?.kind !== 'accepted') throw new Error(result?.kind)
  return result.now.lead.id
}
const row = async (id: string) =>
  (
    await sql<{ label: string | null; judgeAt: Date | null; interestKey: number; updatedAt: Date; card: number }[]>`
  select label, judge_at, interest_key, updated_at, card from lead where id = ${id}`
  )[0]!
const labelLines = (id: string) =>
  sql<
    { at: Date; payload: { to: string } }[]
  >`select at, changes -> 'label' as payload from lead_event where lead_id = ${id} and changes ? 'label' order by version`
const notices = async () => (await sql`select 1 from delivery where kind = 'notice'`).length
const card = (change: (c: Scorecard) => Scorecard) => async () =>
  addScorecard(sql, change((await liveScorecard(sql))!.definition), new Date())

describe('what is due', () => {
  it('falls at its moment and not before, is told to screens, and changes neither the key nor, without a label, anything else', async () => {
    const now = Date.now()
    // Twice, which lifts the label that fading brings down.
    await enter(now - 120_000, 'school', 'twice@time.example')
    const id = await enter(now, 'school', 'twice@time.example')
    // A clock that runs would be due before the label is.
    await sql.begin(async tx =>
      carryOut(tx, await readRuleset(tx), id, (await activeMembers(tx))[0]!.id, { do: 'call', result: 'reached' }, new Date(now)),
    )
    const fresh = await row(id)
    expect(fresh.judgeAt).not.toBeNull()
    const told: string[] = []
    const tell = async (leads: string[]) => {
      told.push(...leads)
    }
    await judgeDue(sql, () => fresh.judgeAt!.getTime() - 1000, tell)
    expect([told, (await row(id)).label]).toEqual([[], fresh.label])
    await judgeDue(sql, () => fresh.judgeAt!.getTime(), tell)
    const fallen = await row(id)
    expect(told).toEqual([id])
    expect(fallen.label).not.toBe(fresh.label)
    expect(fallen.interestKey).toBeCloseTo(fresh.interestKey, 6)
    expect((await labelLines(id)).at(-1)!.payload.to).toBe(fallen.label)
  })
  it('is dealt with once, however many workers look', async () => {
    const ids = await Promise.all(Array.from({ length: 5 }, () => enter(Date.now() - 40 * DAY)))
    const before = await Promise.all(ids.map(async id => (await labelLines(id)).length))
    await Promise.all([judgeDue(sql, Date.now), judgeDue(db.another(), Date.now), judgeDue(db.another(), Date.now)])
    for (const [i, id] of ids.entries()) expect((await labelLines(id)).length).toBeLessThanOrEqual(before[i]! + 1)
    expect(await sql`select 1 from lead where judge_at <= now()`).toHaveLength(0)
  })
})

describe('another scorecard', () => {
  it('takes effect on all leads: labels and scores only, nobody is told, and what it pays for the same is paid', async () => {
    const [school, inn] = [await enter(Date.now()), await enter(Date.now(), 'restaurant')]
    const before = { notices: await notices(), school: await row(school), leads: (await sql`select 1 from lead`).length }
    await card(c => ({
      ...c,
      halfLifeDays: 7,
      fit: c.fit.map(rule => (rule.key === 'public_house' ? { ...rule, points: 90 } : rule)),
      interest: c.interest.map(rule => ({ ...rule, points: rule.points + 40 })),
    }))()
    const told: string[] = []
    expect(
      await takeOver(sql, async leads => {
        told.push(...leads)
      }),
    ).toBe(before.leads)
    const [state, after] = [(await leadState(sql, school))!, await row(school)]
    expect(state.reasons.map(r => [r.rule, r.points])).toEqual(
      expect.arrayContaining([
        ['public_house', 90],
        ['asked_guide', 54],
      ]),
    )
    expect([after.label, after.card]).toEqual(['sales_ready', (await liveScorecard(sql))!.number])
    expect(told).toContain(school)
    expect([await notices(), (await leadState(sql, inn))!.ownerId !== null]).toEqual([before.notices, true])
    // Once it is done, it is done.
    expect(await takeOver(sql)).toBe(0)
  })
  it('goes on where it was interrupted, and begins anew when a newer one comes', async () => {
    for (let i = 0; i < 210; i++) await enter(Date.now())
    await card(c => ({ ...c, halfLifeDays: 9 }))()
    const { number } = (await liveScorecard(sql))!
    const ruleset = await readRuleset(sql)
    expect((await sql.begin(tx => takeOverSome(tx, ruleset, number))).leads).toBe(200)
    const half = await takeoverOf(sql, number)
    expect([half!.position !== null, half!.finishedAt]).toEqual([true, null])
    const all = (await sql`select 1 from lead`).length
    expect(await takeOver(sql)).toBe(all - 200)
    await card(c => ({ ...c, halfLifeDays: 11 }))()
    expect(await takeOver(sql)).toBe(all)
    expect(await sql`select 1 from lead where half_life_days <> 11`).toHaveLength(0)
  })
})

it('a scorecard that asks for a segment which asks for what the scorecard makes gives nobody those points', async () => {
  const [score, plain] = [randomUUID(), randomUUID()]
  await saveSegment(sql, { id: score, name: 'High fit', condition: { all: [{ attribute: 'fit', is: 'at_least', value: 1 }] } }, new Date())
  await saveSegment(
    sql,
    { id: plain, name: 'Schools', condition: { all: [{ attribute: 'property.sector', is: 'equal', value: 'school' }] } },
    new Date(),
  )
  const rule = (key: string, segment: string) => ({
    key,
    name: key,
    points: 5,
    when: { attribute: 'segment', is: 'equal' as const, value: segment },
  })
  await card(c => ({ ...c, fit: [...c.fit, rule('of_score', score), rule('of_schools', plain)] }))()
  const rules = (await leadState(sql, await enter(Date.now())))!.reasons.map(r => r.rule)
  expect([rules.includes('of_score'), rules.includes('of_schools')]).toEqual([false, true])
  expect((await readRuleset(sql)).cardSegments).toEqual([score, plain])
})

it('what faded to nothing long ago, by a short half-life, is nothing, and no list or segment breaks on it', async () => {
  const id = await enter(Date.now())
  await sql`update lead set half_life_days = 0.25, interest_key = ${interestKey(30, Date.now() - 3 * 365 * DAY, 0.25)} where id = ${id}`
  expect((await briefLeads(sql, [id]))[0]!.interest).toBe(0)
  expect(await countFor(sql, { attribute: 'interest', is: 'at_least', value: 1_000_000 }, Date.now())).toBe(0)
  const fill = readFileSync('db/migrations/0031_interest_fill.sql', 'utf8')
  const old = [{ axis: 'interest', rule: 'asked_guide', name: 'Asked', points: 14, at: Date.now() - 400 * 365 * DAY }]
  await sql`update lead set card = 0, reasons = ${old as never} where id = ${id}`
  expect((await sql.unsafe(fill)).count).toBe(1)
})

it('a database of before gets the keys of its leads, which are what their lines say', async () => {
  const id = await enter(Date.now() - 5 * DAY)
  const { interestKey: key } = await row(id)
  await sql`update lead set interest_key = 0, card = 0`
  const fill = readFileSync('db/migrations/0031_interest_fill.sql', 'utf8')
  let rows = 0
  for (let changed = 1; changed;) rows += changed = (await sql.unsafe(fill)).count
  expect(rows).toBe((await sql`select 1 from lead`).length)
  const { scorecard } = await readRuleset(sql)
  expect((await row(id)).interestKey).toBeCloseTo(key, scorecard.halfLifeDays ? 4 : 4)
})
