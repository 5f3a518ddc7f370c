import { randomUUID } from 'node:crypto'
import type { Condition } from '#core/conditions/condition'
import { connect, type Sql } from '#db/client'
import { addList } from '#db/lists'
import { addPlan, livePlan } from '#db/routing'
import { addScorecard, liveScorecard } from '#db/scoring'
import { saveSegment } from '#db/segments'
import type { House } from '../scripts/house'
import type { Kind } from './entries'

/** Sixteen send at a time; with so many in turn, nobody's history grows much while it is measured. */
const SENDERS = 800
const EVENTS = 500
const visitors = Array.from({ length: SENDERS }, () => randomUUID())
const email = (n: number) => `hard-${process.pid}-${n % SENDERS}@bench.example`

/**
 * The hard case: card and plan ask for lists, segments and the trail, and who sends is known, each with a long trail. All of
 * what the rules ask for has to be read for each batch.
 */
export const HARD: Kind = {
  name: 'HARD',
  aim: 'at least 0.40',
  async prepare(house) {
    const sql = connect(house.databaseUrl, { max: 2 })
    try {
      await everybody(house, sql)
      await demandingRules(sql)
      await sql`vacuum analyze`
      // The application keeps its rules for some seconds.
      await new Promise(done => setTimeout(done, 6_000))
    } finally {
      await sql.end()
    }
  },
  answers: n => ({
    email: email(n),
    first_name: 'Hard',
    last_name: 'Case',
    company: 'Hard & Case',
    sector: 'school',
    size: 'large',
    timing: 'this_season',
    message: `A room of glass, the ${n}th time.`,
  }),
  visitor: n => visitors[n % SENDERS]!,
}

async function demandingRules(sql: Sql): Promise<void> {
  const at = new Date()
  const [list, segment] = [randomUUID(), randomUUID()]
  const read = (path: string, times: number): Condition => ({
    did: 'page',
    where: { attribute: 'page.path', is: 'starts_with', value: path },
    times,
    days: 30,
  })
  await addList(sql, list, 'Hard')
  await saveSegment(
    sql,
    { id: segment, name: 'Hard', condition: { all: [read('/prices', 3), { attribute: 'last_visit', is: 'within_days', value: 20 }] } },
    at,
  )
  const [card, plan] = [(await liveScorecard(sql))!.definition, (await livePlan(sql))!.definition]
  const fit = [
    { key: 'hard_list', name: 'On the list', points: 3, when: { attribute: 'list', is: 'equal', value: list } as Condition },
    { key: 'hard_segment', name: 'In the segment', points: 4, when: { attribute: 'segment', is: 'equal', value: segment } as Condition },
    {
      key: 'hard_source',
      name: 'Came by a letter',
      points: 2,
      when: { attribute: 'source.first', is: 'equal', value: 'letter' } as Condition,
    },
    { key: 'hard_trail', name: 'Read a lot', points: 5, when: read('/', 40) },
  ]
  await addScorecard(sql, { ...card, fit: [...card.fit, ...fit] }, at)
  await addPlan(
    sql,
    {
      ...plan,
      lanes: [
        {
          key: 'hard',
          name: 'Readers who are listed',
          when: { all: [read('/nowhere', 1), { attribute: 'list', is: 'equal', value: list }] },
          pool: plan.lanes[0]!.pool,
          way: 'turns',
          outside: 'anyway',
          speaks: false,
          promises: {},
          onward: false,
        },
        ...plan.lanes,
      ],
    },
    at,
  )
}

/** People who are known, each with five hundred events of the last three weeks. */
async function everybody(house: House, sql: Sql): Promise<void> {
  await sql`select make_trail_part(d::date) from generate_series(now() - interval '1 month', now() + interval '1 month', interval '1 month') d`
  await sql`insert into visit (id, visitor_id, site, began_at, last_at, pages, path, source, device, utm, robot)
    select gen_random_uuid(), v, 'https://larkmoss.example', at, at + interval '1 minute', 10, '/', 'letter', 'phone', '{}', false
    from unnest(${visitors}::uuid[]) v, generate_series(1, ${EVENTS / 10}) n, lateral (select now() - n * interval '10 hours' as at) t`
  await sql`insert into trail_event (at, visitor_id, visit_id, kind, path, title)
    select began_at + e * interval '5 seconds', visitor_id, id, 'page', (array['/prices', '/', '/growing-houses', '/journal', '/care'])[1 + (e + extract(hour from began_at)::int) % 5], 'A page'
    from visit, generate_series(0, 9) e where visitor_id = any(${visitors}::uuid[])`
  for (let from = 0; from < SENDERS; from += 16) await Promise.all(visitors.slice(from, from + 16).map((_, i) => known(house, from + i)))
}

async function known(house: House, n: number): Promise<void> {
  const answer = await fetch(`${house.place.url}/w/points/form_visit/entries`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ answers: HARD.answers(n), visitor: visitors[n] }),
  })
  if (answer.status !== 201) throw new Error(`A sender of the hard case was not taken in: ${answer.status}`)
}
