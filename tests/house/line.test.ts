import { connect as openSocket, createServer, type AddressInfo } from 'node:net'
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
    expect([...(await sql`select ${7} as n`)]).toEqual([{ n: '7' }])
    await sql.end()
  })
  it('begins anew when it was ended in the midst of an answer', async () => {
    const sql = openClient(url, { max: 1 })
    const [own] = await sql<{ pid: number }[]>`select pg_backend_pid() as pid`
    // More than the server keeps back before it sends: some rows are here when it ends.
    const cut =
      sql`select x, repeat('x', 1000) as wide, pg_sleep(case when x = 500 then 30 else 0 end)::text from generate_series(1, 1000) x`.then(
        () => null,
        error => error as Error,
      )
    await pause(300)
    await admin`select pg_terminate_backend(${own!.pid})`
    expect(isAway(await cut)).toBe(true)
    for (let n = 1; n <= 5; n++) {
      const again = await sql`select ${n}::int as n`.then(rows => [...rows], isAway)
      if (again !== true) expect(again).toEqual([{ n }])
    }
    expect([...(await sql`select 'there' as it`)]).toEqual([{ it: 'there' }])
    await sql.end()
  })
  it('knows how arrays are written, also when it was ended while it asked for that', async () => {
    const [server, target] = [new URL(url), new URL(url)]
    let asked = 0
    // The first time that it asks, the server says that it is being shut down, and closes.
    const between = createServer(socket => {
      const on = openSocket({ host: server.hostname, port: Number(server.port) })
      socket.on('data', chunk => {
        if (chunk.includes('typcategory') && ++asked === 1) {
          socket.end(fatal('57P01', 'terminating connection due to administrator command'))
          return
        }
        on.write(chunk)
      })
      on.on('data', chunk => socket.write(chunk))
      for (const [a, b] of [
        [socket, on],
        [on, socket],
      ] as const)
        a.on('close', () => b.destroy()).on('error', () => b.destroy())
    })
    await new Promise<void>(done => between.listen(0, '127.0.0.1', done))
    target.port = String((between.address() as AddressInfo).port)
    target.hostname = '127.0.0.1'
    const sql = openClient(target.href, { max: 1 })
    for (let tries = 0; tries < 20; tries++) {
      const found = await sql`select ${['one', 'two']}::text[] as list`.then(rows => rows[0]!.list as string[], isAway)
      // It may say that the line was lost; it never takes a list for something else.
      expect([true, 'one,two']).toContain(found === true ? true : String(found))
      if (found !== true) break
    }
    expect([...(await sql`select ${['one', 'two']}::text[] as list`)]).toEqual([{ list: ['one', 'two'] }])
    expect(asked).toBeGreaterThan(1)
    await sql.end({ timeout: 1 })
    between.close()
  })
})

/** The server's word that it ends the connection (PostgreSQL, frontend/backend protocol: ErrorResponse). */
function fatal(code: string, message: string): Buffer {
  const body = Buffer.from(`SFATAL\0VFATAL\0C${code}\0M${message}\0\0`)
  const head = Buffer.alloc(5)
  head.write('E')
  head.writeInt32BE(body.length + 4, 1)
  return Buffer.concat([head, body])
}
