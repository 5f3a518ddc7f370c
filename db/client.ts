import { connect as openSocket, type Socket, type TcpNetConnectOpts } from 'node:net'
import postgres from 'postgres'
import { fromStored, toStored } from '#db/anytext'

export type Sql = postgres.Sql<{ bigint: number }>
export type Tx = postgres.TransactionSql<{ bigint: number }>
/** Anything that runs queries: the client, or a transaction of it. */
export type Db = Sql | Tx
/** A statement that was not sent yet. */
export type Statement = postgres.PendingQuery<postgres.Row[]>

/**
 * A client with the house's types: `bigint` as a number (counts, never past 2^53),
 * snake_case columns as camelCase fields, and any text at all in and out.
 */
export function connect(url: string, options: { max?: number; name?: string; settings?: Record<string, string> } = {}): Sql {
  return postgres(url, {
    max: options.max ?? 8,
    // Compiling a query takes longer than any of ours gains by it.
    connection: { application_name: options.name ?? 'cavlin', jit: 'off', ...options.settings } as never,
    onnotice: () => {},
    socket: promptSocket,
    transform: { column: { from: postgres.toCamel } },
    types: {
      bigint: { to: 20, from: [20], serialize: (n: number) => String(n), parse: (s: string) => Number(s) },
      text: { to: 25, from: [25, 1043], serialize: (s: unknown) => toStored(String(s)), parse: fromStored },
      json: { to: 3802, from: [114, 3802], serialize: (v: unknown) => storeJson(v), parse: (s: string) => s.includes('\uE000') ? walk(JSON.parse(s), fromStored) : JSON.parse(s) },
    } as never,
  } as never) as unknown as Sql
}

const FULL_BYTES = 1024 * 1024

/**
 * A connection that sends at once. Statements that are sent one behind the other
 * would otherwise wait, up to 40 ms, for the acknowledgement of the first (Nagle's algorithm, RFC 896).
 * What is written in one turn of the event loop goes out in one piece. Postgres.js holds the next statement
 * back while a socket says that it is full, which at the usual 16 kB is in the middle of a batch: each statement
 * behind that would cost a round trip of its own.
 */
function promptSocket({ host, port }: { host: string[]; port: number[] }): Promise<Socket> {
  return new Promise((done, failed) => {
    const socket = openSocket({ host: host[0], port: port[0]!, noDelay: true, writableHighWaterMark: FULL_BYTES } as TcpNetConnectOpts)
    const write = socket.write.bind(socket) as (...args: unknown[]) => boolean
    socket.write = ((...args: unknown[]) => {
      if (!socket.writableCorked) {
        socket.cork()
        process.nextTick(() => socket.uncork())
      }
      return write(...args)
    }) as Socket['write']
    socket.once('connect', () => {
      socket.off('error', failed)
      done(socket)
    })
    socket.once('error', failed)
  })
}

/** A text is taken for JSON that is written already (`written`), which is how the job queue hands it over. */
const storeJson = (value: unknown): string => typeof value === 'string' ? value : written(value)

/**
 * A value as JSON for the database. A large one is better written before it is handed to a query, which keeps what it
 * was given until the garbage is collected: a text is lighter to keep than all that the rows refer to.
 */
export function written(value: unknown): string {
  const json = JSON.stringify(value)
  // A search for a text is much faster than one for a pattern, and nearly all has neither.
  return (json.includes('\\u') || json.includes('\uE000')) && /\\u0000|\\ud[89a-f]|[\uE000]/i.test(json) ? JSON.stringify(walk(value, toStored)) : json
}

/** A value with every text in it changed; what needs no change stays the same object. */
function walk(value: unknown, change: (text: string) => string): unknown {
  if (typeof value === 'string') return change(value)
  if (Array.isArray(value)) return value.map(v => walk(v, change))
  if (value && typeof value === 'object' && !(value instanceof Date)) return Object.fromEntries(Object.entries(value).map(([k, v]) => [change(k), walk(v, change)]))
  return value
}
