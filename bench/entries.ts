import { spawn } from 'node:child_process'
import { join } from 'node:path'
import { build, createNitro, prepare } from 'nitropack'
import { connect } from '#db/client'
import { untilReady } from '../scripts/children'
import type { House } from '../scripts/house'
import { cpuOf } from './cpu'
import { load, median, type Load } from './load'

const CONNECTIONS = 16
// It takes some ten thousand entries until all of the path is compiled.
const WARM_SECONDS = 12
const SECONDS = 8
const ROUNDS = 3

/** Which entries are sent, and what has to be there before. */
export interface Kind {
  name: string
  aim: string
  prepare?: (house: House) => Promise<void>
  answers: (n: number) => Record<string, string>
  visitor?: (n: number) => string
}
const SECTORS = ['school', 'restaurant', 'private']

/** The demo's rules, and somebody new each time. */
export const PLAIN: Kind = {
  name: 'ENTRIES',
  aim: 'at least 0.50',
  answers: n => ({
    email: `bench-${process.pid}-${n}@bench.example`,
    first_name: 'Bench',
    last_name: 'Mark',
    company: 'Bench & Mark',
    sector: SECTORS[n % 3]!,
    size: 'large',
    timing: 'this_season',
    message: 'A room of glass for thirty children, with benches at three heights.',
  }),
}

/** Entries of a kind, one after the other, each with a key of its own. */
export function entriesOf(kind: Kind): () => { body: string; headers: Record<string, string> } {
  let n = 0
  return () => {
    const who = `${kind.name.toLowerCase()}-${process.pid}-${++n}`
    return {
      body: JSON.stringify({
        answers: kind.answers(n),
        ...(kind.visitor && { visitor: kind.visitor(n) }),
        page: 'https://larkmoss.example/contact',
        referrer: 'https://search.example/',
        utm: { source: 'bench' },
      }),
      headers: { 'idempotency-key': who },
    }
  }
}

/** Entries a second through the whole path, against the floor, turn about in the same run. */
export async function benchEntries(house: House, port: number, kind = PLAIN): Promise<void> {
  const nitro = await createNitro({ rootDir: join(house.place.root, 'bench/floor'), dev: false }, { c12: {} })
  await prepare(nitro)
  await build(nitro)
  await nitro.close()
  const sql = connect(house.databaseUrl, { max: 2 })
  await sql`create table if not exists floor (id bigint generated always as identity primary key, body jsonb not null)`
  const floor = spawn(process.execPath, [join(house.place.root, '.bench/floor/server/index.mjs')], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, NODE_ENV: 'production', NITRO_PORT: String(port), NITRO_HOST: '127.0.0.1', FLOOR_DATABASE: house.databaseUrl },
  })
  const entry = entriesOf(kind)
  const used = () => ({
    application: cpuOf(house.children.app.pid()) + cpuOf(floor.pid),
    database: cpuOf(house.postmaster(), true),
    worker: cpuOf(house.children.worker.pid()),
    load: process.cpuUsage().user / 1000 + process.cpuUsage().system / 1000,
  })
  const measure = async (url: string) => {
    const before = used()
    const measured = await load(url, SECONDS, CONNECTIONS, entry)
    const spent = Object.entries(used())
      .map(([who, ms]) => `${who} ${((ms - before[who as keyof typeof before]) / measured.sent).toFixed(2)}`)
      .join(', ')
    return { ...measured, spent }
  }
  const rounds: { floor: Load & { spent: string }; path: Load & { spent: string } }[] = []
  try {
    await untilReady(`http://127.0.0.1:${port}/`, 20)
    await kind.prepare?.(house)
    const post = { floor: `http://127.0.0.1:${port}/insert`, path: `${house.place.url}/w/points/form_visit/entries` }
    // Once unmeasured: caches fill, code gets compiled.
    for (const url of Object.values(post)) await load(url, WARM_SECONDS, CONNECTIONS, entry)
    for (let round = 0; round < ROUNDS; round++) {
      const measured = { floor: await measure(post.floor), path: await measure(post.path) }
      rounds.push(measured)
      for (const [name, l] of Object.entries(measured))
        console.log(
          `  round ${round + 1}, ${name.padEnd(5)}  ${l.perSecond.toFixed(0).padStart(5)}/s   p50 ${l.p50} ms   p99 ${l.p99} ms   ms of processor each: ${l.spent}${l.failed ? `   ${l.failed} FAILED (${l.why})` : ''}`,
        )
      // What the worker has still to mail must not weigh on the next round.
      await new Promise(r => setTimeout(r, 3000))
    }
    const [stored] = await sql<
      { n: number }[]
    >`select count(*) as n from entry where idempotency_key like ${`${kind.name.toLowerCase()}-${process.pid}-%`}`
    console.log(
      `  ${stored!.n} entries are on disk, ${rounds.reduce((sum, r) => sum + r.path.sent, 0)} were answered in the measured rounds`,
    )
  } finally {
    floor.kill('SIGTERM')
    await sql.end()
  }
  const rate = median(rounds.map(r => r.path.perSecond)) / median(rounds.map(r => r.floor.perSecond))
  const p99 = median(rounds.map(r => r.path.p99)) / median(rounds.map(r => r.floor.p99))
  console.log(
    `${kind.name.padEnd(9)} rate ${rate.toFixed(2)} of the floor's (aim: ${kind.aim})   p99 ${p99.toFixed(2)} times the floor's (aim: at most 3.00)`,
  )
}
