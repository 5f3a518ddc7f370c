import { beforeAll, describe, expect, it } from 'vitest'
import type { LeadView, SentBackView } from '#core/team'
import { eventually, send, signedIn, somebody } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [jonah, tamsin] = [] as unknown as [Ask, Ask]
let jonahId = ''
beforeAll(async () => {
  ;[jonah, tamsin] = (await Promise.all(['jonah', 'tamsin'].map(signedIn))) as [Ask, Ask]
  jonahId = ((await (await jonah('/api/team/house')).json()) as { members: { id: string; name: string }[] }).members.find(m =>
    m.name.startsWith('Jonah'),
  )!.id
})
const json = async <T>(answer: Response) => ({ status: answer.status, body: (await answer.json()) as T })
async function given(): Promise<LeadView> {
  const email = somebody('back')
  expect(
    (await send('form_visit', { email, first_name: 'Ida', last_name: 'Quay', company: 'Quay', sector: 'school', size: 'large' })).status,
  ).toBe(201)
  const lead = await eventually(
    async () => ((await (await jonah(`/api/team/leads?search=${email}`)).json()) as { leads: LeadView[] }).leads[0],
  )
  await jonah(`/api/team/leads/${lead.id}/owner`, 'PUT', { owner: jonahId })
  return ((await (await jonah(`/api/team/leads/${lead.id}`)).json()) as { lead: LeadView }).lead
}
const back = async (id: string, body: object, who = jonah) =>
  json<LeadView & { version: number }>(await who(`/api/team/leads/${id}/sent-back`, 'PUT', body))
const proof = async () => (await json<SentBackView>(await jonah('/api/team/scorecard/sent-back?days=30'))).body

describe('a lead that is sent back', () => {
  it('is nobody’s, waits for nobody, counts as not qualified, and against the rules that brought it; all of it goes back', async () => {
    const lead = await given()
    const before = await proof()
    const sent = await back(lead.id, { why: 'too_early', words: 'Next spring.' })
    expect(sent.status).toBe(200)
    const {
      body: { owner, waitingSince, label, labelHeld, version },
    } = sent
    const { labels } = (await json<{ labels: { key: string; qualified: boolean }[] }>(await jonah('/api/team/house'))).body
    expect([owner, waitingSince, labels.find(l => l.key === label)?.qualified, labelHeld?.reason]).toEqual([
      null,
      null,
      false,
      'Too early to talk',
    ])
    const now = await proof()
    expect(now.total).toBe(before.total + 1)
    expect(now.byWhy.find(w => w.key === 'too_early')!.leads).toContain(lead.id)
    for (const { rule } of lead.reasons) expect(now.byRule.find(r => r.key === rule)!.leads).toContain(lead.id)
    expect(now.byPoint.find(p => p.key === 'form_visit')!.leads).toContain(lead.id)
    for (const line of [...now.byRule, ...now.byPoint]) expect(line.leads.length).toBeLessThanOrEqual(line.given)
    expect((await jonah(`/api/team/leads/${lead.id}/undo`, 'POST', { of: version })).status).toBe(200)
    const again = ((await (await jonah(`/api/team/leads/${lead.id}`)).json()) as { lead: LeadView }).lead
    expect([again.owner?.id, again.waitingSince, again.label, again.labelHeld]).toEqual([
      jonahId,
      lead.waitingSince,
      lead.label,
      lead.labelHeld,
    ])
    expect((await proof()).total).toBe(before.total)
  })
  it('is so with a reason that there is, by whoever works with leads', async () => {
    const { id } = await given()
    expect([
      (await back(id, {})).status,
      (await back(id, { why: 'nonsense' })).status,
      (await back(id, { why: 'other' }, tamsin)).status,
    ]).toEqual([422, 422, 403])
    expect((await jonah('/api/team/scorecard/sent-back?days=0')).status).toBe(422)
  })
})

describe('the people of a figure', () => {
  const total = async (query: string) => {
    const { status, body } = await json<{ total: number; leads: LeadView[] }>(await jonah(`/api/team/leads?size=1&${query}`))
    return status === 200 ? body.total : status
  }
  it('are as many as the course says', async () => {
    const { body: house } = await json<{ labels: { key: string; qualified: boolean }[]; statuses: { key: string; stage: string }[] }>(
      await jonah('/api/team/house'),
    )
    const open = house.statuses
      .filter(s => ['first', 'open'].includes(s.stage))
      .map(s => `status=${s.key}`)
      .join('&')
    const qualified = house.labels
      .filter(l => l.qualified)
      .map(l => `label=${l.key}`)
      .join('&')
    // Figures follow what happens by a moment.
    await eventually(async () => {
      const { body: f } = await json<{ qualified: number; unowned: number; waiting: number; won: number }>(await jonah('/api/team/funnel'))
      const counted = [
        await total(`submitted=yes&${qualified}&${open}`),
        await total(`submitted=yes&owner=none&${open}`),
        await total('waiting=true'),
        await total('passed=won&days=30'),
      ]
      return JSON.stringify(counted) === JSON.stringify([f.qualified, f.unowned, f.waiting, f.won]) && f.won > 0
    })
  })
  it('are as many as Learn says, by form and by source', async () => {
    await eventually(async () => {
      const { body } = await json<{ points: Row[]; sources: Row[] }>(await jonah('/api/team/reports?days=30'))
      for (const [by, rows] of [
        ['firstPoint', body.points],
        ['firstSource', body.sources],
      ] as const)
        for (const row of rows.slice(0, 4)) {
          const of = `${by}=${encodeURIComponent(row.key)}&came=30`
          const counted = [await total(of), await total(`${of}&ever=qualified`), await total(`${of}&stage=won`)]
          if (JSON.stringify(counted) !== JSON.stringify([row.leads, row.qualified, row.won])) return false
        }
      return body.points.length > 2
    })
  })
  interface Row {
    key: string
    leads: number
    qualified: number
    won: number
  }
  it.each(['passed=nonsense&days=3', 'passed=won&days=0', 'came=x', 'ever=maybe', 'stage=open', 'days=3'])(
    'are not asked for by %s',
    async query => {
      expect(await total(query)).toBe(422)
    },
  )
})
