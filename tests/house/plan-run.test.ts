import { randomUUID } from 'node:crypto'
import { beforeAll, describe, expect, it } from 'vitest'
import type { PlanRunPeople, PlanRunView, PlanView } from '#core/team'
import { beginPlanRun, planRun } from '#db/plan-run'
import { livePlan } from '#db/routing'
import { workPlanRun } from '#server/routing/plan-run'
import { freshDatabase } from '../support/database'
import { eventually, readDatabase, signedIn } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [ansel, jonah] = [] as unknown as [Ask, Ask]
beforeAll(async () => {
  ;[ansel, jonah] = (await Promise.all(['ansel', 'jonah'].map(signedIn))) as [Ask, Ask]
})
const view = async () => (await (await ansel('/api/team/plan/dry-run')).json()) as PlanRunView
const people = async (query: string) => (await (await ansel(`/api/team/plan/dry-run/people?${query}`)).json()) as PlanRunPeople
const begin = async (body: object, who = ansel) => who('/api/team/plan/dry-run', 'POST', body)
const ended = () =>
  eventually(async () => {
    const { run } = await view()
    return run && ['done', 'failed', 'stopped'].includes(run.state) && run
  })

describe('the dry run of the plan', () => {
  it('sends all who came through both plans: every figure is its people, and the same plan gives the same', async () => {
    const { revision } = await view()
    expect((await begin({ revision, days: 30, speed: 1 })).status).toBe(202)
    const run = await ended()
    expect([run.state, run.problem]).toEqual(['done', null])
    const { live, draft } = run.result!
    const [{ n }] = await readDatabase(
      sql =>
        sql<
          [{ n: number }]
        >`select count(*)::int as n from lead where submitted_at >= ${new Date(Date.parse(run.at) - 30 * 86_400_000)} and submitted_at < ${run.at}`,
    )
    expect([draft.leads, draft.people.reduce((s, p) => s + p.leads, 0) + draft.nobody]).toEqual([n, n])
    // The working copy is what is live, so both come to the same.
    expect(draft).toEqual(live)
    for (const which of ['draft', 'live'] as const) {
      expect((await people(`which=${which}`)).total).toBe(n)
      for (const p of run.result![which]!.people) {
        expect((await people(`which=${which}&member=${p.member}`)).total).toBe(p.leads)
        expect((await people(`which=${which}&member=${p.member}&what=over`)).total).toBe(p.over)
      }
      for (const l of run.result![which]!.lanes) expect((await people(`which=${which}&lane=${l.lane}`)).total).toBe(l.leads)
      expect((await people(`which=${which}&what=late`)).total).toBe(run.result![which]!.waited.leads)
    }
  })
  it('shows what another share would have meant, and says when the plan was changed since', async () => {
    const plan = (await (await ansel('/api/team/plan')).json()) as PlanView
    const [first, ...rest] = plan.workingCopy.lanes
    const one = { ...first!, pool: first!.pool.slice(0, 1) }
    const put = await ansel('/api/team/plan', 'PUT', {
      revision: plan.revision,
      definition: { ...plan.workingCopy, lanes: [one, ...rest] },
    })
    expect(put.status).toBe(200)
    const { revision, run: old } = await view()
    expect(old!.isCurrent).toBe(false)
    expect((await begin({ revision: revision + 1, days: 30, speed: 1 })).status).toBe(409)
    await begin({ revision, days: 30, speed: 2 })
    const run = await ended()
    const { live, draft } = run.result!
    const of = (r: typeof draft, member: string) => r.people.find(p => p.member === member)!.leads
    const [kept, out] = [first!.pool[0]!.member, first!.pool[1]!.member]
    expect(of(draft, kept)).toBeGreaterThan(of(live!, kept))
    expect(of(draft, out)).toBeLessThan(of(live!, out))
    expect(draft.lanes.map(l => l.leads)).toEqual(live!.lanes.map(l => l.leads))
    const again = (await (await ansel('/api/team/plan')).json()) as PlanView
    await ansel('/api/team/plan', 'PUT', { revision: again.revision, definition: plan.workingCopy })
  })
  it.each([{ revision: 0, days: 7, speed: 1 }, { revision: 0, days: 30, speed: 0 }, { revision: 0, days: 30 }, {}])(
    '%j is refused in words',
    async body => {
      expect((await begin(body)).status).toBe(422)
    },
  )
  it.each(['', 'which=both', 'which=draft&member=me', 'which=draft&what=none', 'which=draft&from=-1'])(
    '“%s” names no figure',
    async query => {
      expect((await ansel(`/api/team/plan/dry-run/people?${query}`)).status).toBe(422)
    },
  )
  it('is for who manages; who works with leads may look', async () => {
    expect([
      (await begin({ revision: 0, days: 30, speed: 1 }, jonah)).status,
      (await jonah('/api/team/plan/dry-run')).status,
      (await jonah('/api/team/plan/dry-run', 'DELETE')).status,
    ]).toEqual([403, 200, 403])
    expect((await ansel('/api/team/plan/dry-run', 'DELETE')).status).toBe(409)
  })
})

describe('a dry run of a house', () => {
  it('to which nobody came ends, and says so; then it is of those who came in its time, and no others', async () => {
    const { sql, drop } = await freshDatabase()
    const [{ id: by }] = await sql<[{ id: string }]>`select id from member where role = 'admin' limit 1`
    const { number, definition } = (await livePlan(sql))!
    const at = new Date()
    const run = async () => {
      await beginPlanRun(sql, { id: randomUUID(), at, revision: 1, definition, edition: number, days: 30, speed: 1 }, by)
      expect(await workPlanRun(sql, () => {})).toBe(true)
      const { state, done, total, result } = (await planRun(sql))!
      return [state, done, total, result?.draft.leads]
    }
    expect(await run()).toEqual(['done', 0, 0, 0])
    const days = [29.9, 30.1, 1, 0.5, -0.1]
    for (const d of days) {
      const came = new Date(at.getTime() - d * 86_400_000)
      await sql`insert into lead (id, email, email_key, status, status_at, submitted_at, created_at, updated_at)
        values (${randomUUID()}, ${`d${d}@run.example`}, ${`d${d}@run.example`}, 'untouched', ${came}, ${came}, ${came}, ${came})`
    }
    expect(await run()).toEqual(['done', 3, 3, 3])
    await drop()
  })
})
