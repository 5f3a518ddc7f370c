import { readFileSync } from 'node:fs'
import type { Scorecard } from '#core/scoring/scorecard'
import { connect, type Sql } from '#db/client'
import { leadsToWeigh } from '#db/dry-run'
import { MEMBERS } from '../demo/firm'
import type { House } from '../scripts/house'
import { allCounted, million } from './leads'
import { quantile } from './load'

const LEADS = 1_000_000
const RULES = 30
/** Entries a second that come meanwhile. */
const RATE = 50
const QUIET_S = 30

/** A dry run over a million leads, beside merely reading the same columns; and what it means for entries that come meanwhile. */
export async function benchDryRun(house: House): Promise<void> {
  const sql = connect(house.databaseUrl, { max: 2 })
  try {
    await million(sql, LEADS)
    await allCounted(sql)
    const as = await manager(house)
    const rate = entriesAt(house)
    const quiet = await rate(async () => new Promise(done => setTimeout(done, QUIET_S * 1000)))
    console.log(`  entries by themselves, ${RATE} a second: p99 ${quiet.p99.toFixed(0)} ms`)

    const { revision, workingCopy } = await as<{ revision: number; workingCopy: Scorecard }>('/api/team/scorecard')
    const draft = thirtyRules(workingCopy)
    await as('/api/team/scorecard', 'PUT', { revision, definition: draft })
    const floors: number[] = []
    const runs: number[] = []
    let most = 0
    for (let n = 0; n < 2; n++) {
      floors.push(await streamed(sql))
      const { seconds, bytes } = await ran(house, as)
      runs.push(seconds)
      most = Math.max(most, bytes)
      console.log(
        `  run ${n + 1}: read only ${floors[n]!.toFixed(1)} s, weighed ${seconds.toFixed(1)} s, the worker held ${(bytes / 1e6).toFixed(0)} MB at most`,
      )
    }
    const busy = await rate(async () => void (await ran(house, as)))
    console.log(
      `DRY RUN  ${LEADS.toLocaleString('en')} leads, ${RULES} rules: ${(Math.min(...floors) / Math.min(...runs)).toFixed(2)} of the speed of reading the same columns (aim: 0.33); ${(most / 1e6).toFixed(0)} MB (aim: 512)`,
    )
    console.log(
      `         meanwhile ${RATE} entries a second: p99 ${busy.p99.toFixed(0)} ms, ${(busy.p99 / quiet.p99).toFixed(2)} times their own (aim: 2)${busy.failed ? `, ${busy.failed} failed` : ''}`,
    )
  } finally {
    await sql.end()
  }
}

/** Reads what a dry run reads, page after page, and does nothing with it. @returns seconds */
async function streamed(sql: Sql): Promise<number> {
  const began = performance.now()
  let after: string | null = null
  for (;;) {
    const page: { id: string }[] = await leadsToWeigh(sql, {}, null, new Date(), after, 1000)
    if (!page.length) return (performance.now() - began) / 1000
    after = page.at(-1)!.id
  }
}

export type As = <T = unknown>(path: string, method?: string, body?: unknown) => Promise<T>
async function ran(house: House, as: As): Promise<{ seconds: number; bytes: number }> {
  const { revision } = await as<{ revision: number }>('/api/team/scorecard')
  const began = performance.now()
  await as('/api/team/scorecard/dry-run', 'POST', { revision })
  const pid = house.children.worker.pid()
  let bytes = 0
  for (;;) {
    await new Promise(done => setTimeout(done, 200))
    if (pid) bytes = Math.max(bytes, 1024 * Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0))
    const { run } = await as<{ run: { state: string; problem: string | null } }>('/api/team/scorecard/dry-run')
    if (run.state === 'failed' || run.state === 'stopped') throw new Error(run.problem ?? run.state)
    if (run.state === 'done') return { seconds: (performance.now() - began) / 1000, bytes }
  }
}

/** Other points, and rules until there are thirty, each of which asks for several things. */
export function thirtyRules(card: Scorecard): Scorecard {
  const sectors = ['school', 'council', 'restaurant', 'market_garden', 'home', 'other']
  const more = Array.from({ length: RULES - card.fit.length - card.interest.length }, (_, n) => ({
    key: `more_${n}`,
    name: `More ${n}`,
    points: (n % 7) - 3,
    off: false,
    note: '',
    when: {
      any: [
        {
          all: [
            { attribute: 'property.sector', is: 'one_of' as const, value: [sectors[n % 6]!, sectors[(n + 1) % 6]!] },
            { attribute: 'property.size', is: 'filled' as const },
          ],
        },
        { attribute: 'tag', is: 'equal' as const, value: `t${n}` },
      ],
    },
  }))
  return { ...card, fit: [...card.fit.map(r => ({ ...r, points: r.points + 1 })), ...more] }
}

/** Sends entries at a steady rate as long as something goes on. */
function entriesAt(house: House) {
  let n = 0
  return async (during: () => Promise<void>): Promise<{ p99: number; failed: number }> => {
    const times: number[] = []
    const sent: Promise<void>[] = []
    let failed = 0
    const one = async (): Promise<void> => {
      const began = performance.now()
      const answer = await fetch(`${house.place.url}/w/points/form_journal/entries`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', 'idempotency-key': `bench-${process.pid}-${++n}` },
        body: JSON.stringify({ answers: { email: `d${process.pid}.${n}@many.example` }, took: 9000 }),
      }).catch(() => null)
      await answer?.arrayBuffer()
      if (!answer?.ok) failed++
      times.push(performance.now() - began)
    }
    const timer = setInterval(() => sent.push(one()), 1000 / RATE)
    await during()
    clearInterval(timer)
    await Promise.all(sent)
    return { p99: quantile(times, 0.99), failed }
  }
}

/** Asks as the manager of the demo. */
export async function manager(house: House): Promise<As> {
  const { email, password } = MEMBERS.find(m => m.role === 'manager')!
  const signed = await fetch(`${house.place.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  const cookie = signed.headers.getSetCookie()[0]!.split(';')[0]!
  return async <T>(path: string, method = 'GET', body?: unknown) => {
    const answer = await fetch(house.place.url + path, {
      method,
      headers: { cookie, 'content-type': 'application/json' },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    })
    const text = await answer.text()
    if (!answer.ok) throw new Error(`${path}: ${answer.status} ${text}`)
    return (text ? JSON.parse(text) : null) as T
  }
}
