import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { connect, type Sql, type Tx } from '#db/client'
import { longTransactions, settleRestored, type StreamEvent } from '#db/stream'
import { follow, type Consumer } from '#server/consumers/follow'
import { freshDatabase, type TestDatabase } from '../support/database'
import { eventually } from '../support/house'

let db: TestDatabase
let sql: Sql
beforeAll(async () => {
  db = await freshDatabase([])
  sql = db.sql
  await sql`insert into status values ('untouched', 'Untouched', 1, 'first')`
  await sql`create table seen (consumer text, n bigint generated always as identity, lead uuid, version int)`
})
afterAll(() => db.drop())

async function newLead(): Promise<string> {
  const id = randomUUID()
  await sql`insert into lead (id, status, status_at, created_at, updated_at, half_life_days, card) values (${id}, 'untouched', now(), now(), now(), 14, 1)`
  return id
}
/** Something happens to a lead, as the owner of every change writes it: under the lock of its row. */
async function happens(tx: Tx, lead: string): Promise<void> {
  const [row] = await tx<{ version: number }[]>`select version from lead where id = ${lead} for no key update`
  await tx`update lead set version = ${row!.version + 1} where id = ${lead}`
  await tx`insert into lead_event (lead_id, version, at, cause, changes, fit, interest, card) values (${lead}, ${row!.version + 1}, now(), 'note', '{}', 0, 0, 1)`
}
const notes = (name: string, inOrder: boolean, fails: () => boolean = () => false): Consumer => ({
  name,
  inOrder,
  async take(tx, events) {
    await tx`insert into seen (consumer, lead, version) select ${name}, r.lead, r.version from jsonb_to_recordset(${events.map(e => ({ lead: e.lead, version: e.version })) as never}::jsonb) as r(lead uuid, version int)`
    if (fails()) throw new Error('killed')
  },
})
const seenBy = async (name: string) =>
  (await sql<{ lead: string; version: number }[]>`select lead, version from seen where consumer = ${name} order by n`).map(
    r => `${r.lead} ${r.version}`,
  )
const all = async (leads: string[]) =>
  (await sql<{ key: string }[]>`select lead_id || ' ' || version as key from lead_event where lead_id = any(${leads}::uuid[])`).map(
    r => r.key,
  )
/** A transaction that stays open until it is ended. @returns when its first statement was answered */
async function open(client: Sql, mode: string, first: (tx: Tx) => Promise<unknown>): Promise<{ end: () => Promise<void> }> {
  let done = () => {}
  let whole: Promise<unknown> = Promise.resolve()
  await new Promise<void>((begun, failed) => {
    whole = client
      .begin(mode, async tx => {
        await first(tx)
        begun()
        await new Promise<void>(over => {
          done = over
        })
      })
      .catch(failed)
  })
  return {
    async end() {
      done()
      await whole
    },
  }
}
const pause = (ms: number) => new Promise(done => setTimeout(done, ms))
const mine = (consumer: Consumer, leads: string[]): Consumer => ({
  ...consumer,
  take: (tx, events) =>
    consumer.take(
      tx,
      events.filter((e: StreamEvent) => leads.includes(e.lead)),
    ),
})

describe('who follows the stream', () => {
  it('skips nothing and takes nothing twice, each lead in its order, while many write, some of them slowly, and followers are killed', async () => {
    const leads = await Promise.all(Array.from({ length: 6 }, newLead))
    let random = 7
    const next = (n: number) => (random = (random * 48271) % 2147483647) % n
    const writers = Array.from({ length: 8 }, () => db.another())
    let writing = true
    const write = async (own: Sql) => {
      for (let i = 0; i < 25; i++) {
        await own
          .begin(async tx => {
            // A transaction has its place in the stream from its first write on, and may get to its lead long after others.
            await tx`select pg_current_xact_id()`
            await pause(next(12))
            await happens(tx, leads[next(leads.length)]!)
            await pause(next(8))
            if (next(9) === 0) throw new Error('undone')
          })
          .catch((error: Error) => {
            if (error.message !== 'undone') throw error
          })
      }
    }
    const consumers = [
      mine(
        notes('in order', true, () => next(4) === 0),
        leads,
      ),
      mine(
        notes('adds up', false, () => next(4) === 0),
        leads,
      ),
    ]
    const followers = [db.another(), db.another()].map(async own => {
      while (writing) {
        for (const consumer of consumers)
          await follow(own, consumer, 1 + next(9)).catch((error: Error) => {
            if (error.message !== 'killed') throw error
          })
        await pause(2)
      }
    })
    await Promise.all(writers.map(write))
    writing = false
    await Promise.all(followers)
    const expected = (await all(leads)).sort()
    expect(expected.length).toBeGreaterThan(150)
    for (const name of ['in order', 'adds up']) {
      const rest = mine(notes(name, name === 'in order'), leads)
      await eventually(async () => {
        while ((await follow(sql, rest)) > 0);
        return (await seenBy(name)).length >= expected.length
      })
      expect((await seenBy(name)).sort()).toEqual(expected)
    }
    for (const lead of leads) {
      const versions = (await seenBy('in order')).filter(key => key.startsWith(lead)).map(key => Number(key.split(' ')[1]))
      expect(versions).toEqual(versions.map((_, i) => i + 1))
    }
    expect(await sql`select 1 from consumer_ahead`).toHaveLength(0)
  })

  it('gets two of a lead that the stream has turned round in their order, also where they are far apart', async () => {
    const lead = await newLead()
    const [slow, quick] = [db.another(), db.another()]
    const both = mine(notes('turned', true), [lead])
    while ((await follow(sql, both)) > 0);
    let goOn = () => {}
    const waits = new Promise<void>(done => (goOn = done))
    const begun = slow.begin(async tx => {
      await tx`select pg_current_xact_id()`
      await waits
      await happens(tx, lead)
    })
    await pause(50)
    await quick.begin(tx => happens(tx, lead))
    goOn()
    await begun
    // One at a time: the second version comes first, and brings the first along.
    await eventually(async () => {
      await follow(sql, both, 1)
      return (await seenBy('turned')).length === 2
    })
    expect(await seenBy('turned')).toEqual([`${lead} 1`, `${lead} 2`])
    while ((await follow(sql, both, 1)) > 0);
    expect((await seenBy('turned')).length).toBe(2)
  })

  it('waits for who writes, in another database as well, and for nobody who only reads; either is said', async () => {
    const lead = await newLead()
    const one = mine(notes('waits', false), [lead])
    while ((await follow(sql, one)) > 0);
    const elsewhere = connect(process.env.CAVLIN_TEST_ADMIN!, { max: 1, name: 'somebody elsewhere' })
    const reader = connect(process.env.CAVLIN_TEST_ADMIN!, { max: 1, name: 'a dump' })
    const both = [
      open(elsewhere, '', tx => tx`select pg_current_xact_id()`),
      open(reader, 'isolation level repeatable read read only', tx => tx`select count(*) from pg_class`),
    ]
    const [writer, dump] = await Promise.all(both)
    try {
      await pause(1100)
      await sql.begin(tx => happens(tx, lead))
      await follow(sql, one)
      expect(await seenBy('waits')).toEqual([])
      const said = (await longTransactions(sql, 1)).map(t => [t.program, t.holds])
      expect(said).toEqual(
        expect.arrayContaining([
          ['somebody elsewhere', true],
          ['a dump', false],
        ]),
      )
      await writer!.end()
      await eventually(async () => {
        await follow(sql, one)
        return (await seenBy('waits')).length === 1
      })
    } finally {
      await Promise.all([writer!.end(), dump!.end()])
      await Promise.all([elsewhere.end(), reader.end()])
    }
  })

  it('goes on in a database that was restored into another cluster, behind what was taken', async () => {
    const lead = await newLead()
    const one = mine(notes('restored', true), [lead])
    for (let i = 0; i < 2; i++) await sql.begin(tx => happens(tx, lead))
    await eventually(async () => {
      while ((await follow(sql, one)) > 0);
      return (await seenBy('restored')).length === 2
    })
    expect(await settleRestored(sql)).toBe(false)
    for (let i = 0; i < 3; i++) await sql.begin(tx => happens(tx, lead))
    // As a cluster that has seen more transactions had written them.
    await sql`update lead_event set xid = (xid::text::numeric + 1e12)::text::xid8`
    await sql`update consumer set xid = (xid::text::numeric + 1e12)::text::xid8`
    expect([await follow(sql, one), await settleRestored(sql), await settleRestored(sql)]).toEqual([0, true, false])
    await sql.begin(tx => happens(tx, lead))
    await eventually(async () => {
      while ((await follow(sql, one, 1)) > 0);
      return (await seenBy('restored')).length === 6
    })
    expect(await seenBy('restored')).toEqual([1, 2, 3, 4, 5, 6].map(version => `${lead} ${version}`))
  })
})
