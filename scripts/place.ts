import { randomBytes } from 'node:crypto'
import { accessSync, constants, existsSync, mkdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { dirname, isAbsolute, join, resolve } from 'node:path'
import type { Purpose } from '#server/keys'
import { Stop } from './say'

/** Where this copy lives: its data folder and its ports, all following from the first. */
export interface Place {
  root: string
  data: string
  host: string
  ports: { app: number; database: number; site: number; mailbox: number; smtp: number; receiver: number }
  url: string
}

export function readPlace(root: string): Place {
  const first = Number(process.env.CAVLIN_PORT || 4310)
  if (!Number.isInteger(first) || first < 1024 || first > 65_529)
    throw new Stop(`CAVLIN_PORT is “${process.env.CAVLIN_PORT}”; it must be a whole number from 1024 to 65529.`)
  const wanted = process.env.CAVLIN_DATA || '.cavlin'
  const host = process.env.CAVLIN_HOST || '127.0.0.1'
  const ports = { app: first, database: first + 1, site: first + 2, mailbox: first + 3, smtp: first + 4, receiver: first + 5 }
  return { root, data: isAbsolute(wanted) ? wanted : resolve(root, wanted), host, ports, url: `http://127.0.0.1:${first}` }
}

/** Makes a folder and what leads to it, one by one: Node's recursive way never ends where the system forbids it, as under /proc. */
function makeFolder(path: string): void {
  if (existsSync(path)) return
  makeFolder(dirname(path))
  mkdirSync(path)
}

/** Makes the data folder. @throws Stop when it cannot be written */
export function prepareFolder(data: string): void {
  try {
    makeFolder(data)
    accessSync(data, constants.W_OK | constants.X_OK)
    const probe = join(data, '.probe')
    writeFileSync(probe, '')
    rmSync(probe)
  } catch (error) {
    throw new Stop(
      `The data folder ${data} cannot be written (${(error as NodeJS.ErrnoException).code ?? error}). Choose another with CAVLIN_DATA, or change its permissions.`,
    )
  }
}

/** What is secret in a data folder: the database's passwords, of the application and of who looks after it, and the keys that sign. */
export interface Secrets {
  database: string
  admin: string
  keys: Record<Purpose, string[]>
}

const secretsFile = (data: string) => join(data, 'secrets.json')
export const newKey = (): string => randomBytes(32).toString('hex')

/** The secrets of a data folder, made at the first start. A folder of an earlier day keeps what it has: its links live on. */
export function secrets(data: string): Secrets {
  const file = secretsFile(data)
  const read = existsSync(file) ? (parsed(file) as (Partial<Secrets> & { session?: string }) | null) : {}
  if (!read || (existsSync(file) && !read.database))
    throw new Stop(`${file} is damaged. Put a copy of it back; without it the database in the same folder cannot be opened.`)
  const before = read.session ? [read.session] : []
  const whole: Secrets = {
    database: read.database ?? newKey().slice(0, 48),
    admin: read.admin ?? newKey().slice(0, 48),
    keys: read.keys ?? { links: [newKey(), ...before], leave: [newKey(), ...before], proofs: [newKey()], words: [newKey()] },
  }
  if (!read.keys || !read.admin) keepSecrets(data, whole)
  return whole
}

/** Writes secrets beside their file and puts them there, so that half of them never stands. */
export function keepSecrets(data: string, whole: Secrets): void {
  const file = secretsFile(data)
  writeFileSync(`${file}.new`, JSON.stringify(whole, null, 2), { mode: 0o600 })
  renameSync(`${file}.new`, file)
}

function parsed(file: string): unknown {
  try {
    return JSON.parse(readFileSync(file, 'utf8'))
  } catch {
    return null
  }
}

const CALLED = {
  app: 'the application',
  database: 'the database',
  site: 'the sample site',
  mailbox: 'the mailbox',
  smtp: 'the mailbox’s mail server',
  receiver: 'the receiver',
}

/** @throws Stop naming a port that another program holds */
export async function portsFree(place: Place): Promise<void> {
  for (const [name, port] of Object.entries(place.ports)) {
    const free = await new Promise<boolean>(done => {
      const server = createServer()
      server.once('error', () => done(false))
      server.listen(port, place.host, () => server.close(() => done(true)))
    })
    if (!free)
      throw new Stop(
        `Port ${port} (for ${CALLED[name as keyof typeof CALLED]}) is taken by another program. End that, or choose other ports with CAVLIN_PORT: six in a row are used, from ${place.ports.app}.`,
      )
  }
}

/**
 * Takes the data folder for this process, so that two starts do not work in it at once.
 * @returns gives it back
 */
export function occupy(data: string): () => void {
  const file = join(data, 'running.json')
  if (existsSync(file)) {
    try {
      const { pid, started } = JSON.parse(readFileSync(file, 'utf8'))
      if (pid !== process.pid && startOf(pid) === started)
        throw new Stop(
          `Cavlin runs from this folder already (process ${pid}). Use that one, end it with Ctrl-C, or choose another folder and other ports with CAVLIN_DATA and CAVLIN_PORT.`,
        )
    } catch (error) {
      if (error instanceof Stop) throw error
    }
  }
  writeFileSync(file, JSON.stringify({ pid: process.pid, started: startOf(process.pid) }))
  return () => rmSync(file, { force: true })
}

/** When a process started, in clock ticks since boot: tells a process from a later one with the same number. */
function startOf(pid: number): string | null {
  try {
    return readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1]!.split(' ')[19]!
  } catch {
    return null
  }
}
