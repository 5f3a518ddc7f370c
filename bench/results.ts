import { readFileSync } from 'node:fs'
import { connect, type Sql } from '#db/client'
import type { House } from '../scripts/house'
import { million, signedIn } from './leads'
import { quantile } from './load'

const ENTRIES = 100_000
const ROUNDS = 20

/** Results of a form with a hundred thousand entries: the first view, against a request that reads one row; and all of it as XLSX. */
export async function benchResults(house: House): Promise<void> {
  const sql = connect(house.databaseUrl, { max: 2 })
  try {
    await million(sql, ENTRIES)
    const point = await entries(sql)
    await counted(sql)
    const cookie = await signedIn(house)
    const ask = async (path: string, body?: object) => {
      const began = performance.now()
      const answer = await fetch(house.place.url + path, {
        headers: { cookie, ...(body && { 'content-type': 'application/json' }) },
        ...(body && { method: 'POST', body: JSON.stringify(body) }),
      })
      const bytes = (await answer.arrayBuffer()).byteLength
      if (!answer.ok) throw new Error(`${path}: ${answer.status}`)
      return { ms: performance.now() - began, bytes }
    }
    const group = (days: number) => ({ from: dayBefore(days), to: dayBefore(0) })
    const floors: number[] = []
    const report = async (name: string, aim: string, path: string, body: object) => {
      const times: number[] = []
      for (let round = 0; round <= ROUNDS; round++) {
        floors.push((await ask('/api/session')).ms)
        const { ms } = await ask(path, body)
        if (round) times.push(ms)
      }
      console.log(
        `${name.padEnd(36)} 95% within ${quantile(times, 0.95).toFixed(0)} ms, median ${quantile(times, 0.5).toFixed(0)} ms (${aim})`,
      )
    }
    const results = `/api/team/points/${point}/results`
    await report('RESULTS  of 30 days', 'aim: 300 ms', results, { groups: [group(29)] })
    await report('RESULTS  of a year', 'aim: 300 ms', results, { groups: [group(364)] })
    await report('RESPONDENTS  the first 50', 'no aim', `/api/team/points/${point}/respondents`, group(364))
    const some = { condition: { all: [{ attribute: 'label', is: 'equal', value: 'sales_ready' }] } }
    await report('RESULTS  of some people, one by one', 'no aim', results, { groups: [{ ...group(364), ...some }] })
    console.log(
      `FLOOR    a request that reads one row: 95% within ${quantile(floors, 0.95).toFixed(0)} ms, median ${quantile(floors, 0.5).toFixed(0)} ms`,
    )
    for (const as of ['csv', 'xlsx']) {
      const app = house.children.app.pid()!
      let most = 0
      const start = memory(app)
      const watch = setInterval(() => {
        most = Math.max(most, memory(app))
      }, 50)
      const { from, to } = group(364)
      const { ms, bytes } = await ask(`/api/team/points/${point}/take-away?as=${as}&from=${from}&to=${to}`)
      clearInterval(watch)
      const aim = as === 'xlsx' ? ' (aims: 60 s, 300 MB)' : ''
      console.log(
        `${as.toUpperCase().padEnd(8)} of ${ENTRIES} entries: ${(ms / 1000).toFixed(1)} s, ${(bytes / 1e6).toFixed(1)} MB; the application's memory ${start.toFixed(0)} MB before, at most ${most.toFixed(0)} MB${aim}`,
      )
    }
  } finally {
    await sql.end()
  }
}

const dayBefore = (days: number) => new Date(Date.now() - days * 86_400_000).toISOString().slice(0, 10)
/** Resident memory of a process in megabytes. */
const memory = (pid: number): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))![1]) / 1024

/** An entry of each of the made-up people, over a year, as their events say. @returns the form */
async function entries(sql: Sql): Promise<string> {
  console.log('  filling in their entries …')
  const [point] = await sql<{ id: string }[]>`select id from point where key = 'form_visit'`
  await sql`insert into entry (id, point_id, edition_id, lead_id, at, state, answers, page, fingerprint, visitor_id, via, took_ms)
    select l.id, p.id, p.live_edition, l.id, l.created_at, 'complete',
      jsonb_build_object('email', l.email, 'first_name', l.first_name, 'last_name', l.last_name, 'sector', (array['school', 'restaurant', 'garden', 'private'])[1 + h % 4],
        'size', (array['small', 'medium', 'large'])[1 + h / 5 % 3], 'timing', (array['season', 'year', 'looking'])[1 + h / 17 % 3], 'message', 'We would like to grow leeks, and a little kale, all through the winter.'),
      'https://larkmoss.example/' || (array['contact', 'prices', 'growing-houses', ''])[1 + h / 31 % 4], sha256(l.id::text::bytea), case when h % 3 > 0 then l.id end, 'script', 3000 + h % 90000
    from lead l, point p, lateral (select hashtext(l.id::text) & 2147483647 as h) x where l.email_key like 'p%@many.example' and p.key = 'form_visit'`
  await sql`update lead_event set changes = jsonb_set(changes, '{entry,key}', '"form_visit"') where lead_id in (select id from lead where email_key like 'p%@many.example')`
  await sql`update consumer set made_for = 'anew' where name = 'results'`
  await sql`analyze entry`
  return point!.id
}

/** Waits until the worker has counted all results. */
async function counted(sql: Sql): Promise<void> {
  const began = performance.now()
  for (;;) {
    const [row] = await sql<
      { left: boolean }[]
    >`select exists (select from lead_event e, consumer c where c.name = 'results' and (c.made_for = 'anew' or (e.xid, e.seq) > (c.xid, c.seq))) as left`
    if (!row!.left) break
    await new Promise(done => setTimeout(done, 500))
  }
  console.log(`  all of them were counted within ${((performance.now() - began) / 1000).toFixed(0)} s`)
}
