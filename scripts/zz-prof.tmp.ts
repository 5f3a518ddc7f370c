import { readFileSync } from 'node:fs'
import { connect } from '#db/client'
import { benchPlanRun } from '../bench/plan-run'
const demo = JSON.parse(readFileSync(process.env.CAVLIN_TEST_DEMO!, 'utf8'))
const sql = connect(process.env.CAVLIN_TEST_CLUSTER!, { max: 1 })
await sql`update lead set email = 'x' || email, email_key = 'x' || email_key, submitted_at = submitted_at - interval '1 year' where email_key like 'p%@many.example'`
await benchPlanRun({ databaseUrl: process.env.CAVLIN_TEST_CLUSTER!, place: { url: demo.url } } as never)
process.exit(0)
