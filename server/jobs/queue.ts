import PgBoss from 'pg-boss'
import type { Db, Sql } from '#db/client'

/** Mails to members who rehearse a form. */
export const TEST_MAIL = 'trial'
/** Mails to members about their own account. */
export const ALERT = 'alert'
/** Letting go of what is kept for a time only. */
export const RETENTION = 'retention'
/** What worked out scores hour by hour, in versions of before. */
const GONE = 'fade'

const through = (db: Db) => ({
  async executeSql(text: string, values: unknown[] = []) {
    return { rows: await db.unsafe(text, values.map(v => v ?? null) as never[], { prepare: values.length > 0 }) as unknown as unknown[] }
  },
})

/** A handle on the job queue. The one that works jobs needs a client with `max: 1`; one that only adds them does not. */
export const jobQueue = (sql: Sql) => new PgBoss({ db: through(sql), schema: 'pgboss' })

/** Prepares the queues; harmless when they are there. */
export async function prepareQueues(boss: PgBoss): Promise<void> {
  await boss.createQueue(TEST_MAIL, { name: TEST_MAIL, retryLimit: 20, retryDelay: 15, retryBackoff: true, expireInSeconds: 60 })
  await boss.createQueue(ALERT, { name: ALERT, retryLimit: 20, retryDelay: 15, retryBackoff: true, expireInSeconds: 60 })
  await boss.createQueue(RETENTION, { name: RETENTION, retryLimit: 1, expireInSeconds: 600 })
  await boss.unschedule(GONE)
}

/** What an owner would be mailed, for the member who rehearses. */
export interface TestMail { to: { name: string; address: string }; subject: string; text: string; lines: { label: string; text: string }[] }

/** Adds a job that mails a member what an owner would have been mailed. */
export const enqueueTestMail = (boss: PgBoss, db: Db, mail: TestMail) => boss.insert([{ name: TEST_MAIL, data: mail }], { db: through(db) } as PgBoss.InsertOptions)

/** What a member is mailed about their own account. */
export interface Alert { to: { name: string; address: string }; subject: string; text: string }
export const enqueueAlert = (boss: PgBoss, db: Db, alert: Alert) => boss.insert([{ name: ALERT, data: alert }], { db: through(db) } as PgBoss.InsertOptions)
