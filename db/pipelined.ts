import { isAway, openClient, Unavailable, type Options, type Sql, type Tx } from '#db/line'

/** Sends the COMMIT, behind the statements that were sent before it and without waiting for them. */
export type Commit = () => PromiseLike<unknown>

/** A connection of its own for transactions that come one after the other. */
export interface Lane {
  /**
   * A transaction in as few round trips as its statements need: BEGIN travels with the
   * first of them, COMMIT with the last. When one of those fails, PostgreSQL takes the
   * COMMIT behind it for a ROLLBACK, so it is all or nothing as ever.
   * @param work sends statements on `tx`; the last ones together with `commit()`, once,
   *   and waits for all of them. Without a commit everything is rolled back.
   * @param first a statement that goes along with BEGIN
   * @throws Unavailable when the connection is lost, or the work takes longer than it may; whether it was committed is then
   *   not known, and who tries again must say by a key that it is the same
   */
  run<T>(work: (tx: Tx, commit: Commit) => Promise<T>, first?: string): Promise<T>
  end(): Promise<void>
}

/** A client and how to give it up, once. */
interface Line {
  sql: Sql
  tx: Tx
  broken: Promise<never>
  giveUp: (why: string) => void
  isBroken: () => boolean
}

/**
 * Opens a lane. A connection that was lost, or on which something took too long, is never used again: what was sent on it
 * may still be carried out, and nothing else must get between.
 * @param longest ms that a transaction may take; Infinity: as long as it takes
 */
export function openLane(url: string, options: Options, longest: number): Lane {
  let line: Line | null = null

  function open(): Line {
    let no: (error: Error) => void
    let over = false
    const broken = new Promise<never>((_, failed) => {
      no = failed
    })
    broken.catch(() => {})
    const sql = openClient(url, { ...options, max: 1, onLost: () => giveUp('the connection was lost') })
    const giveUp = (why: string) => {
      if (over) return
      over = true
      if (line?.sql === sql) line = null
      no(new Unavailable(why))
      void sql.end({ timeout: 0 }).catch(() => {})
    }
    // Whoever still works on what is lost must not begin anew on another connection, outside of any transaction.
    const checked = <F extends (...args: never[]) => unknown>(call: F) =>
      ((...args: never[]) => {
        if (over) throw new Unavailable('the connection was lost')
        return call(...args)
      }) as unknown as F
    const tx = Object.assign(checked(sql as never), sql, { unsafe: checked(sql.unsafe as never) }) as unknown as Tx
    return { sql, tx, broken, giveUp, isBroken: () => over }
  }

  async function run<T>(work: (tx: Tx, commit: Commit) => Promise<T>, first = ''): Promise<T> {
    const own = (line ??= open())
    const send = (statement: string) => (own.tx as unknown as Sql).unsafe(statement).execute()
    const timer = longest < Infinity ? setTimeout(() => own.giveUp(`it took longer than ${longest} ms`), longest) : undefined
    let ending: Promise<unknown> | null = null
    try {
      const begun = send(`begin; ${first}`)
      begun.catch(() => {})
      const whole = async () => {
        const result = await work(own.tx, () => (ending = send('commit')))
        await begun
        return result
      }
      return await Promise.race([whole(), own.broken])
    } catch (error) {
      if (isAway(error) && !own.isBroken()) own.giveUp('a statement was given up')
      throw error
    } finally {
      // Whatever happened, nothing stays open on the connection.
      if (!own.isBroken()) await Promise.race([ending ?? send('rollback'), own.broken]).catch(() => {})
      clearTimeout(timer)
    }
  }
  return {
    run,
    async end() {
      await line?.sql.end({ timeout: 1 })
    },
  }
}

/** Transactions as Postgres.js offers them, each on a connection of its own while it lasts. Its own way loses the connection, and who waits for it, when it closes in the midst of one. */
export interface Transactions {
  begin: Sql['begin']
  end: () => Promise<void>
}

/** @param most at the same time; who comes then waits */
export function openTransactions(url: string, options: Options, most: number): Transactions {
  const longest = options.patience?.statement ?? Infinity
  const free: Lane[] = []
  const all: Lane[] = []
  const waiting: ((lane: Lane) => void)[] = []

  function taken(): Lane | Promise<Lane> {
    const lane = free.pop()
    if (lane) return lane
    if (all.length < most) {
      const fresh = openLane(url, options, longest)
      all.push(fresh)
      return fresh
    }
    return new Promise(done => {
      waiting.push(done)
    })
  }
  function back(lane: Lane): void {
    const next = waiting.shift()
    if (next) next(lane)
    else free.push(lane)
  }

  type Work = (tx: Tx) => unknown
  async function begin(how: string | Work, then?: Work): Promise<unknown> {
    const [mode, work] = typeof how === 'string' ? [how, then!] : ['', how]
    const lane = await taken()
    try {
      return await lane.run(
        async (tx, commit) => {
          const came = work(tx)
          const result = Array.isArray(came) ? await Promise.all(came) : await came
          const { command } = (await commit()) as { command: string }
          // A statement failed, and somebody passed over it: the database did not.
          if (command === 'ROLLBACK') throw new Error('A statement of the transaction had failed; nothing of it was kept.')
          return result
        },
        mode && `set transaction ${mode}`,
      )
    } finally {
      back(lane)
    }
  }
  return {
    begin: begin as Sql['begin'],
    async end() {
      await Promise.all(all.map(lane => lane.end()))
    },
  }
}
