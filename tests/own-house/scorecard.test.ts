import { readFileSync, rmSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Scorecard } from '#core/scoring/scorecard'
import type { Reason } from '#core/scoring/lines'
import type { ScorecardView } from '#core/team'
import { connect, type Sql } from '#db/client'
import { demoFile, openHouse, type House } from '../../scripts/house'
import { placeToTry } from '../../scripts/try-place'
import { ask, eventually, type Demo } from '../support/house'
import { memberOf, type As } from '../support/members'

// A house of its own: what a new scorecard does to leads is no other test's business.
interface LeadView {
  fit: number
  reasons: Reason[]
}
let house: House
let demo: Demo
let sql: Sql
let manager: As
const view = async () => (await manager('/api/team/scorecard')).body as ScorecardView
const save = async (definition: unknown, revision?: number) =>
  manager('/api/team/scorecard', 'PUT', { revision: revision ?? (await view()).revision, definition })
const publish = async (revision?: number) =>
  manager('/api/team/scorecard/publish', 'POST', { revision: revision ?? (await view()).revision })
const settled = () => eventually(async () => !(await view()).isTakingEffect)
const plus = (card: Scorecard, key: string, more: number): Scorecard => ({
  ...card,
  fit: card.fit.map(r => (r.key === key ? { ...r, points: r.points + more } : r)),
})

beforeAll(async () => {
  const place = await placeToTry(process.cwd())
  house = await openHouse(place, { demo: { days: 12 }, env: { CAVLIN_LIMITS: 'off' }, onOutput: () => {} })
  demo = JSON.parse(readFileSync(demoFile(place.data), 'utf8')) as Demo
  sql = connect(house.databaseUrl, { max: 2 })
  manager = await memberOf(demo, 'ansel')
})
afterAll(async () => {
  await sql?.end()
  await house?.stop()
  if (house) rmSync(house.place.data, { recursive: true, force: true })
})

/** Leads of whom a rule of fit holds, with their points of fit. */
const fitOf = async (rule: string) =>
  new Map(
    (await sql<{ id: string; fit: number }[]>`select id, fit from lead where reasons @> ${[{ rule }] as never}::jsonb`).map(l => [
      l.id,
      l.fit,
    ]),
  )

describe('the scorecard', () => {
  it('is worked on as a copy by managers, and scores nobody before it is live', async () => {
    await settled()
    const [marketer, before] = [await memberOf(demo, 'tamsin'), await view()]
    expect(before).toMatchObject({ revision: 0, live: { number: 1 }, isTakingEffect: false, checks: [] })
    const { key } = before.workingCopy.fit[0]!
    const changed = plus(before.workingCopy, key, 25)
    expect((await marketer('/api/team/scorecard', 'PUT', { revision: 0, definition: changed })).status).toBe(403)
    const fit = await fitOf(key)
    expect(fit.size).toBeGreaterThan(2)
    expect(await save(changed, 0)).toEqual({ status: 200, body: { revision: 1 } })
    // Somebody who had not seen that overwrites nothing.
    expect((await save(before.workingCopy, 0)).status).toBe(409)
    expect(await fitOf(key)).toEqual(fit)
    expect((await view()).workingCopy.fit[0]!.points).toBe(before.workingCopy.fit[0]!.points + 25)
  })
  it('takes effect on all leads once it is live, made live twice at once is one edition, and there is a way back', async () => {
    const before = await view()
    const { key } = before.workingCopy.fit[0]!
    const fit = await fitOf(key)
    const both = await Promise.all([publish(before.revision), publish(before.revision)])
    expect(both.map(b => b.status).sort()).toEqual([200, 409])
    await settled()
    expect((await view()).live!.number).toBe(2)
    const now = await fitOf(key)
    expect(now).toEqual(new Map([...fit].map(([id, points]) => [id, points + 25])))
    // The lead's own reasons say so, and add up.
    const id = [...now.keys()][0]!
    const lead = await ask<LeadView>(`/api/v1/leads/${id}`, demo)
    expect([lead.fit, lead.reasons.find(r => r.rule === before.workingCopy.fit[0]!.name)?.now]).toEqual([
      now.get(id),
      before.workingCopy.fit[0]!.points,
    ])
    expect(lead.reasons.filter(r => r.axis === 'fit').reduce((sum, r) => sum + r.now, 0)).toBe(lead.fit)
    expect((await publish()).status).toBe(409)

    const first = (await manager('/api/team/scorecard/editions/1')).body as { definition: Scorecard }
    expect((await save(first.definition)).status).toBe(200)
    expect((await publish()).status).toBe(200)
    await settled()
    expect(await fitOf(key)).toEqual(fit)
    expect((await view()).editions.map(e => e.number)).toEqual([3, 2, 1])
    expect((await manager('/api/team/scorecard/editions/99')).status).toBe(404)
  })
  it('moves labels with their areas, and gives them back', async () => {
    const { workingCopy } = await view()
    const labels = async () =>
      new Map((await sql<{ id: string; label: string | null }[]>`select id, label from lead`).map(l => [l.id, l.label]))
    const before = await labels()
    const top = workingCopy.labels.at(-1)!
    expect([...before.values()].filter(l => l === top.label).length).toBeGreaterThan(0)
    await save({ ...workingCopy, labels: workingCopy.labels.map(l => (l === top ? { ...l, interest: 1000 } : l)) })
    expect((await publish()).status).toBe(200)
    await settled()
    const scored = await sql<
      { n: number }[]
    >`select count(*)::int as n from lead where label = ${top.label} and label_floor is distinct from label`
    expect(scored[0]!.n).toBe(0)
    await save(workingCopy)
    expect((await publish()).status).toBe(200)
    await settled()
    expect(await labels()).toEqual(before)
  })
  it.each<[string, (c: Scorecard) => unknown, string]>([
    ['a half-life of nothing', c => ({ ...c, halfLifeDays: 0 }), 'halfLifeDays'],
    ['a half-life of a million years', c => ({ ...c, halfLifeDays: 365e6 }), 'halfLifeDays'],
    ['points beyond sense', c => plus(c, c.fit[0]!.key, 1e6), 'fit.0.points'],
    ['two rules with one key', c => ({ ...c, fit: [...c.fit, c.fit[0]] }), 'fit'],
    ['a rule without a name', c => ({ ...c, fit: [{ ...c.fit[0]!, name: ' ' }] }), 'fit.0.name'],
    [
      'a rule that asks for the score',
      c => ({ ...c, fit: [{ ...c.fit[0]!, when: { attribute: 'interest', is: 'at_least', value: 5 } }] }),
      'fit.0.when',
    ],
    ['nothing', () => ({}), 'version'],
    ['a rule of interest in what there is not', c => ({ ...c, interest: [{ ...c.interest[0]!, on: 'dreamt' }] }), 'interest.0.on'],
  ])('says what is wrong with %s, and keeps what there was', async (_, change, field) => {
    const { workingCopy, revision } = await view()
    const { status, body } = await save(change(workingCopy))
    expect(status).toBe(422)
    expect((body as { errors: { field: string }[] }).errors.map(e => e.field).join(' ')).toContain(`definition.${field}`)
    expect((await view()).revision).toBe(revision)
  })
  it('does not go live with a rule that asks for what is gone', async () => {
    const { workingCopy } = await view()
    const gone = { attribute: 'segment', is: 'equal', value: '00000000-0000-4000-8000-000000000000' }
    expect((await save({ ...workingCopy, fit: [{ ...workingCopy.fit[0]!, when: gone }] })).status).toBe(200)
    const { status, body } = await publish()
    expect([status, (body as { errors: { message: string }[] }).errors[0]!.message]).toEqual([
      422,
      expect.stringContaining('a segment that was removed'),
    ])
    await save(workingCopy)
  })
})

describe('labels', () => {
  type Setting = { key?: string | null; name: string; qualified: boolean; responseTarget: number }
  const labels = async () =>
    ((await manager('/api/team/house')).body as { labels: Setting[] }).labels.map(({ key, name, qualified, responseTarget }): Setting => ({
      key,
      name,
      qualified,
      responseTarget,
    }))
  const put = async (all: Setting[]) =>
    (await manager('/api/team/labels', 'PUT', { labels: all })) as { status: number; body: { detail?: string } }
  it('are renamed, promised otherwise and added at once; one in use does not go, and none is lost', async () => {
    const before = await labels()
    const carried = async () =>
      new Map((await sql<{ id: string; label: string | null }[]>`select id, label from lead`).map(l => [l.id, l.label]))
    const leads = await carried()
    const renamed = before.map((l, i) => (i === 1 ? { ...l, name: 'Thawing', responseTarget: 77 } : l))
    expect(
      (await put([...renamed.slice(0, 2), { name: 'Nearly there', qualified: false, responseTarget: 60 }, ...renamed.slice(2)])).status,
    ).toBe(200)
    expect((await labels()).map(l => [l.key, l.name])).toEqual([
      [before[0]!.key, before[0]!.name],
      [before[1]!.key, 'Thawing'],
      ['nearly_there', 'Nearly there'],
      ...before.slice(2).map(l => [l.key, l.name]),
    ])
    expect((await labels())[1]!.responseTarget).toBe(77)
    const gone = await put(before.slice(1))
    expect([gone.status, gone.body.detail]).toEqual([
      409,
      expect.stringMatching(/“Early” is in use: \d+ leads carry it; it has an area on the scorecard/),
    ])
    expect((await put(before)).status).toBe(200)
    expect(await labels()).toEqual(before)
    await settled()
    expect(await carried()).toEqual(leads)
  })
  it('in another order, leads carry what that makes of them', async () => {
    const before = await labels()
    const turned = [before[1]!, before[0]!, ...before.slice(2)].map(l => ({ ...l }))
    expect((await put(turned)).status).toBe(200)
    await settled()
    // Whoever reaches the lower area of old reaches the one that is above it now.
    expect(await sql`select 1 from lead where label = ${before[1]!.key!} and label_floor is distinct from label`).toHaveLength(0)
    expect((await put(before)).status).toBe(200)
    await settled()
  })
  it.each<[string, (all: Setting[]) => unknown, number]>([
    ['two of one name', all => [{ ...all[0]!, name: ' ready ' }, { ...all[1]!, name: 'Ready' }, ...all.slice(2)], 422],
    [
      'one above a qualified one that is not',
      all => [{ ...all[0]!, qualified: true }, { ...all[1]!, qualified: false }, ...all.slice(2)],
      422,
    ],
    ['one that there is not', all => [...all, { ...all[0]!, key: 'nobody', name: 'Nobody', qualified: true }], 422],
    ['one without a name', all => [{ ...all[0]!, name: '  ' }, ...all.slice(1)], 422],
    ['none', () => [], 422],
    ['a promise of no time', all => [{ ...all[0]!, responseTarget: 0 }, ...all.slice(1)], 422],
  ])('are refused with %s', async (_, change, status) => {
    const before = await labels()
    expect((await put(change(before) as Setting[])).status).toBe(status)
    expect(await labels()).toEqual(before)
  })
  it('are joined: whoever carries one carries the other, by the score, by hand and in whatever asks for it; what happened keeps its name', async () => {
    const [from, into] = ['warming', 'marketing_qualified']
    const held = (await sql<{ id: string }[]>`select id from lead where label = 'early' limit 1`)[0]!.id
    expect(
      (await manager(`/api/team/leads/${held}/label`, 'PUT', { label: from, how: 'floor', until: null, reason: 'They rang' })).status,
    ).toBe(200)
    const segment = (
      await manager('/api/team/segments', 'POST', {
        name: 'Warm ones',
        condition: { all: [{ attribute: 'label', is: 'one_of', value: [from, 'early'] }] },
      })
    ).body as { id: string }
    const carried = await sql<{ id: string; label: string }[]>`select id, label from lead where label = ${from}`
    expect(carried.length).toBeGreaterThan(2)
    const join = async (key: string, body: object) =>
      (await manager(`/api/team/labels/${key}/join`, 'POST', body)) as { status: number; body: { detail?: string } }
    expect([
      (await join(from, { into: from })).status,
      (await join('nobody', { into })).status,
      (await join(from, { into: 'nobody' })).status,
    ]).toEqual([422, 404, 404])
    expect(await join(from, { into })).toMatchObject({ status: 200 })
    expect((await labels()).map(l => l.key)).not.toContain(from)
    await settled()
    expect(await sql`select from lead where label = ${from} or label_floor = ${from}`).toHaveLength(0)
    const now = new Map((await sql<{ id: string; label: string }[]>`select id, label from lead`).map(l => [l.id, l.label]))
    for (const { id } of carried) expect(now.get(id)).toBe(into)
    const { body } = (await manager('/api/team/scorecard')) as { body: { live: { definition: Scorecard } } }
    expect(body.live.definition.labels.map(l => l.label)).not.toContain(from)
    expect((await sql<{ condition: object }[]>`select condition from segment where id = ${segment.id}`)[0]!.condition).toEqual({
      all: [{ attribute: 'label', is: 'one_of', value: [into, 'early'] }],
    })
    const { timeline } = (await manager(`/api/team/leads/${held}`)).body as { timeline: { sentence: unknown }[] }
    expect(JSON.stringify(timeline)).toContain('at least')
    expect(JSON.stringify(timeline)).toContain('Warming')
    // A form whose live edition gives the one that is no more gives the other.
    const phone = '+33639984477'
    const sent = await fetch(`${demo.url}/w/points/form_call/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ answers: { first_name: 'Ilse', phone } }),
    })
    expect(sent.status).toBe(201)
    expect((await sql`select label_floor from lead where properties->>'phone' = ${phone}`)[0]).toEqual({ labelFloor: into })
  })
})
