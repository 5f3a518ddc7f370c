import { connect, type Sql } from '#db/client'
import { leadsToRoute, piecesToRoute } from '#db/plan-run'
import type { PlanRunView } from '#core/team'
import type { House } from '../scripts/house'
import { manager, type As } from './dry-run'
import { allCounted, million } from './leads'

const LEADS = 50_000
const RUNS = 3

/** The dry run of a plan over fifty thousand leads of some weeks, beside merely reading what it reads. */
export async function benchPlanRun(house: House): Promise<void> {
  const sql = connect(house.databaseUrl, { max: 2 })
  try {
    await million(sql, LEADS)
    await allCounted(sql)
    const as = await manager(house)
    const [floors, runs]: [number[], number[]] = [[], []]
    let leads = 0
    for (let n = 0; n < RUNS; n++) {
      floors.push(await read(sql))
      const ran = await run(as)
      runs.push(ran.seconds)
      leads = ran.leads
    }
    const [floor, best] = [Math.min(...floors), Math.min(...runs)]
    console.log(
      `PLAN RUN  ${leads.toLocaleString('en')} leads of 90 days through two plans: ${best.toFixed(1)} s (aim: 5), ${(best / floor).toFixed(2)} times merely reading the same columns (${floor.toFixed(1)} s)`,
    )
  } finally {
    await sql.end()
  }
}

/** Reads what a run reads, page after page, and does nothing with it. @returns seconds */
async function read(sql: Sql): Promise<number> {
  const began = performance.now()
  const [since, until] = [new Date(Date.now() - 90 * 86_400_000), new Date()]
  const { ends } = await piecesToRoute(sql, { since, until }, 2000)
  for (const [n, last] of ends.entries()) await leadsToRoute(sql, { since, until }, ends[n - 1] ?? null, last, true)
  return (performance.now() - began) / 1000
}

async function run(as: As): Promise<{ seconds: number; leads: number }> {
  const { revision } = await as<PlanRunView>('/api/team/plan/dry-run')
  const began = performance.now()
  await as('/api/team/plan/dry-run', 'POST', { revision, days: 90, speed: 1 })
  for (;;) {
    await new Promise(done => setTimeout(done, 100))
    const { run: now } = await as<PlanRunView>('/api/team/plan/dry-run')
    if (now?.state === 'failed' || now?.state === 'stopped') throw new Error(now.problem ?? now.state)
    if (now?.state === 'done') return { seconds: (performance.now() - began) / 1000, leads: now.result!.draft.leads }
  }
}
