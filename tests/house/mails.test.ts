import { copyFileSync, mkdtempSync, readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { connect, type Sql } from '#db/client'
import { migrate } from '#db/migrate'
import { timelineOf } from '#db/timeline'
import { newId } from '#server/ids'
import { mailNotices, type Post } from '#server/jobs/mail'
import { freshDatabase, type TestDatabase } from '../support/database'

let db: TestDatabase
let sql: Sql
let [lead, member] = ['', '']
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
  member = (await sql<{ id: string }[]>`select id from member where active limit 1`)[0]!.id
  lead = newId()
  await sql`insert into lead (id, email, email_key, status, status_at, created_at, updated_at) select ${lead}, 'ada@l.example', 'ada@l.example', key, now(), now(), now() from status limit 1`
})
afterAll(() => db.drop())
beforeEach(() => sql`delete from notice`)

const tell = async (subject: string, mail = true) => {
  const id = newId()
  const at = new Date()
  await sql`insert into notice (id, member_id, lead_id, at, mail_at, subject, body) values (${id}, ${member}, ${lead}, ${at}, ${mail ? at : null}, ${subject}, ${{ text: subject } as never})`
  return id
}
/** A mail server that takes mails, but for some subjects. */
function post(refuses: string[] = [], slow = 0) {
  const got: string[] = []
  const sendMail = async ({ subject }: { subject: string }) => {
    await new Promise(r => setTimeout(r, slow))
    if (refuses.includes(subject)) throw new Error(`550 not ${subject}`)
    got.push(subject)
  }
  return { got, post: { transport: { sendMail }, from: 'a@b.example', appUrl: '' } as unknown as Post }
}

describe('notices that are to be mailed', () => {
  it('go out once, though two workers look at the same time', async () => {
    const subjects = Array.from({ length: 30 }, (_, i) => `n${i}`)
    for (const subject of subjects) await tell(subject)
    const { got, post: server } = post([], 5)
    const done = await Promise.all([mailNotices(sql, server), mailNotices(db.another(), server)])
    expect(got.sort()).toEqual(subjects.sort())
    expect(done.flatMap(d => d.leads)).toHaveLength(30)
    expect((await sql`select from notice where mailed_at is null or mail_at is not null`).count).toBe(0)
    const told = (await timelineOf(sql, lead, null, 200)).flatMap(l => l.kind === 'announced' ? l.payload.subject : [])
    expect(told.filter(subject => subjects.includes(subject)).sort()).toEqual(subjects.sort())
  })

  it('that the mail server does not take come again, and hold no other up', async () => {
    await tell('bad')
    await tell('good')
    const { got, post: server } = post(['bad'])
    const { leads, error } = await mailNotices(sql, server)
    expect([got, leads, error?.message]).toEqual([['good'], [lead], '550 not bad'])
    expect((await mailNotices(sql, server)).error).toBeNull()
    await sql`update notice set mail_at = now() where mail_at is not null`
    const later = post()
    await mailNotices(sql, later.post)
    expect(later.got).toEqual(['bad'])
  })

  it('are not those that are told at the bell only', async () => {
    await tell('bell', false)
    const { got, post: server } = post()
    await mailNotices(sql, server)
    expect(got).toEqual([])
  })

  it('that a worker took and died with come again when their time is over', async () => {
    await tell('taken')
    await sql`update notice set mail_at = now() + interval '1 second'`
    const { got, post: server } = post()
    await mailNotices(sql, server)
    expect(got).toEqual([])
    await new Promise(r => setTimeout(r, 1100))
    await mailNotices(sql, server)
    expect(got).toEqual(['taken'])
  })
})

it('what waited in the queue of an older version is still mailed, and what was mailed is not', async () => {
  const name = `older_${process.pid}`
  const base = process.env.CAVLIN_TEST_CLUSTER!
  const admin = connect(process.env.CAVLIN_TEST_ADMIN!, { max: 1 })
  await admin.unsafe(`create database ${name} owner cavlin`)
  const url = base.replace(/\/[^/]*$/, `/${name}`)
  const old = connect(url, { max: 2 })
  try {
    const before = mkdtempSync(join(tmpdir(), 'cavlin-migrations-'))
    for (const file of readdirSync('db/migrations').filter(f => f < '0019')) copyFileSync(join('db/migrations', file), join(before, file))
    await migrate(url, before)
    const [waiting, sent, untold, who] = [newId(), newId(), newId(), newId()]
    await old`insert into member (id, name, email, email_key, password_hash, role) values (${who}, 'W', 'w@w.example', 'w@w.example', '', 'sales')`
    for (const id of [waiting, sent, untold]) await old`insert into notice (id, member_id, lead_id, at, subject, body, mailed_at) values (${id}, ${who}, ${newId()}, now(), 's', '{}', ${id === sent ? new Date() : null})`
    // The queue as it was: what had been sent stands in it as completed or, after a crash, as created.
    await old.unsafe(`create schema pgboss; create type pgboss.job_state as enum ('created', 'retry', 'active', 'completed', 'cancelled', 'failed');
      create table pgboss.job (name text, data jsonb, state pgboss.job_state)`)
    await old`insert into pgboss.job (name, data, state) values ('mail', ${{ notices: [waiting, sent] } as never}, 'retry'), ('mail', ${{ notices: [untold] } as never}, 'completed'), ('fade', null, 'created')`
    await migrate(url, 'db/migrations')
    expect((await old<{ id: string }[]>`select id from notice where mail_at is not null`).map(n => n.id)).toEqual([waiting])
    expect((await old<{ name: string }[]>`select name from pgboss.job`).map(j => j.name)).toEqual(['fade'])
  } finally {
    await old.end()
    await admin.unsafe(`drop database ${name} with (force)`)
    await admin.end()
  }
})
