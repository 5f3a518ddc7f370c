import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Umzug } from 'umzug'
import type { Sql } from '#db/client'

/**
 * Brings the database up to the newest migration; forward only.
 * Several processes may call it at once: one works, the others wait.
 * @param folder of the `*.sql` files
 * @returns the names of the migrations that were carried out now
 */
export async function migrate(sql: Sql, folder: string): Promise<string[]> {
  await sql`create table if not exists migration (name text primary key, at timestamptz not null default now())`
  return await sql.begin(async (tx) => {
    await tx`select pg_advisory_xact_lock(7310001)`
    const umzug = new Umzug({
      migrations: readdirSync(folder).filter(f => f.endsWith('.sql')).sort().map(name => ({
        name, up: async () => { await tx.unsafe(readFileSync(join(folder, name), 'utf8')) },
      })),
      storage: {
        logMigration: async ({ name }) => { await tx`insert into migration (name) values (${name})` },
        unlogMigration: async () => {},
        executed: async () => (await tx<{ name: string }[]>`select name from migration order by name`).map(r => r.name),
      },
      logger: undefined,
    })
    return (await umzug.up()).map(m => m.name)
  })
}
