import { openTransactions } from '#db/pipelined'
import { openClient, type Options, type Sql } from '#db/line'

export {
  isAway,
  LONG,
  PATIENT,
  PROMPT,
  Unavailable,
  written,
  type Db,
  type Options,
  type Patience,
  type Sql,
  type Statement,
  type Tx,
} from '#db/line'

/**
 * A client with the house's types: `bigint` as a number (counts, never past 2^53), snake_case columns as camelCase fields, and
 * any text at all in and out. Single statements share its connections; a transaction has one of its own (`db/pipelined`). Nothing
 * waits for ever on a connection that was lost, and none is used again.
 */
export function connect(url: string, options: Options = {}): Sql {
  const sql = openClient(url, options)
  const end = sql.end.bind(sql)
  const transactions = openTransactions(url, options, options.max ?? 8)
  return Object.assign(sql, {
    begin: transactions.begin,
    async end(how?: { timeout?: number }) {
      await Promise.all([end(how), transactions.end()])
    },
  })
}
