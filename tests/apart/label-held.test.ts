import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Sql } from '#db/client'
import { activeMembers } from '#db/members'
import { addPlan } from '#db/routing'
import { addScorecard } from '#db/scoring'
import { carryOut, type LeadAct } from '#server/follow-up/acts'
import { timelineFor } from '#server/follow-up/timeline'
import { leadView } from '#server/follow-up/view'
import { leadById } from '#db/leads'
import { judgeDue } from '#server/jobs/due'
import { readRuleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'
import { does } from '../support/forms'
import { lane, planOf, seated } from '../support/plans'
import { ways } from '../support/ways'

/** A label that somebody or a form holds: at least or exactly, for a time, with a reason; and one that falls only by a margin. */
const START = Date.UTC(2026, 5, 1, 8)
const DAY = 24 * 60
let db: TestDatabase
let sql: Sql
let orla: string
const { live, at, entered } = ways(() => sql, START)
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
  process.env.CAVLIN_DATABASE = db.url
  process.env.CAVLIN_URL = 'https://cavlin.example'
  const members = await activeMembers(sql)
  orla = members.find(m => m.name.startsWith('Orla'))!.id
  await addScorecard(
    sql,
    {
      version: 1,
      halfLifeDays: 10,
      margin: 5,
      fit: [],
      interest: [{ key: 'asked', name: 'Asked', points: 20, on: 'entry', when: null }],
      labels: [
        { label: 'early', fit: -1000, interest: 0 },
        { label: 'warming', fit: -1000, interest: 15 },
        { label: 'marketing_qualified', fit: -1000, interest: 60 },
      ],
    },
    new Date(START),
  )
  await addPlan(sql, planOf(lane('all', { name: 'All', pool: seated(orla) })), new Date(START))
  await live('form_plain', () => {})
  await live('form_week', d => {
    does(d, 'label', { label: 'marketing_qualified', days: 7 })
  })
  vi.useFakeTimers({ toFake: ['Date'], now: START })
})
afterAll(async () => {
  vi.useRealTimers()
  await db.drop()
})
const act = async (lead: string, minutes: number, what: LeadAct) => {
  await sql.begin(async tx => carryOut(tx, await readRuleset(tx), lead, orla, what, new Date(at(minutes))))
}
const sets = (label: string | null, how: 'floor' | 'fixed', until: number | null, reason = 'They rang'): LeadAct => ({
  do: 'label',
  label,
  how,
  until: until === null ? null : new Date(START + until * 60_000),
  reason,
})
const seen = async (lead: string) => leadView((await leadById(sql, lead))!, await readRuleset(sql), Date.now())
const told = async (lead: string) =>
  (await timelineFor(sql, await readRuleset(sql), lead, null, 50)).map(l =>
    l.sentence.map(p => (typeof p === 'string' ? p : 'strong' in p ? p.strong : 'faint' in p ? p.faint : p.moment)).join(''),
  )
/** Whatever is due by then happens. */
const until = async (minutes: number) => {
  at(minutes)
  await judgeDue(sql, Date.now, async () => {})
}

describe('a label that is held', () => {
  it('by a person stays at least for its time, with the reason, and falls by itself', async () => {
    const { lead } = await entered('form_plain', { mail: 'floor@held.example' }, 0)
    await act(lead, 1, sets('marketing_qualified', 'floor', 2 * DAY))
    expect(await seen(lead)).toMatchObject({
      label: 'marketing_qualified',
      labelHeld: { how: 'floor', reason: 'They rang', by: 'person', name: 'Orla Penhaligon' },
      labelNext: { at: new Date(START + 2 * DAY * 60_000).toISOString(), label: 'warming' },
    })
    await until(2 * DAY - 1)
    expect((await seen(lead)).label).toBe('marketing_qualified')
    await until(2 * DAY)
    expect(await seen(lead)).toMatchObject({ label: 'warming', labelHeld: null, labelFloor: null })
    expect((await told(lead)).join('\n')).toMatch(
      /Marketing qualified is held no longer: its time is over[^]*Orla Penhaligon set the label to at least Marketing qualified until .*: They rang/,
    )
  })
  it('exactly neither rises nor falls, also when a form gives more, until the score decides again', async () => {
    const { lead } = await entered('form_plain', { mail: 'fixed@held.example' }, 3 * DAY)
    await act(lead, 3 * DAY + 1, sets('early', 'fixed', null))
    for (let n = 2; n < 6; n++) await entered('form_week', { mail: 'fixed@held.example', words: String(n) }, 3 * DAY + n)
    expect((await seen(lead)).label).toBe('early')
    await act(lead, 3 * DAY + 9, sets(null, 'floor', null, ''))
    expect(await seen(lead)).toMatchObject({ label: 'marketing_qualified', labelHeld: null, labelFloor: null })
    expect((await told(lead)).join('\n')).toContain('Orla Penhaligon lets the score decide again, instead of Early')
  })
  it('by a form for a week gives way after it, to what was held before', async () => {
    const { lead } = await entered('form_plain', { mail: 'week@held.example' }, 10 * DAY)
    await act(lead, 10 * DAY + 1, sets('warming', 'floor', null, 'A friend of the house'))
    await entered('form_week', { mail: 'week@held.example' }, 10 * DAY + 2)
    expect(await seen(lead)).toMatchObject({
      label: 'marketing_qualified',
      labelHeld: { by: 'point', name: 'form_week', until: new Date(START + (17 * DAY + 2) * 60_000).toISOString() },
    })
    await until(17 * DAY + 2)
    expect(await seen(lead)).toMatchObject({ label: 'warming', labelHeld: { reason: 'A friend of the house', until: null } })
    await until(90 * DAY)
    expect((await seen(lead)).label).toBe('warming')
  })
  it('by the score falls only by the margin, at the moment that is said before', async () => {
    const { lead } = await entered('form_plain', { mail: 'margin@held.example' }, 100 * DAY)
    const { labelNext } = await seen(lead)
    // 20 points fall under 10, which is 5 below the line, after a half-life and a little.
    expect(Date.parse(labelNext!.at) - START).toBeGreaterThan(110 * DAY * 60_000 - 1)
    expect(labelNext!.label).toBe('early')
    await until(108 * DAY)
    expect((await seen(lead)).label).toBe('warming')
    at(0)
    vi.setSystemTime(Date.parse(labelNext!.at))
    await judgeDue(sql, Date.now, async () => {})
    expect((await seen(lead)).label).toBe('early')
  })
})
