import { afterAll, describe, expect, it } from 'vitest'
import { connect } from '#db/client'
import { isAway, openClient } from '#db/line'

const pause = (ms: number) => new Promise(done => setTimeout(done, ms))

const url = process.env.CAVLIN_TEST_ADMIN!
const admin = connect(url, { max: 1 })
afterAll(() => admin.end())

describe('a connection', () => {
  it('gives a statement its own rows only, whatever became of the one before it', async () => {
    const sql = openClient(url, { max: 1 })
    await expect(sql`select 1 / (${100} - x) from generate_series(1, 100) x`).rejects.toThrow('division by zero')
    expect([...await sql`select ${7} as n`]).toEqual([{ n: '7' }])
    await sql.end()
  })
  it('begins anew when it was ended in the midst of an answer', async () => {
    const sql = openClient(url, { max: 1 })
    const [own] = await sql<{ pid: number }[]>`select pg_backend_pid() as pid`
    // More than the server keeps back before it sends: some rows are here when it ends.
    const cut = sql`select x, repeat('x', 1000) as wide, pg_sleep(case when x = 500 then 30 else 0 end)::text from generate_series(1, 1000) x`.then(() => null, error => error as Error)
    await pause(300)
    await admin`select pg_terminate_backend(${own!.pid})`
    expect(isAway(await cut)).toBe(true)
    for (let n = 1; n <= 5; n++) {
      const again = await sql`select ${n}::int as n`.then(rows => [...rows], isAway)
      if (again !== true) expect(again).toEqual([{ n }])
    }
    expect([...await sql`select 'there' as it`]).toEqual([{ it: 'there' }])
    await sql.end()
  })
})
