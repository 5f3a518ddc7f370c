import PgBoss from 'pg-boss'
import type { Sql } from '#db/client'
import { TASKS } from '#server/jobs/tasks'

/** Queues of versions of before, empty since. */
const GONE = ['fade', 'trial', 'alert', 'mail']
/** Some minutes past each full hour. */
const HOURLY = '7 * * * *'

const through = (db: Sql) => ({
  async executeSql(text: string, values: unknown[] = []) {
    return { rows: (await db.unsafe(text, values.map(v => v ?? null) as never[], { prepare: values.length > 0 })) as unknown as unknown[] }
  },
})

/** A handle on the job queue, which keeps what is done by the clock; it needs a client with `max: 1`. */
export const jobQueue = (sql: Sql) => new PgBoss({ db: through(sql), schema: 'pgboss' })

/** Prepares a queue for each task; harmless when they are there. */
export async function prepareQueues(boss: PgBoss): Promise<void> {
  for (const name of Object.keys(TASKS)) await boss.createQueue(name, { name, retryLimit: 1, expireInSeconds: 600 })
  for (const name of GONE) {
    await boss.unschedule(name)
    if (await boss.getQueue(name)) await boss.deleteQueue(name)
  }
}

/** Carries the tasks out when their hour comes, each as a job of its own: one that fails stops no other, and its error is kept with it. */
export async function workTasks(boss: PgBoss, sql: Sql): Promise<void> {
  for (const [name, { work }] of Object.entries(TASKS)) {
    await boss.work(name, { pollingIntervalSeconds: 30 }, async () => {
      await work(sql, new Date())
    })
    await boss.schedule(name, HOURLY)
  }
}
