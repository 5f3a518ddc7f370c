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
 * How long things may take, by who asks. `statement`: the database gives a statement up after so many ms, and a transaction
 * in which nothing happens. `silent`: after so many ms without a word a connection counts as dead, whatever it is that
 * swallows what is sent; it must be the longer of both.
 */
export interface Patience {
  statement: number
  silent: number
}
/** For what somebody waits for. */
export const PROMPT: Patience = { statement: 8_000, silent: 9_000 }
/** For long readings: segments over a large trail, exports. */
export const LONG: Patience = { statement: 60_000, silent: 65_000 }
/** For what is done in the background. */
export const PATIENT: Patience = { statement: 120_000, silent: 130_000 }
const CONNECT_SECONDS = 4

export interface Options {
  max?: number
  name?: string
  settings?: Record<string, string>
  /** None: as long as it takes (migrations, archives, dumps, tests). */
  patience?: Patience
  /** Called when a connection was lost. */
  onLost?: () => void
  onNotice?: (channel: string, payload: string) => void
}

/** A client as Postgres.js makes it, with the house's types; see `connect` for what is better asked for. */
export function openClient(url: string, options: Options = {}): Sql {
  const { patience } = options
  const limits = patience && {
    statement_timeout: patience.statement,
    idle_in_transaction_session_timeout: patience.statement,
    lock_timeout: patience.statement,
  }
  return postgres(url, {
    max: options.max ?? 8,
    // Compiling a query takes longer than any of ours gains by it.
    connection: { application_name: options.name ?? 'cavlin', jit: 'off', ...limits, ...options.settings } as never,
    onnotice: () => {},
    socket: ({ host, port }: { host: string[]; port: number[] }) => promptSocket(host[0]!, port[0]!, patience?.silent),
    connect_timeout: CONNECT_SECONDS,
    // What comes back shall be found soon: by its own rule the client would wait up to 20 s.
    backoff: (tries: number) => Math.min(1, 0.05 * 2 ** tries),
    ...(options.onLost && { onclose: options.onLost }),
    ...(options.onNotice && { onnotify: options.onNotice }),
    // One connection that is somebody's own is not ended in the midst of it.
    ...(options.max === 1 && { max_lifetime: null }),
    transform: { column: { from: postgres.toCamel } },
    types: {
      bigint: { to: 20, from: [20], serialize: (n: number) => String(n), parse: (s: string) => Number(s) },
      text: { to: 25, from: [25, 1043], serialize: (s: unknown) => toStored(String(s)), parse: fromStored },
      json: {
        to: 3802,
        from: [114, 3802],
        serialize: (v: unknown) => storeJson(v),
        parse: (s: string) => (s.includes('\uE000') ? walk(JSON.parse(s), fromStored) : JSON.parse(s)),
      },
    } as never,
  } as never) as unknown as Sql
}

/** The database cannot be asked just now. */
export class Unavailable extends Error {
  override name = 'Unavailable'
  constructor(why: string) {
    super(`The database cannot be asked: ${why}.`)
  }
}

/** Errors of the line (Node, Postgres.js), and of a database that comes, goes, is full, or gave something up (PostgreSQL, appendix A). */
const AWAY = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  'ETIMEDOUT',
  'ENOTFOUND',
  'EAI_AGAIN',
  'EHOSTUNREACH',
  'ENETUNREACH',
  'ERR_STREAM_DESTROYED',
  'CONNECTION_CLOSED',
  'CONNECTION_ENDED',
  'CONNECTION_DESTROYED',
  'CONNECT_TIMEOUT',
  '57P01',
  '57P02',
  '57P03',
  '57P05',
  '57014',
  '55P03',
  '53300',
  '53400',
  '25P03',
  '25P04',
  '08000',
  '08001',
  '08003',
  '08004',
  '08006',
])
/** Whether an error says that the database cannot be asked just now, rather than that something was wrong with the asking. */
export const isAway = (error: unknown): boolean => error instanceof Unavailable || AWAY.has((error as { code?: string } | null)?.code ?? '')

const FULL_BYTES = 1024 * 1024

/**
 * A connection that sends at once. Statements that are sent one behind the other
 * would otherwise wait, up to 40 ms, for the acknowledgement of the first (Nagle's algorithm, RFC 896).
 * What is written in one turn of the event loop goes out in one piece. Postgres.js holds the next statement
 * back while a socket says that it is full, which at the usual 16 kB is in the middle of a batch: each statement
 * behind that would cost a round trip of its own.
 *
 * It is handed over before it stands: Postgres.js loses a connection for good whose socket it never got.
 */
function promptSocket(host: string, port: number, silent?: number): Socket {
  const socket = openSocket({ host, port, noDelay: true, writableHighWaterMark: FULL_BYTES } as TcpNetConnectOpts)
  const write = socket.write.bind(socket) as (...args: unknown[]) => boolean
  /** Since when an answer is due; 0 when none is. */
  let waits = 0
  socket.write = ((...args: unknown[]) => {
    waits ||= Date.now()
    if (!socket.writableCorked) {
      socket.cork()
      process.nextTick(() => socket.uncork())
    }
    return write(...args)
  }) as Socket['write']
  if (silent) {
    socket.on('data', (chunk: Buffer) => {
      waits = isReady(chunk) ? 0 : Date.now()
    })
    const watch = setInterval(() => {
      if (waits && Date.now() - waits > silent)
        socket.destroy(Object.assign(new Error('The database does not answer.'), { code: 'ETIMEDOUT' }))
    }, 500)
    watch.unref()
    socket.once('close', () => clearInterval(watch))
  }
  return socket
}

/** Whether a chunk ends with the server's word that it waits for the next statement (ReadyForQuery). */
const isReady = (chunk: Buffer): boolean =>
  chunk.length >= 6 && chunk[chunk.length - 6] === 0x5a && chunk.readUInt32BE(chunk.length - 5) === 5

/** A text is taken for JSON that is written already (`written`), which is how the job queue hands it over. */
const storeJson = (value: unknown): string => (typeof value === 'string' ? value : written(value))

/**
 * A value as JSON for the database. A large one is better written before it is handed to a query, which keeps what it
 * was given until the garbage is collected: a text is lighter to keep than all that the rows refer to.
 */
export function written(value: unknown): string {
  const json = JSON.stringify(value)
  // A search for a text is much faster than one for a pattern, and nearly all has neither.
  return (json.includes('\\u') || json.includes('\uE000')) && /\\u0000|\\ud[89a-f]|[\uE000]/i.test(json)
    ? JSON.stringify(walk(value, toStored))
    : json
}

/** A value with every text in it changed; what needs no change stays the same object. */
function walk(value: unknown, change: (text: string) => string): unknown {
  if (typeof value === 'string') return change(value)
  if (Array.isArray(value)) return value.map(v => walk(v, change))
  if (value && typeof value === 'object' && !(value instanceof Date))
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [change(k), walk(v, change)]))
  return value
}
