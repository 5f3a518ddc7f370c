import { createHash } from 'node:crypto'
import type { ArchiveLine } from '#core/archive'
import { openLane, type Lane } from '#db/pipelined'
import { connect, type Sql } from '#db/client'
import { migrate } from '#db/migrate'
import { jobQueue, prepareQueues } from '#server/jobs/queue'
import { importArchive } from '#server/archive/import'
import { firm } from '../../demo/firm'

let count = 0

/** A database with the firm in it, made once in a cluster; others are copies of it. @returns its name */
async function template(admin: Sql, base: string, lines: ArchiveLine[]): Promise<string> {
  const name = `of_${createHash('sha256').update(JSON.stringify(lines)).digest('hex').slice(0, 20)}`
  // Several processes may come at once; each waits for the first.
  await admin`select pg_advisory_lock(hashtext(${name}))`
  try {
    if ((await admin`select 1 from pg_database where datname = ${name}`).length) return name
    const making = `${name}_in_the_making`
    await admin.unsafe(`drop database if exists ${making} with (force)`)
    await admin.unsafe(`create database ${making} owner cavlin`)
    const url = base.replace(/\/[^/]*$/, `/${making}`)
    const sql = connect(url, { max: 6 })
    await migrate(url, 'db/migrations')
    const queue = connect(url, { max: 1 })
    const boss = jobQueue(queue)
    await boss.start()
    await prepareQueues(boss)
    await boss.stop({ graceful: false })
    if (lines.length) await importArchive(sql, lines)
    await Promise.all([sql.end({ timeout: 5 }), queue.end({ timeout: 5 })])
    await admin.unsafe(`alter database ${making} rename to ${name}`)
    return name
  } finally {
    await admin`select pg_advisory_unlock(hashtext(${name}))`
  }
}

/** A database of its own in the tests' cluster, with the firm and nobody who came. */
export async function freshDatabase(lines: ArchiveLine[] = firm('2026-01-01T00:00:00Z')) {
  const base = process.env.CAVLIN_TEST_CLUSTER
  const looksAfter = process.env.CAVLIN_TEST_ADMIN
  if (!base || !looksAfter) throw new Error('These tests need a database: start them with `npm test` or `npm test house`.')
  const name = `t${process.pid}_${++count}`
  const admin = connect(looksAfter, { max: 1 })
  await admin.unsafe(`create database ${name} template ${await template(admin, base, lines)} owner cavlin`)
  const url = base.replace(/\/[^/]*$/, `/${name}`)
  const sql = connect(url, { max: 6 })
  const more: { end: (options?: { timeout: number }) => Promise<void> }[] = []
  return {
    sql,
    url,
    /** Another process's connection to the same database. */
    another(): Sql {
      const other = connect(url, { max: 4 })
      more.push(other)
      return other
    },
    /** Another process's lane to it. */
    lane(): Lane {
      const lane = openLane(url, {}, 20_000)
      more.push(lane)
      return lane
    },
    async drop() {
      await Promise.all([sql, ...more].map(s => s.end({ timeout: 2 })))
      await admin.unsafe(`drop database ${name} with (force)`)
      await admin.end()
    },
  }
}
export type TestDatabase = Awaited<ReturnType<typeof freshDatabase>>
