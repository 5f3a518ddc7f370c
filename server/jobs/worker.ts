import { setPriority } from 'node:os'
import { forgetRefused } from '#db/review'
import { connect, isAway, LONG, PATIENT } from '#db/client'
import { keepListening } from '#db/listen'
import { forgetProofs } from '#db/proofs'
import { beat } from '#db/pulse'
import { forgetAllowances } from '#db/allowances'
import { forgetSenders } from '#db/mails'
import { forgetSessions } from '#db/sessions'
import { setting } from '#server/database'
import { goOnWithImports } from '#server/lists/import'
import { judgeDue, takeOver } from '#server/jobs/due'
import { sendMails } from '#server/jobs/visitor-mails'
import { longTransactions } from '#db/stream'
import { zoneOf } from '#db/house'
import { countFigures } from '#server/consumers/figures'
import { createPost, mailNotices, sendTestMail } from '#server/jobs/mail'
import { ALERT, jobQueue, prepareQueues, RETENTION, TEST_MAIL, type Alert, type TestMail } from '#server/jobs/queue'
import { writeReminders } from '#server/jobs/reminders'
import { briefly, tellUncaught } from '#server/log'
import { CHANNEL, say, type Change } from '#server/live/say'
import { LASTING } from '#server/session'
import { applyRetention } from '#server/trail/retention'

/** The process that does what happens later. Any number of them may run. It yields to those for whom somebody waits. */
setPriority(10)

const BEAT_MS = 2000
const MAILS_MS = 2000
const NOTICES_MS = 1000
const IMPORTS_MS = 15_000
const LABELS_MS = 3_000
const FIGURES_MS = 1_000
const WATCH_MS = 15_000
/** A transaction that writes for longer than this is said. */
const LONG_S = 30
const HOUR = 3_600_000
/** What was refused can be let in for so long. */
const REFUSED_DAYS = 7

const sql = connect(setting('CAVLIN_DATABASE'), { name: 'cavlin worker', max: 4, patience: PATIENT })
const boss = jobQueue(connect(setting('CAVLIN_DATABASE'), { name: 'cavlin queue', max: 1, patience: LONG }))
boss.on('error', error => console.error('The job queue:', briefly(error)))
const post = createPost(setting('CAVLIN_SMTP'), process.env.CAVLIN_MAIL_FROM ?? 'Cavlin <cavlin@larkmoss.example>', setting('CAVLIN_URL'))

// Postgres.js, when its connection is cut just while it looks up types, rejects a promise that nobody has. Whatever waited has heard.
tellUncaught((error) => {
  if (!isAway(error)) process.exit(1)
})

// The database may come later than we.
for (let n = 0; ; n++) {
  const error = await sql`select 1`.then(() => null, (e: Error) => e)
  if (!error) break
  if (!isAway(error)) throw error
  if (n % 10 === 0) console.error('The worker waits for the database.')
  await new Promise(r => setTimeout(r, 1000))
}
await boss.start()
await prepareQueues(boss)

await boss.work<TestMail>(TEST_MAIL, { pollingIntervalSeconds: 1 }, async ([job]) => {
  if (job) await sendTestMail(post, job.data)
})
await boss.work<Alert>(ALERT, { pollingIntervalSeconds: 1 }, async ([job]) => {
  if (job) await post.transport.sendMail({ from: post.from, ...job.data })
})
await boss.work(RETENTION, { pollingIntervalSeconds: 30 }, async () => {
  await forgetProofs(sql, new Date())
  await applyRetention(sql, new Date())
  await Promise.all([forgetSessions(sql, LASTING), forgetAllowances(sql), forgetSenders(sql)])
  await forgetRefused(sql, new Date(Date.now() - REFUSED_DAYS * 24 * HOUR))
})
await applyRetention(sql, new Date())
await boss.schedule(RETENTION, '7 * * * *')

let stopping = false
/** Rounds of some work, in this process one at a time; asked for while one is under way, another follows. */
function rounds(what: string, work: () => Promise<void>): { round: () => void; ended: () => Promise<unknown> } {
  let busy = false
  let again = false
  let said = ''
  let last: Promise<unknown> = Promise.resolve()
  function round(): void {
    again = busy
    if (busy || stopping) return
    busy = true
    last = work().then(() => { said = '' }, (error: Error) => {
      // A mail server may be down for a day: the same is said once.
      if (briefly(error) !== said) console.error(`${what} could not be dealt with and will be tried again:`, said = briefly(error))
    }).finally(() => {
      busy = false
      if (again) round()
    })
  }
  return { round, ended: () => last }
}
/** What members are told. */
const notices = rounds('Mails', async () => {
  const { leads, error } = await mailNotices(sql, post, () => !stopping)
  if (leads.length) await say(sql, { leads })
  if (error) throw error
})
/** Mails to visitors. */
const mails = rounds('Mails', async () => {
  const leads = await sendMails(sql, post)
  if (leads.length) await say(sql, { leads })
  // Behind the mails that are due: a reminder that cannot be written must hold none of them up. It goes out in the next round.
  await writeReminders(sql, new Date())
})
/** Labels that fall due, and scorecards that take effect. */
const labels = rounds('What is due', async () => {
  const tell = (leads: string[]) => say(sql, { leads })
  await judgeDue(sql, Date.now, tell)
  await takeOver(sql, tell)
})
const clock = setInterval(labels.round, LABELS_MS)
/** The house's figures follow what happens. */
const figures = rounds('Figures', async () => {
  const zone = await zoneOf(sql)
  while (!stopping && zone && await countFigures(sql, zone) > 0);
})
const bookkeeper = setInterval(figures.round, FIGURES_MS)
/** Who holds up all that follows what happens, is said: as long as it runs, nothing that comes behind it is counted. */
const watch = rounds('Long transactions', async () => {
  const [holding] = (await longTransactions(sql, LONG_S)).filter(t => t.holds)
  if (holding) console.error(`A transaction has been writing for ${holding.seconds} s (${holding.program || 'no name'}, database ${holding.database ?? 'unknown'}). Figures and all that follows leads wait until it ends.`)
})
const watchman = setInterval(watch.round, WATCH_MS)
/** Tables of people that were left in the midst. */
const imports = rounds('People of a table', async () => {
  const leads = await goOnWithImports(sql)
  if (leads.length) await say(sql, { leads, ruleset: true })
})
const porter = setInterval(imports.round, IMPORTS_MS)
const postman = setInterval(mails.round, MAILS_MS)
const messenger = setInterval(notices.round, NOTICES_MS)

// A new entry wakes them at once; without the call they would look within a second or two.
let waking: NodeJS.Timeout | undefined
const deafen = keepListening(setting('CAVLIN_DATABASE'), 'cavlin worker hears', CHANNEL, (text) => {
  if (!(JSON.parse(text) as Change).jobs || waking) return
  notices.round()
  mails.round()
  waking = setTimeout(() => { waking = undefined }, 250)
}, () => {})

const pulse = setInterval(() => void beat(sql, 'worker').catch(error => console.error('The worker cannot reach the database:', briefly(error))), BEAT_MS)
await beat(sql, 'worker')
console.log('The worker is at work.')

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    clearInterval(pulse)
    clearInterval(postman)
    clearInterval(porter)
    clearInterval(clock)
    clearInterval(bookkeeper)
    clearInterval(watchman)
    clearInterval(messenger)
    stopping = true
    // What is in hand is brought to its end, and noted: a mail that went out must not go out again.
    const ended = Promise.race([Promise.all([notices.ended(), mails.ended(), imports.ended(), labels.ended(), figures.ended(), watch.ended()]), new Promise(r => setTimeout(r, 5000))])
    void Promise.all([boss.stop({ graceful: true, timeout: 5000 }), ended]).then(() => Promise.all([deafen(), sql.end({ timeout: 2 })])).finally(() => process.exit(0))
  })
}
