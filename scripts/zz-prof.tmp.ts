import { connect } from '#db/client'
import { beginPlanRun, planRun } from '#db/plan-run'
import { workPlanRun } from '#server/routing/plan-run'
import { million } from '../bench/leads'
import { randomUUID } from 'node:crypto'
import { Session } from 'node:inspector/promises'
import { writeFileSync } from 'node:fs'
const url = process.env.CAVLIN_TEST_CLUSTER!
const sql = connect(url, { max: 4 })
const [{ n }] = await sql<[{ n: number }]>`select count(*)::int as n from lead`
if (n < 50000) { const t = performance.now(); await million(sql, 50000); console.log('filled', (performance.now() - t) | 0) }
const [m] = await sql<{ id: string }[]>`select id from member where role = 'manager' or role = 'admin' limit 1`
const [e] = await sql<{ number: number; definition: object }[]>`select number, definition from routing_edition order by number desc limit 1`
for (let i = 0; i < 3; i++) {
  await sql`update plan_run set state = 'done'`
  await beginPlanRun(sql, { id: randomUUID(), at: new Date(), revision: 1, definition: e!.definition, edition: e!.number, days: 90, speed: 1 }, m!.id)

  const t = performance.now()
  const was = await workPlanRun(sql, () => {})
  console.log('run', was, ((performance.now() - t) | 0), (await planRun(sql))?.state)

}
await sql.end()
process.exit(0)
