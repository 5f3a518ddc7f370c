import { fileURLToPath } from 'node:url'
import { connect } from '#db/client'
import { migrate } from '#db/migrate'
import { settleRestored } from '#db/stream'
import { setting } from '#server/settings'

// Brings the database up to date and ends. Compiled, its migrations lie beside it.
const TELL_MS = 5_000
let told = Date.now()
const done = await migrate(
  setting('CAVLIN_DATABASE'),
  setting('CAVLIN_MIGRATIONS') ?? fileURLToPath(new URL('migrations', import.meta.url)),
  (name, rows) => {
    if (Date.now() - told < TELL_MS) return
    told = Date.now()
    console.log(`${name}: ${rows} rows so far`)
  },
)
if (done.length) console.log(`The database was brought up to date: ${done.join(', ')}`)
const sql = connect(setting('CAVLIN_DATABASE'), { name: 'cavlin migrations', max: 1 })
if (await settleRestored(sql)) console.log('The database comes from another cluster: what happened to leads was numbered anew.')
await sql.end({ timeout: 2 })
