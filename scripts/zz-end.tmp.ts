import { connect } from '#db/client'
import postgres from 'postgres'
const sql = connect(process.env.CAVLIN_TEST_CLUSTER!, { max: 4 })
const raw = postgres(process.env.CAVLIN_TEST_CLUSTER!, { max: 2 })
const gave = (await sql<any[]>`select lead_id as lead, member_id as member, lane, extract(epoch from came)*1000 as came, extract(epoch from at)*1000 as at, is_over as over, kept from plan_run_lead where which = 0`).map(g => ({ ...g, came: Number(g.came), at: Number(g.at) }))
await sql`create unlogged table if not exists zz (like plan_run_lead including all)`
await sql`create unlogged table if not exists zz2 (which smallint, lead_id uuid, member_id uuid, lane text, came float8, at float8, over boolean, kept real, primary key (which, lead_id))`
for (let i = 0; i < 3; i++) {
  for (const how of ['copy', 'copy2', 'big']) {
    await sql`truncate zz, zz2`
    const t = performance.now()
    if (how === 'copy') {
      const w = await raw`copy zz from stdin`.writable()
      const text = gave.map(g => `0\t${g.lead}\t${g.member ?? '\\N'}\t${g.lane ?? '\\N'}\t${new Date(g.came).toISOString()}\t${new Date(g.at).toISOString()}\t${g.over}\t${g.kept ?? '\\N'}\n`).join('')
      await new Promise<void>((ok, no) => { w.on('finish', ok); w.on('error', no); w.end(text) })
    }
    if (how === 'copy2') {
      const w = await raw`copy zz2 from stdin`.writable()
      const text = gave.map(g => `0\t${g.lead}\t${g.member ?? '\\N'}\t${g.lane ?? '\\N'}\t${g.came}\t${g.at}\t${g.over}\t${g.kept?.toFixed(4) ?? '\\N'}\n`).join('')
      console.log('made', (performance.now() - t) | 0)
      await new Promise<void>((ok, no) => { w.on('finish', ok); w.on('error', no); w.end(text) })
    }
    if (how === 'big') await sql.begin(tx => tx`insert into zz select 0, r.lead, r.member, r.lane, to_timestamp(r.came / 1000.0), to_timestamp(r.at / 1000.0), r.over = 1, r.kept
      from unnest(${gave.map(g => g.lead)}::uuid[], ${gave.map(g => g.member)}::uuid[], ${gave.map(g => g.lane)}::text[], ${gave.map(g => Math.round(g.came))}::int8[],
        ${gave.map(g => Math.round(g.at))}::int8[], ${gave.map(g => Number(g.over))}::int2[], ${gave.map(g => Math.round(g.kept*1e4)/1e4)}::float4[]) as r(lead, member, lane, came, at, over, kept)`)
    console.log(how, (performance.now() - t) | 0)
  }
}
await sql`drop table zz, zz2`
process.exit(0)
