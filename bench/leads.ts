import { connect, type Sql } from '#db/client'
import type { House } from '../scripts/house'
import { quantile } from './load'

const LEADS = 1_000_000
/** So many there are when growth is measured from. */
const FEW = 10_000
const ROUNDS = 12
const SORTS = ['name', 'company', 'label', 'fit', 'interest', 'status', 'owner', 'waiting', 'updated']

/**
 * Lists, searches and Today of a house with a million leads, as its screens ask for them; lists also with ten thousand.
 * @param most how many there are at the end
 */
export async function benchLeads(house: House, most = LEADS): Promise<void> {
  const sql = connect(house.databaseUrl, { max: 2 })
  try {
    await million(sql, FEW)
    await allCounted(sql)
    const cookie = await signedIn(house)
    const members = (await sql<{ id: string }[]>`select id from member where role = 'sales'`).map(m => m.id)
    const timed = async (path: string) => {
      const began = performance.now()
      const answer = await fetch(house.place.url + path, { headers: { cookie } })
      await answer.json()
      if (!answer.ok) throw new Error(`${path}: ${answer.status}`)
      return performance.now() - began
    }
    const floors: number[] = []
    /** @returns the median, in ms */
    const report = async (name: string, aim: number | null, paths: string[]): Promise<number> => {
      const times: number[] = []
      const slow = new Map<string, number>()
      for (let round = 0; round < ROUNDS; round++) {
        for (const path of paths) {
          floors.push(await timed('/api/session'))
          const ms = await timed(path)
          if (round) times.push(ms)
          if (round) slow.set(path, Math.max(slow.get(path) ?? 0, ms))
        }
      }
      const [slowest] = [...slow].sort((a, b) => b[1] - a[1])
      const within = (share: number) => `${quantile(times, share).toFixed(0)} ms`
      const wanted = aim === null ? 'none' : `${aim} ms`
      console.log(
        `${name.padEnd(28)} 95% within ${within(0.95)}, median ${within(0.5)} (aim: ${wanted})   slowest ${slowest![1].toFixed(0)} ms: ${slowest![0]}`,
      )
      return quantile(times, 0.5)
    }
    const list = (query: string) => `/api/team/leads?size=25&${query}`
    const filters = [
      '',
      'label=sales_ready',
      'status=untouched',
      `owner=${members[0]}`,
      `owner=${members[0]}&status=in_talks`,
      `label=early&owner=${members[1]}&status=won`,
    ]
    const sorted = SORTS.flatMap(sort => ['up', 'down'].flatMap(order => filters.map(f => list(`sort=${sort}&order=${order}&${f}`))))
    const conditions = [
      { attribute: 'property.sector', is: 'equal', value: 'restaurant' },
      { attribute: 'property.sector', is: 'equal', value: 'school' },
      {
        all: [
          { attribute: 'property.sector', is: 'equal', value: 'restaurant' },
          { attribute: 'property.size', is: 'not_equal', value: 'large' },
        ],
      },
      { did: 'page', where: null, times: 1, days: 30 },
    ].map(c => `condition=${encodeURIComponent(JSON.stringify(c))}`)
    const judged = conditions.flatMap(c => ['updated', 'interest', 'name'].map(sort => list(`sort=${sort}&order=down&count=later&${c}`)))
    const lists = async () => [
      await report('LISTS    first page', 50, sorted),
      await report('FREE     by properties, the trail', 1000, judged),
    ]
    const before = await lists()
    await million(sql, most - FEW, FEW)
    await allCounted(sql)
    const after = await lists()
    for (const [i, name] of ['LISTS', 'FREE'].entries()) {
      const times = (after[i]! / before[i]!).toFixed(2)
      console.log(`${name.padEnd(8)} ${most} leads against ${FEW}: ${times} times (aim: under 3), by the medians`)
    }
    await report(
      'SEARCH   a word, two, a few letters',
      100,
      ['ashford', 'ash', 'as', 'nobody-has-this', 'ida ashford', 'firm 4711', 'p7777@'].map(s => list(`search=${encodeURIComponent(s)}`)),
    )
    await report(
      'COUNT    of those, which follows',
      null,
      conditions.map(c => `/api/team/leads/count?${c}`),
    )
    await report('TODAY', 50, ['/api/team/today'])
    await report('COURSE', 10, ['/api/team/funnel'])
    await report('LEARN', 300, ['/api/team/reports?days=90', '/api/team/reports?days=30', '/api/team/reports?days=365'])
    await report('HOUSE', 50, ['/api/team/house'])
    console.log(
      `FLOOR                        a request that reads one row: 95% within ${quantile(floors, 0.95).toFixed(0)} ms, median ${quantile(floors, 0.5).toFixed(0)} ms`,
    )
  } finally {
    await sql.end()
  }
}

export async function signedIn(house: House): Promise<string> {
  const answer = await fetch(`${house.place.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: 'jonah@larkmoss.example', password: 'cold-frame-morning' }),
  })
  return answer.headers.getSetCookie()[0]!.split(';')[0]!
}

/** A million made-up people beside those of the demo. @param from so many were made before */
export async function million(sql: Sql, leads = LEADS, from = 0): Promise<void> {
  console.log(`  filling in ${leads} leads …`)
  const line = `jsonb_build_array(jsonb_build_object('axis', 'fit', 'rule', 'large', 'name', 'Over 200 m²', 'points', 30, 'at', 1760000000000),
    jsonb_build_object('axis', 'interest', 'rule', 'asked_visit', 'name', 'Asked for a visit', 'points', 30, 'at', 1770000000000, 'note', 'Ask for a site visit'))`
  await sql.unsafe(`insert into lead (id, email, email_key, first_name, last_name, company, properties, label, fit, interest_key, half_life_days, card, reasons, owner_id, owned_at,
      status, status_at, waiting_since, next_step, next_step_at, submitted_at, created_at, updated_at, version)
    select gen_random_uuid(), 'p' || n || '@many.example', 'p' || n || '@many.example',
      (array['Ida', 'Bo', 'Cyrus', 'Dara', 'Edda', 'Finn', 'Gwen'])[1 + a % 7],
      (array['Ash', 'Birch', 'Cedar', 'Dogwood', 'Elm', 'Fir', 'Gorse', 'Hazel', 'Ivy', 'Juniper', 'Larch'])[1 + b % 11] || (array['ford', 'ley', 'ton', 'wick', 'by', 'ham'])[1 + c % 6],
      case when a % 3 = 0 then null else 'Firm ' || b % 50000 end, case when a % 200 = 0 then '{"sector": "restaurant", "size": "small"}' else '{"sector": "school", "size": "large"}' end::jsonb,
      case when d % 50 = 0 then 'sales_ready' when d % 10 = 0 then 'marketing_qualified' when d % 4 = 0 then 'warming' else 'early' end,
      c % 97, 240 + (b % 100900) / 10000.0, 14, 1, ${line},
      (select id from member where role = 'sales' order by email offset e % 3 limit 1), now() - n * interval '20 seconds',
      case when f % 20 = 0 then 'untouched' when f % 7 = 0 then 'in_talks' when f % 5 = 0 then 'won' else 'parked' end, now(),
      case when n % 400 = 0 then now() - n * interval '3 seconds' end, case when n % 300 = 0 then 'Call' end, case when n % 300 = 0 then now() + (a % 900 - 450) * interval '1 hour' end,
      now() - n * interval '20 seconds', now() - n * interval '20 seconds', now() - (d % ${leads}) * interval '15 seconds', 1
    from generate_series(${from + 1}, ${from + leads}) n,
      lateral (select hashint4(n) & 2147483647 as a, hashint4(n + 1) & 2147483647 as b, hashint4(n + 2) & 2147483647 as c, hashint4(n + 3) & 2147483647 as d,
        hashint4(n + 4) & 2147483647 as e, hashint4(n + 5) & 2147483647 as f) h`)
  await sql`vacuum analyze lead`
  // Each came by an entry once: the event by which figures know them.
  await sql`insert into lead_event (lead_id, version, at, cause, changes, fit, interest, card, facets)
    select id, 1, created_at, 'entry', jsonb_build_object('entry', jsonb_build_object('entry', id, 'key', point)), fit, 0, 1,
      jsonb_strip_nulls(jsonb_build_object('label', label, 'owner', owner_id, 'status', status, 'waiting', nullif(waiting_since is not null, false), 'submitted', true,
        'created', floor(extract(epoch from created_at) * 1000), 'first', jsonb_build_array(point, source), 'qualified', nullif(label in ('sales_ready', 'marketing_qualified'), false),
        'last', jsonb_strip_nulls(jsonb_build_object('entry', moment, 'owner', moment, 'won', case when status = 'won' then moment end))))
    from lead, lateral (select hashtext(id::text) & 2147483647 as h) h,
      lateral (select (array['form_visit', 'form_guide', 'form_care', 'form_journal', 'form_plan'])[1 + h % 5] as point, (array['direct', 'fair', 'search.example', 'newsletter'])[1 + h / 7 % 4] as source,
        floor(extract(epoch from created_at) * 1000) as moment) p
    where email_key like 'p%@many.example' and not exists (select from lead_event v where v.lead_id = lead.id)`
  await sql`analyze lead_event`
  // Who is here twice among people who are all alike is another question: looking for them would run beside what is measured.
  await sql`insert into consumer (name, xid, seq) select 'likeness', xid, seq from lead_event order by xid desc, seq desc limit 1
    on conflict (name) do update set xid = excluded.xid, seq = excluded.seq`
}

/** Waits until the worker has counted all that happened. */
export async function allCounted(sql: Sql): Promise<void> {
  const began = performance.now()
  for (;;) {
    const [row] = await sql<
      { left: boolean }[]
    >`select exists (select from lead_event e, consumer c where c.name = 'figures' and (e.xid, e.seq) > (c.xid, c.seq)) as left`
    if (!row!.left) break
    await new Promise(done => setTimeout(done, 500))
  }
  console.log(`  figures of all of them were counted within ${((performance.now() - began) / 1000).toFixed(0)} s`)
}
