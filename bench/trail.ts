import { randomUUID } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { connect, type Sql } from '#db/client'
import { demoFile, type House } from '../scripts/house'
import { load, median, quantile } from './load'

const CONNECTIONS = 16
const SECONDS = 6
const ROUNDS = 3
/** Events a request, and rows a statement of the floor. */
const BATCH = 100
const FEW = 100_000
const MANY = 5_000_000
interface Demo {
  url: string
  members: { email: string; password: string }[]
}
async function signedIn(demo: Demo): Promise<string> {
  const { email, password } = demo.members[0]!
  const signed = await fetch(`${demo.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  return signed.headers.getSetCookie()[0]!.split(';')[0]!
}
const PAGES = ['/', '/growing-houses', '/prices', '/journal/winter-light', '/contact']

/** Events taken in, against a bare insert of the same rows; how that and a lead's timeline fare with five million of them. */
export async function benchTrail(house: House): Promise<void> {
  const demo = JSON.parse(readFileSync(demoFile(house.place.data), 'utf8')) as Demo
  const sql = connect(house.databaseUrl, { max: CONNECTIONS + 1 })
  try {
    await sql`create table if not exists floor_event (at timestamptz not null, visitor_id uuid not null, visit_id uuid not null, kind text not null, path text not null, title text, data jsonb)`
    await grow(sql, FEW)
    const small = await compare(sql, demo.url)
    await grow(sql, MANY)
    const large = await compare(sql, demo.url)
    const [held] = await sql<{ n: number }[]>`select count(*) as n from trail_event`
    console.log(`  ${held!.n.toLocaleString('en')} events are kept`)
    console.log(
      `EVENTS    rate ${small.rate.toFixed(2)} of the floor's with ${FEW.toLocaleString('en')} events, ${large.rate.toFixed(2)} with ${MANY.toLocaleString('en')} (aim: at least 0.50)`,
    )
    console.log(
      `GROWTH    an event costs ${(100 * (small.perSecond / large.perSecond - 1)).toFixed(0)}% more; against the floor ${(100 * (small.rate / large.rate - 1)).toFixed(0)}% (aim: less than 20%)`,
    )
    await benchTimeline(sql, demo)
    await benchSegments(sql, demo)
  } finally {
    await sql.end()
  }
}

/** Makes up visits until there are so many events, some of them by people who are known. */
async function grow(sql: Sql, to: number): Promise<void> {
  const [{ n } = { n: 0 }] = await sql<{ n: number }[]>`select count(*) as n from trail_event`
  const visits = Math.ceil((to - n) / 20)
  if (visits <= 0) return
  console.log(`  making ${(visits * 20).toLocaleString('en')} events …`)
  const PIECE = 25_000
  for (let done = 0; done < visits; done += PIECE) {
    await sql`with v as (
        select gen_random_uuid() as id, case when i % 5 = 0 then (select visitor_id from visitor_lead where lead_id is not null offset i % 200 limit 1) else gen_random_uuid() end as visitor_id, now() - random() * interval '80 days' - interval '1 hour' as began
        from generate_series(1, ${Math.min(PIECE, visits - done)}) i),
      kept as (insert into visit (id, visitor_id, site, began_at, last_at, pages, path, source, device) select id, visitor_id, 'https://bench.example', began, began + interval '19 minutes', 20, '/', 'direct', 'computer' from v)
      insert into trail_event (at, visitor_id, visit_id, kind, path, data)
      select began + n * interval '1 minute', visitor_id, id, case n % 2 when 0 then 'page' else 'read' end, (${PAGES}::text[])[1 + (n / 2) % 5], case n % 2 when 0 then null else '{"seconds": 40, "depth": 60}'::jsonb end from v, generate_series(0, 19) n`
  }
  await sql`analyze trail_event, visit`
}

/** Both in turn, several times. */
async function compare(sql: Sql, url: string): Promise<{ rate: number; perSecond: number }> {
  const request = () => {
    const at = Date.now()
    const events = Array.from({ length: BATCH }, (_, i) => ({
      kind: i % 2 ? 'read' : 'page',
      at: at - (BATCH - i) * 100,
      path: PAGES[(i >> 1) % 5],
      ...(i % 2 ? { seconds: 40, depth: 60 } : { title: 'A page of the bench' }),
    }))
    return {
      headers: { 'content-type': 'text/plain', 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64) Chrome/150.0.0.0 Safari/537.36' },
      body: JSON.stringify({
        visitor: randomUUID(),
        site: 'https://bench.example',
        sent: at,
        language: 'en',
        batches: [{ id: randomUUID(), visit: randomUUID(), events }],
      }),
    }
  }
  await load(`${url}/w/trail`, 2, CONNECTIONS, request)
  await floorFor(sql, 2)
  const floors: number[] = []
  const paths: number[] = []
  for (let round = 1; round <= ROUNDS; round++) {
    floors.push(await floorFor(sql, SECONDS))
    const path = await load(`${url}/w/trail`, SECONDS, CONNECTIONS, request)
    paths.push(path.perSecond * BATCH)
    console.log(
      `  round ${round}   floor ${floors.at(-1)!.toFixed(0).padStart(7)} rows/s   path ${paths.at(-1)!.toFixed(0).padStart(7)} rows/s   p99 ${path.p99} ms${path.failed ? `   ${path.failed} FAILED` : ''}`,
    )
  }
  return { rate: median(paths) / median(floors), perSecond: median(paths) }
}

/** Rows a second of a bare batched insert of the same rows, into a table without index, over as many connections. */
async function floorFor(sql: Sql, seconds: number): Promise<number> {
  const end = Date.now() + seconds * 1000
  let rows = 0
  await Promise.all(
    Array.from({ length: CONNECTIONS }, async () => {
      while (Date.now() < end) {
        const [visitor, visit] = [randomUUID(), randomUUID()]
        const batch = Array.from({ length: BATCH }, (_, i) => ({
          at: new Date(),
          visitor_id: visitor,
          visit_id: visit,
          kind: i % 2 ? 'read' : 'page',
          path: PAGES[(i >> 1) % 5]!,
          title: i % 2 ? null : 'A page of the bench',
          data: (i % 2 ? { seconds: 40, depth: 60 } : null) as never,
        }))
        await sql`insert into floor_event ${sql(batch)}`
        rows += BATCH
      }
    }),
  )
  return rows / seconds
}

/** Segments over trail and properties, counted as a marketer builds them; beside them a bare count of the same events. */
async function benchSegments(sql: Sql, demo: Demo): Promise<void> {
  const headers = { cookie: await signedIn(demo), 'content-type': 'application/json' }
  const sector = { attribute: 'property.sector', is: 'one_of', value: ['school', 'council', 'restaurant'] }
  for (const days of [7, 30, null]) {
    const condition = {
      all: [
        { did: 'page', where: { all: [{ attribute: 'page.path', is: 'equal', value: '/prices' }] }, times: 2, days },
        sector,
        { none: [{ did: 'event', where: null, times: 1, days }] },
      ],
    }
    const times: number[] = []
    const floors: number[] = []
    let leads = 0
    for (let n = 0; n < 7; n++) {
      const from = performance.now()
      await sql`select count(*) from trail_event where kind = 'page' and path = '/prices' ${days ? sql`and at >= now() - ${days} * interval '1 day'` : sql``}`
      floors.push(performance.now() - from)
      const began = performance.now()
      const answer = await fetch(`${demo.url}/api/team/segments/count`, { method: 'POST', headers, body: JSON.stringify({ condition }) })
      leads = ((await answer.json()) as { leads: number }).leads
      if (!answer.ok) throw new Error(`${answer.status}`)
      times.push(performance.now() - began)
    }
    console.log(
      `SEGMENT   ${days ? `of ${days} days` : 'of all time'}: ${leads} people counted in ${median(times).toFixed(0)} ms, ${(median(times) / median(floors)).toFixed(1)} times a bare count of the pages (aim: 1000 ms)`,
    )
  }
}

/** The first page of the timelines of people with many visits. */
async function benchTimeline(sql: Sql, demo: Demo): Promise<void> {
  const cookie = await signedIn(demo)
  const leads = await sql<{ leadId: string }[]>`select distinct lead_id from visitor_lead limit 100`
  const times: number[] = []
  for (let n = 0; n < 300; n++) {
    const began = performance.now()
    const answer = await fetch(`${demo.url}/api/team/leads/${leads[n % leads.length]!.leadId}`, { headers: { cookie } })
    await answer.arrayBuffer()
    if (!answer.ok) throw new Error(`${answer.status}`)
    if (n >= 20) times.push(performance.now() - began)
  }
  const [visits] = await sql<
    { n: number }[]
  >`select count(*) / ${leads.length} as n from visitor_lead l join visit v on v.visitor_id = l.visitor_id where l.lead_id = any(${leads.map(l => l.leadId)}::uuid[])`
  console.log(
    `TIMELINE  first page within ${quantile(times, 0.95).toFixed(0)} ms at the 95th percentile, median ${quantile(times, 0.5).toFixed(0)} ms; ${visits!.n} visits a lead (aim: 50 ms)`,
  )
}
