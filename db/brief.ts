import type { Sql, Tx } from '#db/client'

/** Sends the COMMIT, behind the statements that were sent before it and without waiting for them. */
export type Commit = () => PromiseLike<unknown>

/**
 * A transaction in as few round trips as its statements need: BEGIN travels with the
 * first of them, COMMIT with the last. When one of those fails, PostgreSQL takes the
 * COMMIT behind it for a ROLLBACK, so it is all or nothing as ever.
 * @param work sends statements on `tx`; the last ones together with `commit()`, once,
 *   and waits for all of them. Without a commit everything is rolled back.
 * @param first a statement that goes along with BEGIN
 */
export async function brief<T>(sql: Sql, work: (tx: Tx, commit: Commit) => Promise<T>, first = ''): Promise<T> {
  const own = await sql.reserve()
  let ending: Promise<unknown> | null = null
  const send = (statement: string) => own.unsafe(statement).execute()
  try {
    const begun = send(`begin; ${first}`)
    begun.catch(() => {})
    const result = await work(own as unknown as Tx, () => ending = send('commit'))
    await begun
    return result
  } finally {
    // Whatever happened, the connection goes back with nothing open on it.
    await (ending ?? send('rollback')).catch(() => {})
    own.release()
  }
}
