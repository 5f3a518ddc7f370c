import { setPriority } from 'node:os'
import { forgetRefused } from '#db/asides'
import { connect } from '#db/client'
import { forgetProofs } from '#db/proofs'
import { beat } from '#db/pulse'
import { setting } from '#server/database'
import { fadeScores } from '#server/jobs/fade'
import { sendLetters } from '#server/jobs/letters'
import { createPost, mailNotice, mailTrial } from '#server/jobs/mail'
import { FADE, jobQueue, MAIL, prepareQueues, TRIAL, type TrialMail } from '#server/jobs/queue'
import { writeReminders } from '#server/jobs/reminders'
import { CHANNEL, say, type Change } from '#server/live/say'
import { keepTrailTidy } from '#server/trail/tidy'

/** The process that does what happens later. Any number of them may run. It yields to those for whom somebody waits. */
setPriority(10)

const BEAT_MS = 2000
const LETTERS_MS = 2000
const HOUR = 3_600_000
/** What was refused can be let in for so long. */
const REFUSED_DAYS = 7

const sql = connect(setting('CAVLIN_DATABASE'), { name: 'cavlin worker', max: 4 })
const boss = jobQueue(connect(setting('CAVLIN_DATABASE'), { name: 'cavlin queue', max: 1 }))
boss.on('error', error => console.error('The job queue:', error.message))
const post = createPost(setting('CAVLIN_SMTP'), process.env.CAVLIN_MAIL_FROM ?? 'Cavlin <cavlin@larkmoss.example>', setting('CAVLIN_URL'))

await boss.start()
await prepareQueues(boss)

const AT_ONCE = 8
const mailer = await boss.work<{ notices: string[] }>(MAIL, { pollingIntervalSeconds: 1, batchSize: AT_ONCE }, async (jobs) => {
  if (jobs.length === AT_ONCE) boss.notifyWorker(mailer)
  const sent = await Promise.allSettled(jobs.flatMap(job => job.data.notices).map(notice => mailNotice(sql, post, notice)))
  const leads = sent.flatMap(s => s.status === 'fulfilled' && s.value ? [s.value] : [])
  if (leads.length) await say(sql, { leads })
  // All of them come again; those that went out are passed over.
  const failed = sent.find(s => s.status === 'rejected')
  if (failed) throw new Error(`Mail could not be handed over and will be tried again: ${(failed.reason as Error).message}`)
})
await boss.work<TrialMail>(TRIAL, { pollingIntervalSeconds: 1 }, async ([job]) => {
  if (job) await mailTrial(post, job.data)
})
await boss.work(FADE, { pollingIntervalSeconds: 30 }, async () => {
  const leads = await fadeScores(sql, Date.now(), HOUR / 2)
  await forgetProofs(sql, new Date())
  await keepTrailTidy(sql, new Date())
  await forgetRefused(sql, new Date(Date.now() - REFUSED_DAYS * 24 * HOUR))
  if (leads.length) await say(sql, { leads })
})
await keepTrailTidy(sql, new Date())
await boss.schedule(FADE, '7 * * * *')

/** Letters to visitors: what is due goes out, in this process one round at a time. */
let sending = false
async function letters(): Promise<void> {
  if (sending) return
  sending = true
  try {
    const leads = await sendLetters(sql, post)
    if (leads.length) await say(sql, { leads })
    // Behind the letters that are due: a reminder that cannot be written must hold none of them up. It goes out in the next round.
    await writeReminders(sql, new Date())
  } catch (error) {
    console.error('Letters could not be sent and will be tried again:', (error as Error).message)
  } finally {
    sending = false
  }
}
const postman = setInterval(() => void letters(), LETTERS_MS)

// A new entry wakes the mailer at once; without the call it would look within a second.
let waking: NodeJS.Timeout | undefined
await sql.listen(CHANNEL, (text) => {
  if (!(JSON.parse(text) as Change).jobs || waking) return
  boss.notifyWorker(mailer)
  void letters()
  waking = setTimeout(() => { waking = undefined }, 250)
})

const pulse = setInterval(() => void beat(sql, 'worker').catch(error => console.error('The worker cannot reach the database:', error.message)), BEAT_MS)
await beat(sql, 'worker')
console.log('The worker is at work.')

for (const signal of ['SIGTERM', 'SIGINT'] as const) {
  process.once(signal, () => {
    clearInterval(pulse)
    clearInterval(postman)
    void boss.stop({ graceful: true, timeout: 5000 }).then(() => sql.end({ timeout: 2 })).finally(() => process.exit(0))
  })
}
