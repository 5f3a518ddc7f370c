import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { connect, type Sql } from '#db/client'
import { isEmpty } from '#db/house'
import { pointRows } from '#db/points'
import { issueKey } from '#server/api-keys'
import { importArchive } from '#server/archive/import'
import { jobQueue, prepareQueues } from '#server/jobs/queue'
import { MEMBERS } from '../demo/firm'
import { history, type HistoryOptions } from '../demo/history'
import { BACK, build } from './build'
import { keep, untilReady, type Kept } from './children'
import { endLeftOver, startCluster, type Cluster } from './cluster'
import { occupy, portsFree, prepareFolder, secrets, type Place, type Secrets } from './place'
import { run } from './run'
import { step, Stop } from './say'
import { mistakesIn } from '#server/settings'
import { keepCopy, takeCopy } from './copy-house'

/** A whole Cavlin: database, application, worker, stand-ins. */
export interface House {
  place: Place
  databaseUrl: string
  /** The same, as who looks after the cluster. */
  adminUrl: string
  /** The process whose children serve the database. */
  postmaster: () => number | undefined
  children: Record<'app' | 'worker' | 'site' | 'mailbox' | 'receiver', Kept>
  stop: () => Promise<void>
}

export interface Wishes {
  demo?: Partial<HistoryOptions>
  env?: NodeJS.ProcessEnv
  onGiveUp?: (name: string) => void
  /** Reads along what the processes say, instead of their standing on the screen. */
  onOutput?: (text: string) => void
  /** Where a copy of the database is put once it is filled, for houses that are to be like this one. */
  keepCopy?: string
  /** A house to be like, and its copy: taking one over is quicker than living through its history again. */
  like?: { place: Place; copy: string }
  /** Called first, with what ends all that was started until then. */
  opening?: (stop: () => Promise<void>) => void
}

/**
 * How the application's memory is kept. What requests leave behind is collected by the thread that made it: helpers that wait
 * for each other cost more on few cores. And nothing is believed to be long-lived because its like once was: V8 learns that
 * while it warms up, keeps every query's values among what is old, and with them all that they refer to (decision 26).
 */
const MEMORY = ['--min-semi-space-size=16', '--single-threaded-gc', '--no-allocation-site-pretenuring']

/** Starts everything, in order; whatever was started before an error is ended again. */
export async function openHouse(place: Place, wishes: Wishes = {}): Promise<House> {
  const undo: (() => Promise<void> | void)[] = []
  const stop = async () => {
    for (const step of undo.splice(0).reverse()) await step()
  }
  wishes.opening?.(stop)
  try {
    const mistakes = mistakesIn({ ...process.env, ...wishes.env }, false)
    if (mistakes.length) throw new Stop(mistakes.join('\n'))
    prepareFolder(place.data)
    undo.push(occupy(place.data))
    await build(place.root)
    const secret = secrets(place.data)
    // A database of an earlier start, which could not end it, would hold its port.
    await endLeftOver(place.data)
    await portsFree(place)
    const cluster = await startCluster(place.data, place.ports.database, secret, () => wishes.onGiveUp?.('The database'))
    undo.push(() => cluster.stop())
    await prepareDatabase(place, cluster, wishes)
    const env = environment(place, cluster.url, secret, wishes.env)
    const start = (name: string, args: string[]) => {
      const child = keep(name, args, { cwd: place.root, env, onGiveUp: wishes.onGiveUp ?? (() => {}), onOutput: wishes.onOutput })
      undo.push(async () => void (await child.stop()))
      return child
    }
    const tsx = (script: string) => ['--import', 'tsx', script]
    const children = {
      mailbox: start('The mailbox', tsx('standins/mailbox.ts')),
      receiver: start('The receiver', tsx('standins/receiver.ts')),
      site: start('The sample site', tsx('standins/site.ts')),
      worker: start('The worker', ['--enable-source-maps', join(BACK, 'worker.mjs')]),
      app: start('The application', [...MEMORY, '.output/server/index.mjs']),
    }
    await step('Starting the application, its worker and the stand-ins', () =>
      Promise.all([
        untilReady(`${place.url}/health`, 60, status => status === 200),
        ...[place.ports.site, place.ports.mailbox, place.ports.receiver].map(port => untilReady(`http://127.0.0.1:${port}/`, 60)),
      ]),
    )
    return { place, databaseUrl: cluster.url, adminUrl: cluster.adminUrl, postmaster: cluster.pid, children, stop }
  } catch (error) {
    await stop()
    throw error
  }
}

/** Brings the database up to date, in a process of its own. */
async function migrated(place: Place, cluster: Cluster): Promise<void> {
  const env = { ...process.env, CAVLIN_DATABASE: cluster.url }
  const { code, output } = await run(process.execPath, ['--enable-source-maps', join(BACK, 'migrate.mjs')], { cwd: place.root, env })
  if (code !== 0) throw new Stop(`The database could not be brought up to date:\n${output.trim()}`)
}

async function prepareDatabase(place: Place, cluster: Cluster, wishes: Wishes): Promise<void> {
  if (wishes.like) await step('Copying a filled house', () => takeCopy(wishes.like!, place, cluster.url))
  await migrated(place, cluster)
  const sql = connect(cluster.url, { name: 'cavlin start', max: 2 })
  const queue = connect(cluster.url, { name: 'cavlin start', max: 1 })
  try {
    const boss = jobQueue(queue)
    boss.on('error', () => {})
    await boss.start()
    await prepareQueues(boss)
    await boss.stop({ graceful: false })
    if (await isEmpty(sql)) {
      await step('Filling in four months of made-up history', async note => {
        const lines = history({ now: Date.now(), site: standins(place).site, home: place.url, ...wishes.demo })
        await importArchive(sql, lines, done => note(`${done} of ${lines.length} lines`))
        await sql`analyze`
      })
    }
    if (wishes.keepCopy) await keepCopy(cluster.url, wishes.keepCopy)
    await writeDemoFile(place, sql)
  } finally {
    await sql.end({ timeout: 2 })
    await queue.end({ timeout: 2 })
  }
}

const standins = (place: Place) => ({
  site: `http://127.0.0.1:${place.ports.site}`,
  mailbox: `http://127.0.0.1:${place.ports.mailbox}`,
  receiver: `http://127.0.0.1:${place.ports.receiver}`,
})
export const demoFile = (data: string) => join(data, 'demo.json')

/** Writes what people and programs need to drive the demo, for its owner only: passwords stand in it. A key that was given out before stays. */
async function writeDemoFile(place: Place, sql: Sql): Promise<void> {
  const file = demoFile(place.data)
  let apiKey: string | undefined
  if (existsSync(file)) {
    try {
      apiKey = (JSON.parse(readFileSync(file, 'utf8')) as { apiKey?: string }).apiKey
    } catch {
      /* half written by a start that was killed: a new one is made */
    }
  }
  apiKey ??= await issueKey(sql, 'Demo', null)
  const points = (await pointRows(sql)).filter(p => p.liveNumber !== null)
  const order = ['form_visit', 'form_guide', 'form_care', 'form_journal', 'form_plan']
  const rank = (key: string) => (order.includes(key) ? order.indexOf(key) : order.length)
  const demo = {
    url: place.url,
    apiKey,
    members: MEMBERS.map(m => ({ email: m.email, password: m.password, role: m.role, name: m.name })),
    points: points.map(({ name, kind, slug, key }) => ({ name, kind, slug, key })).sort((a, b) => rank(a.key) - rank(b.key)),
    standins: standins(place),
  }
  writeFileSync(`${file}.new`, JSON.stringify(demo, null, 2), { mode: 0o600 })
  renameSync(`${file}.new`, file)
}

/** What the processes are told. What the one who starts has set goes along. */
function environment(place: Place, databaseUrl: string, { keys }: Secrets, more: NodeJS.ProcessEnv = {}): NodeJS.ProcessEnv {
  return {
    ...process.env,
    NODE_ENV: 'production',
    TSX_TSCONFIG_PATH: join(place.root, 'tsconfig.node.json'),
    NITRO_HOST: place.host,
    NITRO_PORT: String(place.ports.app),
    HOST: place.host,
    PORT: String(place.ports.app),
    CAVLIN_URL: place.url,
    CAVLIN_DATABASE: databaseUrl,
    CAVLIN_SMTP: `smtp://127.0.0.1:${place.ports.smtp}`,
    CAVLIN_DEMO_FILE: demoFile(place.data),
    CAVLIN_SITE_PORT: String(place.ports.site),
    CAVLIN_MAILBOX_PORT: String(place.ports.mailbox),
    CAVLIN_CHAT_INSIDE: `127.0.0.1:${place.ports.receiver},127.0.0.1:${place.ports.site}`,
    CAVLIN_SMTP_PORT: String(place.ports.smtp),
    CAVLIN_RECEIVER_PORT: String(place.ports.receiver),
    CAVLIN_KEYS_LINKS: keys.links.join(),
    CAVLIN_KEYS_LEAVE: keys.leave.join(),
    CAVLIN_KEYS_PROOFS: keys.proofs.join(),
    CAVLIN_KEYS_WORDS: keys.words.join(),
    ...more,
  }
}

export { Stop }
