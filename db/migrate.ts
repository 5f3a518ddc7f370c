import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Umzug } from 'umzug'
import { openClient, Unavailable, type Sql } from '#db/line'

/** What a migration may say in its first line of how it is carried out; without a word it is one transaction. */
const MANNERS = { '-- each statement by itself': 'apart', '-- in pieces': 'pieces' } as const
type Manner = 'whole' | (typeof MANNERS)[keyof typeof MANNERS]

/** The lock that is held while migrations are carried out. */
const LOCK = 7310001
/** Whoever waits asks again and again: one who stood in the queue of the lock would hold up an index that is built concurrently. */
const ASK_MS = 250
/** However long the database lets others wait, a migration takes the time that it needs. */
const NO_LIMITS = { statement_timeout: '0', lock_timeout: '0', idle_in_transaction_session_timeout: '0' }

/**
 * Brings the database up to the newest migration; forward only, one by one. Several processes may call it at once: one works,
 * the others wait. What was carried out stays carried out, should a later one fail.
 *
 * A file is one transaction, unless its first line says otherwise:
 * - `-- each statement by itself`: outside of any transaction, as `create index concurrently` asks for. Each statement must be
 *   harmless when it is carried out again (`if not exists`). An index that an earlier try left half built is made anew.
 * - `-- in pieces`: the one statement changes some rows at a time, and is carried out again until it changes none, each time
 *   in a transaction of its own. Whoever is interrupted goes on where it was.
 * @param folder of the `*.sql` files
 * @param progress called after each piece, with the rows that were changed so far
 * @returns the names of the migrations that were carried out now
 * @throws Unavailable when the connection is lost, and the lock with it
 */
export async function migrate(url: string, folder: string, progress: (name: string, rows: number) => void = () => {}): Promise<string[]> {
  let lost = false
  const client = openClient(url, {
    max: 1,
    name: 'cavlin migrations',
    settings: NO_LIMITS,
    onLost: () => {
      lost = true
    },
  })
  const send = async (text: string) => {
    if (lost) throw new Unavailable('the connection was lost while migrations were carried out')
    return await client.unsafe(text).simple()
  }
  try {
    await send('select 1')
    while (!(await isOurs(client))) await new Promise(done => setTimeout(done, ASK_MS))
    await send('create table if not exists migration (name text primary key, at timestamptz not null default now())')
    const umzug = new Umzug({
      migrations: readdirSync(folder)
        .filter(f => f.endsWith('.sql'))
        .sort()
        .map(name => ({
          name,
          up: () => carryOut(send, name, readFileSync(join(folder, name), 'utf8'), rows => progress(name, rows)),
        })),
      storage: {
        // What is one transaction has noted itself in it.
        logMigration: async ({ name }) => {
          await send(`${noted(name)} on conflict do nothing`)
        },
        unlogMigration: async () => {},
        executed: async () => (await client<{ name: string }[]>`select name from migration order by name`).map(r => r.name),
      },
      logger: undefined,
    })
    return (await umzug.up()).map(m => m.name)
  } finally {
    await client.end({ timeout: 1 })
  }
}

const isOurs = async (client: Sql): Promise<boolean> =>
  (await client<{ ours: boolean }[]>`select pg_try_advisory_lock(${LOCK}) as ours`)[0]!.ours
const noted = (name: string) => `insert into migration (name) values ('${name.replaceAll("'", "''")}')`
const mannerOf = (text: string): Manner => MANNERS[text.slice(0, text.indexOf('\n')).trim() as keyof typeof MANNERS] ?? 'whole'

type Send = (text: string) => Promise<{ count?: number }>

async function carryOut(send: Send, name: string, text: string, progress: (rows: number) => void): Promise<void> {
  const manner = mannerOf(text)
  if (manner === 'pieces') {
    let rows = 0
    for (let changed = 1; changed > 0;) {
      changed = (await send(text)).count ?? 0
      if (changed) progress((rows += changed))
    }
  } else if (manner === 'apart') {
    for (const statement of text.split(/;\s*$/m)) {
      if (!statement.replace(/^\s*--.*$/gm, '').trim()) continue
      const index = /create\s+(?:unique\s+)?index\s+concurrently\s+(?:if\s+not\s+exists\s+)?(\w+)/i.exec(statement)?.[1]
      if (index) await dropHalfBuilt(send, index)
      await send(statement)
    }
  } else await send(`begin;\n${text}\n;${noted(name)};\ncommit`)
}

/** An index whose building was interrupted stands there and is of no use. */
async function dropHalfBuilt(send: Send, index: string): Promise<void> {
  const found = await send(
    `select 1 from pg_index i join pg_class c on c.oid = i.indexrelid where c.relname = '${index.toLowerCase()}' and not i.indisvalid`,
  )
  if (found.count) await send(`drop index concurrently ${index}`)
}
