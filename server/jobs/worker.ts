import { setPriority } from 'node:os'
import { connect, isAway, LONG, PATIENT } from '#db/client'
import { keepListening } from '#db/listen'
import { beat } from '#db/pulse'
import { mailUnread } from '#server/chat/by-mail'
import { sizeOldOnes } from '#server/files/sizes'
import { goOnWithImports } from '#server/lists/import'
import { goLiveDue } from '#server/jobs/go-live'
import { letInDue } from '#server/review/let-in'
import { workDryRun } from '#server/scoring/dry-run'
import { workLearning } from '#server/scoring/learn'
import { writeSummaries } from '#server/deliveries/summaries'
import { readRuleset } from '#server/ruleset'
import { workPlanRun } from '#server/routing/plan-run'
import { workBulk } from '#server/follow-up/bulk'
import { judgeDue, leaveStatuses, takeOver } from '#server/jobs/due'
import { LONG_S, longTransactions } from '#db/stream'
import { vocabulary, zoneOf } from '#db/house'
import { countFigures } from '#server/consumers/figures'
import { findAlike, MOST_ALIKE } from '#server/consumers/likeness'
import { countResults } from '#server/consumers/results'
import { createPost } from '#server/deliveries/mail'
import { MOST_LINES, outbox, SLOTS } from '#server/deliveries/outbox'
import { jobQueue, prepareQueues, workTasks } from '#server/jobs/queue'
import { writeReminders } from '#server/jobs/reminders'
import { briefly, tellUncaught } from '#server/log'
import { CHANNEL, say, sayTogether, type Change } from '#server/live/say'
import { applyRetention } from '#server/trail/retention'
import { ownAddress, setting, stopOnMistakes } from '#server/settings'

/** The process that does what happens later. Any number of them may run. It yields to those for whom somebody waits. */
setPriority(10)

const BEAT_MS = 2000
const DELIVERIES_MS = 1000
const REMINDERS_MS = 5000
/** Screens are told at most so often of what went out. */
const TELL_MS = 100
const IMPORTS_MS = 15_000
const LABELS_MS = 3_000
const FIGURES_MS = 1_000
const GO_LIVE_MS = 2_000
const DRY_RUNS_MS = 1_000
const TELL_RUN_MS = 500
const LET_IN_MS = 1_000
const PICTURES_MS = 5_000
const WATCH_MS = 15_000

stopOnMistakes()
const sql = connect(setting('CAVLIN_DATABASE'), { name: 'cavlin worker', max: 6, patience: PATIENT })
const boss = jobQueue(connect(setting('CAVLIN_DATABASE'), { name: 'cavlin queue', max: 1, patience: LONG }))
boss.on('error', error => console.error('The job queue:', briefly(error)))
const post = createPost(setting('CAVLIN_SMTP'), setting('CAVLIN_MAIL_FROM'), ownAddress(), MOST_LINES)

// Postgres.js, when its connection is cut just while it looks up types, rejects a promise that nobody has. Whatever waited has heard.
tellUncaught(error => {
  if (!isAway(error)) process.exit(1)
})

// The database may come later than we.
for (let n = 0; ; n++) {
  const error = await sql`select 1`.then(
    () => null,
    (e: Error) => e,
  )
  if (!error) break
  if (!isAway(error)) throw error
  if (n % 10 === 0) console.error('The worker waits for the database.')
  await new Promise(r => setTimeout(r, 1000))
}
await boss.start()
await prepareQueues(boss)

await workTasks(boss, sql)
await applyRetention(sql, new Date())

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
    last = work()
      .then(
        () => {
          said = ''
        },
        (error: Error) => {
          // A mail server may be down for a day: the same is said once.
          if (briefly(error) !== said) console.error(`${what} could not be dealt with and will be tried again:`, (said = briefly(error)))
        },
      )
      .finally(() => {
        busy = false
        if (again) round()
      })
  }
  return { round, ended: () => last }
}
/** All that leaves the house. */
const tellScreens = sayTogether(sql, TELL_MS)
let problem = ''
const out = outbox(sql, post, done => {
  // A mail server may be down for a day: the same is said once.
  if (done.problem && done.problem !== problem) console.error('A mail could not be handed over and will be tried again:', done.problem)
  problem = done.problem ?? ''
  tellScreens({ leads: done.leads, deliveries: true })
})
const senders = SLOTS.map(slot => rounds('Deliveries', async () => void (await out.work(slot, () => !stopping))))
/** Members' own chats; one that does not answer holds up no mail. */
const chats = outbox(sql, post, done => tellScreens({ leads: done.leads, deliveries: true }), 'chat')
const talkers = SLOTS.slice(1, 3).map(slot => rounds('Messages to chats', async () => void (await chats.work(slot, () => !stopping))))
const send = () => [...senders, ...talkers].forEach(sender => sender.round())
const postman = setInterval(send, DELIVERIES_MS)
/** Reminders of what was left unfinished; they go out with the deliveries. */
const reminders = rounds('Reminders', async () => {
  if (await writeReminders(sql, new Date())) send()
})
const reminder = setInterval(reminders.round, REMINDERS_MS)
/** What somebody who left a chat has not read there. */
const unread = rounds('Conversations that go on by mail', async () => {
  const conversations = await mailUnread(sql, () => readRuleset(sql), new Date())
  if (!conversations.length) return
  await say(sql, { conversations })
  send()
})
const talker = setInterval(unread.round, REMINDERS_MS)
/** What members want to hear together. */
const summaries = rounds('Summaries', async () => {
  if (await writeSummaries(sql, () => readRuleset(sql), new Date())) send()
})
const summarist = setInterval(summaries.round, REMINDERS_MS)
/** Labels that fall due, and scorecards that take effect. */
const labels = rounds('What is due', async () => {
  const tell = (leads: string[]) => say(sql, { leads })
  await judgeDue(sql, Date.now, (leads, notices) => {
    if (notices.length) send()
    return say(sql, { leads, ...(notices.length && { notices }) })
  })
  await leaveStatuses(sql, tell)
  await takeOver(sql, tell)
})
const clock = setInterval(labels.round, LABELS_MS)
/** What another scorecard would make of the leads. */
const tellRuns = sayTogether(sql, TELL_RUN_MS)
const dryRuns = rounds('A dry run', async () => {
  await workDryRun(
    sql,
    () => tellRuns({ dryRun: true }),
    () => !stopping,
  )
  await workPlanRun(
    sql,
    () => tellRuns({ dryRun: true }),
    () => !stopping,
  )
})
const rehearser = setInterval(dryRuns.round, DRY_RUNS_MS)
/** What somebody does to many leads at once. */
const many = rounds('What is done to many leads', async () => {
  await workBulk(
    sql,
    (leads, notices) => {
      if (notices.length) send()
      return say(sql, { ...(leads.length && { leads }), ...(notices.length && { notices }) })
    },
    () => !stopping,
  )
})
const manager = setInterval(many.round, DRY_RUNS_MS)
/** Scorecards that are learned, each in a thread of its own. */
const learning = rounds('Learning', async () => {
  while (!stopping && (await workLearning(sql, new URL('./learner.mjs', import.meta.url), () => tellRuns({ dryRun: true }))));
})
const teacher = setInterval(learning.round, DRY_RUNS_MS)
/** The house's figures follow what happens. */
const figures = rounds('Figures', async () => {
  const zone = await zoneOf(sql)
  while (!stopping && zone && (await countFigures(sql, zone)) > 0);
  while (!stopping && zone && (await countResults(sql, zone)) > 0);
})
const bookkeeper = setInterval(figures.round, FIGURES_MS)
/** People who are here twice. */
const likenesses = rounds('People who are here twice', async () => {
  const phones = (await vocabulary(sql)).properties.filter(p => p.kind === 'phone').map(p => p.key)
  for (let took = 1; !stopping && took > 0;) {
    const began = Date.now()
    const found = await findAlike(sql, phones)
    took = found.took
    if (found.isNew) await say(sql, { review: true })
    // A long way to catch up is gone with long pauses: nobody waits for it, and others do for the database.
    if (took === MOST_ALIKE) await new Promise(r => setTimeout(r, Math.min(10_000, 3 * (Date.now() - began))))
  }
})
const matchmaker = setInterval(likenesses.round, FIGURES_MS)
/** Who holds up all that follows what happens, is said: as long as it runs, nothing that comes behind it is counted. */
const watch = rounds('Long transactions', async () => {
  const [holding] = (await longTransactions(sql, LONG_S)).filter(t => t.holds)
  if (holding)
    console.error(
      `A transaction has been writing for ${holding.seconds} s (${holding.program || 'no name'}, database ${holding.database ?? 'unknown'}). Figures and all that follows leads wait until it ends.`,
    )
})
const watchman = setInterval(watch.round, WATCH_MS)
/** Forms and pages that go live by themselves. */
const opening = rounds('What goes live', async () => {
  const points = await goLiveDue(sql, new Date())
  if (points.length) await say(sql, { points })
})
const opener = setInterval(opening.round, GO_LIVE_MS)
/** Entries that somebody let in, once it can be taken back no longer. */
const admission = rounds('Entries that are let in', async () => {
  while (!stopping && (await letInDue(sql, new Date())) > 0);
})
const doorkeeper = setInterval(admission.round, LET_IN_MS)
/** Pictures that came before their sizes were made. */
const pictures = rounds('Sizes of pictures', () => sizeOldOnes(sql))
const draughtsman = setInterval(pictures.round, PICTURES_MS)
/** Tables of people that were left in the midst. */
const imports = rounds('People of a table', async () => {
  const leads = await goOnWithImports(sql)
  if (leads.length) await say(sql, { leads, lists: true })
})
const porter = setInterval(imports.round, IMPORTS_MS)

// A new entry wakes them at once; without the call they would look within a second or two.
let waking: NodeJS.Timeout | undefined
const deafen = keepListening(
  setting('CAVLIN_DATABASE'),
  'cavlin worker hears',
  CHANNEL,
  text => {
    if (!(JSON.parse(text) as Change).jobs || waking) return
    send()
    dryRuns.round()
    many.round()
    learning.round()
    waking = setTimeout(() => {
      waking = undefined
    }, 250)
  },
  () => {},
)

const pulse = setInterval(
  () => void beat(sql, 'worker').catch(error => console.error('The worker cannot reach the database:', briefly(error))),
  BEAT_MS,
)
await beat(sql, 'worker')
console.log('The worker is at work.')

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    for (const timer of [
      pulse,
      postman,
      reminder,
      talker,
      summarist,
      opener,
      draughtsman,
      porter,
      clock,
      rehearser,
      manager,
      teacher,
      bookkeeper,
      matchmaker,
      doorkeeper,
      watchman,
    ])
      clearInterval(timer)
    stopping = true
    // What is in hand is brought to its end, and noted: a mail that went out must not go out again.
    const ended = Promise.race([
      Promise.all(
        [
          ...senders,
          ...talkers,
          reminders,
          unread,
          summaries,
          opening,
          pictures,
          imports,
          labels,
          dryRuns,
          many,
          learning,
          figures,
          likenesses,
          admission,
          watch,
        ].map(work => work.ended()),
      ),
      new Promise(r => setTimeout(r, 5000)),
    ])
    void Promise.all([boss.stop({ graceful: true, timeout: 5000 }), ended])
      .then(() => Promise.all([deafen(), sql.end({ timeout: 2 })]))
      .finally(() => process.exit(0))
  })
}
