import { copyFileSync, mkdtempSync, readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { connect, type Sql } from '#db/client'
import { deliveriesOn, heapCounts, insertOwn, tryAgain } from '#db/deliveries'
import { dropWaiting } from '#db/mails'
import { bell } from '#db/notices'
import { migrate } from '#db/migrate'
import { pointByKey } from '#db/points'
import { timelineOf } from '#db/timeline'
import { receive } from '#server/capture/receive'
import type { Post } from '#server/deliveries/mail'
import { outbox, SLOTS } from '#server/deliveries/outbox'
import { newId } from '#server/ids'
import { accept } from '#server/ingest/entries'
import { readRuleset } from '#server/ruleset'
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
beforeEach(() => sql`delete from delivery`)

const tell = async (subject: string, due: Date | null = new Date()) => {
  const id = newId()
  await sql`insert into delivery (id, kind, channel, at, member_id, lead_id, recipient, recipient_name, subject, body, due_at)
    values (${id}, 'notice', ${due ? 'mail' : 'bell'}, now(), ${member}, ${lead}, 'm@house.example', 'M', ${subject}, ${subject}, ${due})`
  return id
}
const mail = async (recipient: string, subject: string, days = 0) => {
  const id = newId()
  await sql`insert into delivery (id, kind, at, lead_id, recipient, recipient_key, subject, body, days, due_at) values (${id}, 'mail', now(), ${lead}, ${recipient}, ${recipient}, ${subject}, 'B', ${days}, now())`
  return id
}
const later = (ms = 5000) => Object.assign(new Error('452 not now'), { code: 'EMESSAGE', responseCode: 452, response: '452 not now', ms })
const never = () => Object.assign(new Error('550 nobody'), { code: 'EENVELOPE', responseCode: 550, response: '550 nobody' })
const away = () => Object.assign(new Error('connect ECONNREFUSED'), { code: 'ESOCKET' })
/** A mail server; `takes` may throw, and may take its time. */
function server(takes: (subject: string) => unknown = () => {}) {
  const got: { subject: string; messageId: string }[] = []
  const sendMail = async ({ subject, messageId }: { subject: string; messageId: string }) => {
    await takes(subject)
    got.push({ subject, messageId })
    return { response: '250 taken' }
  }
  const post = { transport: { sendMail }, from: 'a@b.example', appUrl: '' } as unknown as Post
  return { got, subjects: () => got.map(g => g.subject).sort(), post }
}
async function work(post: Post, others = sql) {
  const out = outbox(others, post)
  await Promise.all(SLOTS.map(slot => out.work(slot)))
  out.close()
}
const stands = async (id: string) =>
  (
    await sql<
      {
        sent: boolean
        tries: number
        pause: number
        failure: string | null
        answer: string | null
        dropped: string | null
        leased: boolean
      }[]
    >`
  select sent_at is not null as sent, tries, round(extract(epoch from due_at - now()))::int as pause, failure, answer, dropped, leased_until is not null as leased from delivery where id = ${id}`
  )[0]!

describe('what leaves the house', () => {
  it('goes out once, though two processes look at the same time, and is told on the timeline', async () => {
    const subjects = Array.from({ length: 30 }, (_, i) => `n${i}`).sort()
    for (const subject of subjects) await tell(subject)
    const { post, subjects: got } = server(() => new Promise(r => setTimeout(r, 5)))
    await Promise.all([work(post), work(post, db.another())])
    expect(got()).toEqual(subjects)
    expect((await sql`select from delivery where sent_at is null or leased_until is not null`).count).toBe(0)
    const told = (await timelineOf(sql, lead, null, 200)).flatMap(l => (l.kind === 'announced' ? l.payload.subject : []))
    expect(told.filter(subject => subjects.includes(subject)).sort()).toEqual(subjects)
    expect((await bell(sql, member, 100)).unread).toBe(30)
  })

  it('comes again after a pause where it was not taken, says why, and holds no other up', async () => {
    const [bad, good] = [await tell('bad'), await tell('good')]
    await work(
      server(s => {
        if (s === 'bad') throw later()
      }).post,
    )
    expect(await stands(good)).toMatchObject({ sent: true, answer: '250 taken', failure: null })
    expect(await stands(bad)).toMatchObject({
      sent: false,
      tries: 1,
      pause: 5,
      failure: 'later',
      answer: '452 not now',
      dropped: null,
      leased: false,
    })
    await sql`update delivery set due_at = now(), tries = 6 where id = ${bad}`
    await work(
      server(() => {
        throw later()
      }).post,
    )
    expect(await stands(bad)).toMatchObject({ tries: 7, pause: 320 })
    const well = server()
    await sql`update delivery set due_at = now() where id = ${bad}`
    await work(well.post)
    expect(well.got).toEqual([{ subject: 'bad', messageId: `<${bad}@cavlin.example>` }])
  })

  it('is given up where it was refused for good, and goes out when somebody tries it again', async () => {
    const id = await tell('wrong address')
    await work(
      server(() => {
        throw never()
      }).post,
    )
    expect(await stands(id)).toMatchObject({ sent: false, dropped: 'gave up', failure: 'refused', answer: '550 nobody' })
    expect((await heapCounts(sql))['given up']).toBe(1)
    expect((await deliveriesOn(sql, 'given up', null, 9)).map(d => d.subject)).toEqual(['wrong address'])
    await sql.begin(tx => tryAgain(tx, id))
    await work(server().post)
    expect(await stands(id)).toMatchObject({ sent: true, dropped: null, failure: null })
    // What went out stays so, whoever presses again.
    expect((await sql.begin(tx => tryAgain(tx, id)))!.sentAt).not.toBeNull()
    const more = server()
    await work(more.post)
    expect(more.got).toEqual([])
  })

  it('goes out at once when a mail server that could not be reached can be again', async () => {
    const waiting = await tell('waits')
    const { post, subjects } = server(s => {
      if (s === 'waits' && !back) throw away()
    })
    let back = false
    const out = outbox(sql, post)
    await out.work('oldest')
    await sql`update delivery set due_at = now() + interval '10 minutes' where id = ${waiting}`
    back = true
    await tell('new')
    await out.work('fresh')
    await out.work('oldest')
    out.close()
    expect(subjects()).toEqual(['new', 'waits'])
  })

  it('is not what is told at the bell only', async () => {
    await tell('bell', null)
    const { got, post } = server()
    await work(post)
    expect(got).toEqual([])
    expect((await bell(sql, member, 9)).notices.map(n => n.subject)).toEqual(['bell'])
  })

  it('comes again when its lease is over: whoever had it died', async () => {
    const id = await tell('taken')
    await sql`update delivery set leased_until = now() + interval '1 second' where id = ${id}`
    const { subjects, post } = server()
    await work(post)
    expect(subjects()).toEqual([])
    await sql`update delivery set leased_until = now() - interval '1 millisecond' where id = ${id}`
    await work(post)
    expect(subjects()).toEqual(['taken'])
  })

  it('to members about their own doings says what it is', async () => {
    await insertOwn(sql, {
      id: newId(),
      kind: 'test',
      to: { name: 'O', address: 'o@l.example' },
      subject: 'Ada is new',
      text: 'T',
      lines: [{ label: 'Name', text: 'Ada' }],
    })
    await insertOwn(sql, { id: newId(), kind: 'alert', to: { name: 'O', address: 'o@l.example' }, subject: 'Somebody tries', text: 'T' })
    const { subjects, post } = server()
    await work(post)
    expect(subjects()).toEqual(['Somebody tries', 'Test: Ada is new'])
  })
})

it('what was given up does not go out to who left meanwhile, whoever tries it again', async () => {
  const id = await mail('ada@l.example', 'asked for days ago', 3)
  await sql`update delivery set dropped = 'gave up', tries = 9 where id = ${id}`
  await sql.begin(tx => dropWaiting(tx, lead))
  expect((await sql.begin(tx => tryAgain(tx, id)))!.dropped).toBe('unsubscribed')
  expect(await stands(id)).toMatchObject({ sent: false, dropped: 'unsubscribed' })
})

describe('a mail server that does not answer', () => {
  it('holds up nobody who leaves the list or sends an entry, and what is new does not wait behind what is old', async () => {
    let let_go = () => {}
    const hangs = new Promise<void>(done => {
      let_go = done
    })
    for (let i = 0; i < 40; i++) await mail(`p${i}@old.example`, `old ${i}`)
    await sql`update delivery set due_at = now() - interval '1 hour'`
    const asked = await mail('ada@l.example', 'asked for days ago', 3)
    await sql`update delivery set due_at = now() - interval '2 hours' where id = ${asked}`
    const begun: string[] = []
    const { subjects, post } = server(s => {
      begun.push(s)
      return s === 'fresh' ? undefined : hangs
    })
    const out = outbox(sql, post)
    const working = [...SLOTS].map(slot => out.work(slot))
    while (begun.length < 16) await new Promise(r => setTimeout(r, 5))
    expect(begun).toContain('asked for days ago')
    // The server has sixteen mails in hand and answers none. Meanwhile somebody leaves, and somebody writes.
    await sql.begin(tx => dropWaiting(tx, lead))
    const { intake } = receive(
      (await pointByKey(sql, 'form_care'))!,
      { answers: { email: 'now@l.example', first_name: 'N', last_name: 'O', message: 'Soon?' } },
      null,
      Date.now(),
    )
    const [entry] = await sql.begin(async tx => accept(tx, await readRuleset(tx), [intake!], { mails: false }))
    expect(entry!.kind).toBe('accepted')
    await tell('fresh')
    await out.work('fresh')
    expect(subjects()).toEqual(['fresh'])
    let_go()
    await Promise.all(working)
    out.close()
    // What was on its way when they left did go out, and says so.
    expect(await stands(asked)).toMatchObject({ sent: true, dropped: null })
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
    for (const id of [waiting, sent, untold])
      await old`insert into notice (id, member_id, lead_id, at, subject, body, mailed_at) values (${id}, ${who}, ${newId()}, now(), 's', '{}', ${id === sent ? new Date() : null})`
    // The queue as it was: what had been sent stands in it as completed or, after a crash, as created.
    await old.unsafe(`create schema pgboss; create type pgboss.job_state as enum ('created', 'retry', 'active', 'completed', 'cancelled', 'failed');
      create table pgboss.job (name text, data jsonb, state pgboss.job_state)`)
    await old`insert into pgboss.job (name, data, state) values ('mail', ${{ notices: [waiting, sent] } as never}, 'retry'), ('mail', ${{ notices: [untold] } as never}, 'completed'), ('fade', null, 'created'), ('trial', ${{ to: { name: 'W', address: 'w@w.example' }, subject: 'Ada', text: 'T', lines: [] } as never}, 'retry')`
    await migrate(url, 'db/migrations')
    expect(
      (await old<{ id: string }[]>`select id from delivery where kind = 'notice' and due_at is not null and sent_at is null`).map(
        n => n.id,
      ),
    ).toEqual([waiting])
    expect(await old`select kind, recipient, subject, due_at is not null as due from delivery where kind <> 'notice'`).toEqual([
      { kind: 'test', recipient: 'w@w.example', subject: 'Ada', due: true },
    ])
    expect((await old<{ name: string }[]>`select name from pgboss.job`).map(j => j.name)).toEqual(['fade'])
  } finally {
    await old.end()
    await admin.unsafe(`drop database ${name} with (force)`)
    await admin.end()
  }
})
