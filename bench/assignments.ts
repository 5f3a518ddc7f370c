import { spawn } from 'node:child_process'
import { connect } from '#db/client'
import type { House } from '../scripts/house'
import { root } from '../scripts/prepare.mjs'

const PROCESSES = 2
const WRITERS = 8
const SIZE = 10
const LEADS = 100_000
const FLOOR = 20_000
const SHARES = [5, 2, 1]

/** A hundred thousand leads given by turns under sixteen simultaneous writers in two processes: each share exact within one, and how much the turns cost. */
export async function benchAssignments(house: House): Promise<void> {
  const sql = connect(house.databaseUrl, { max: 2 })
  try {
    const people = await sql<{ id: string }[]>`select id from member where active and role = 'sales' order by email limit ${SHARES.length}`
    const pool = people.map((p, i) => ({ member: p.id, share: SHARES[i]! }))
    const free = await run(house, 'bench-free', pool, FLOOR, 'nobody')
    // As making a plan live does: whoever has a seat has a turn that can be locked, before anybody is given.
    await sql`insert into turn (lane, member_id) select 'bench-turns', unnest(${pool.map(p => p.member)}::uuid[])`
    const given = await run(house, 'bench-turns', pool, LEADS, 'plan')
    const rows = await sql<
      { owner: string | null; n: number }[]
    >`select owner_id as owner, count(*)::int as n from lead where email_key like ${'%@bench-turns.example'} group by 1`
    const all = rows.reduce((sum, r) => sum + r.n, 0)
    const shares = SHARES.reduce((sum, s) => sum + s, 0)
    const off = pool.map(({ member, share }) => Math.abs((rows.find(r => r.owner === member)?.n ?? 0) - (all * share) / shares))
    const nobody = rows.find(r => r.owner === null)?.n ?? 0
    console.log(
      `ASSIGN    ${all.toLocaleString('en')} leads by ${PROCESSES * WRITERS} writers in ${PROCESSES} processes, shares of ${SHARES.join(':')}: at most ${Math.max(...off).toFixed(2)} from their share (aim: 1), ${nobody} without an owner (aim: 0); ` +
        `${(LEADS / given).toFixed(0)} a second, ${(LEADS / given / (FLOOR / free)).toFixed(2)} of the same leads given to nobody`,
    )
  } finally {
    await sql.end()
  }
}

/** @returns seconds that the slowest process took */
async function run(
  house: House,
  key: string,
  pool: { member: string; share: number }[],
  leads: number,
  owner: 'plan' | 'nobody',
): Promise<number> {
  const order = JSON.stringify({
    database: house.databaseUrl,
    lane: { key, pool },
    writers: WRITERS,
    batches: leads / PROCESSES / WRITERS / SIZE,
    size: SIZE,
    owner,
  })
  const env = {
    ...process.env,
    TSX_TSCONFIG_PATH: 'tsconfig.node.json',
    CAVLIN_DATABASE: house.databaseUrl,
    CAVLIN_URL: house.place.url,
    CAVLIN_SMTP: 'smtp://127.0.0.1:1',
  }
  const keys = Object.fromEntries(
    ['LINKS', 'LEAVE', 'PROOFS', 'WORDS'].map(k => [`CAVLIN_KEYS_${k}`, 'only-for-a-bench-that-writes-nothing-signed']),
  )
  const one = () =>
    new Promise<number>((done, failed) => {
      let said = ''
      const child = spawn(process.execPath, ['--import', 'tsx', 'bench/assign-writer.ts', order], {
        cwd: root,
        env: { ...env, ...keys },
        stdio: ['ignore', 'pipe', 'inherit'],
      })
      child.stdout.on('data', (part: Buffer) => {
        said += part.toString()
      })
      child.on('error', failed)
      child.on('close', code =>
        code === 0 ? done((JSON.parse(said) as { seconds: number }).seconds) : failed(new Error(`A writer ended with ${code}`)),
      )
    })
  return Math.max(...(await Promise.all(Array.from({ length: PROCESSES }, one))))
}
