import { connect } from '#db/client'
import { newId } from '#server/ids'
import { openBatch } from '#server/ingest/change'
import { retried } from '#server/ingest/micro-batcher'
import { readRuleset } from '#server/ruleset'

// One of the processes of `npm run bench -- assignments`: its writers make leads that a lane gives to its people by turns.
const { database, lane, writers, batches, size, owner } = JSON.parse(process.argv[2]!) as {
  database: string
  lane: { key: string; pool: { member: string; share: number }[] }
  writers: number
  batches: number
  size: number
  owner: 'plan' | 'nobody'
}
const sql = connect(database, { name: 'cavlin bench', max: writers })
const read = await readRuleset(sql)
const members = new Map([...read.members].map(([id, m]) => [id, { ...m, mostOpen: null, absences: [] }]))
const only = {
  key: lane.key,
  name: lane.key,
  when: null,
  way: 'turns' as const,
  pool: lane.pool,
  outside: 'anyway' as const,
  speaks: false,
  promises: {},
  onward: false,
}
const ruleset = { ...read, members, plan: { ...read.plan, lanes: [only] } }
async function write(n: number): Promise<void> {
  for (let batch = 0; batch < batches; batch++) {
    const at = Date.now()
    const causes = Array.from({ length: size }, (_, i) => {
      const address = `w${process.pid}.${n}.${batch}.${i}@${lane.key}.example`
      return {
        kind: 'made' as const,
        at,
        by: null,
        address: { address, key: address },
        values: { first_name: newId().slice(0, 8) },
        owner,
        from: '',
      }
    })
    await retried(() => sql.begin(async tx => (await openBatch(tx, ruleset, { ids: [], at, mails: false })).apply(causes)))
  }
}
const began = performance.now()
await Promise.all(Array.from({ length: writers }, (_, n) => write(n)))
console.log(JSON.stringify({ seconds: (performance.now() - began) / 1000 }))
await sql.end()
