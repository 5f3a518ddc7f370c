import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import { mailboxOf } from '#core/identity/email'
import type { Sql } from '#db/client'
import { newId } from '#server/ids'
import { outbox } from '#server/deliveries/outbox'
import { freshDatabase, type TestDatabase } from '../support/database'

let db: TestDatabase
let sql: Sql
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
})
afterAll(() => db.drop())
beforeEach(() => sql`delete from delivery`)

let n = 0
/** A mail to somebody, due now. */
async function write(recipient: string, more: { sender?: string; confirmed?: boolean; body?: string } = {}): Promise<string> {
  const [lead, id] = [newId(), newId()]
  await sql`insert into lead (id, email, email_key, status, status_at, created_at, updated_at, confirmed_at)
    select ${lead}, ${recipient}, ${`${++n}.${recipient}`}, key, now(), now(), now(), ${more.confirmed ? new Date() : null} from status limit 1`
  await sql`insert into delivery (id, lead_id, kind, at, subject, body, due_at, recipient, recipient_key, sender)
    values (${id}, ${lead}, 'mail', now(), 'S', ${more.body ?? 'B'}, now(), ${recipient}, ${mailboxOf(recipient)}, ${more.sender ? Buffer.from(more.sender) : null})`
  return id
}
async function sent(): Promise<string[]> {
  const got: string[] = []
  const transport = { sendMail: async ({ to }: { to: string }) => void got.push(to) } as never
  const out = [
    outbox(sql, { transport, from: 'a@b.example', appUrl: '' }),
    outbox(db.another(), { transport, from: 'a@b.example', appUrl: '' }),
  ]
  // Several at the same time, in two processes: what is on its way counts as sent.
  await Promise.all(out.flatMap(o => [o.work('oldest'), o.work('fresh')]))
  out.forEach(o => o.close())
  return got
}
const state = async () =>
  await sql<
    { sent: boolean; dropped: string | null; waits: boolean }[]
  >`select sent_at is not null as sent, dropped, due_at > now() as waits from delivery`

describe('mails in the firm’s name go out in an hour', () => {
  it('five times to one mailbox, however it is written; what is more is dropped', async () => {
    for (const a of [
      'ada@x.example',
      'A.da@x.example',
      'ada+1@x.example',
      'ada+2@x.example',
      'a.d.a@X.example',
      'ada+3@x.example',
      'adda@x.example',
    ])
      await write(a)
    expect((await sent()).filter(to => mailboxOf(to) === 'ada@x.example')).toHaveLength(5)
    expect((await state()).filter(s => s.dropped === 'too many')).toHaveLength(1)
  })
  it('sixty times to addresses of a domain that nobody has confirmed; what is more waits, and who is known does not', async () => {
    for (let i = 0; i < 63; i++) await write(`p${i}@crowd.example`)
    await write('known@crowd.example', { confirmed: true })
    await write('p@other.example')
    const got = await sent()
    expect([got.filter(to => /^p\d+@crowd/.test(to)).length, got.includes('known@crowd.example'), got.includes('p@other.example')]).toEqual(
      [60, true, true],
    )
    expect((await state()).filter(s => s.waits && !s.sent && !s.dropped)).toHaveLength(3)
  })
  it('twenty times on behalf of one sender', async () => {
    for (let i = 0; i < 23; i++) await write(`v@v${i}.example`, { sender: 'one' })
    await write('v@w.example', { sender: 'two' })
    const got = await sent()
    expect([got.filter(to => to !== 'v@w.example').length, got.includes('v@w.example')]).toEqual([20, true])
  })
})

it('keeps of a mail that was sent no link that works', async () => {
  const { signedAddress } = await import('#server/signed-addresses')
  const id = await write('kept@k.example', { body: `Confirm: ${signedAddress('confirm', newId())}` })
  await sent()
  expect((await sql<{ body: string }[]>`select body from delivery where id = ${id}`)[0]!.body).toMatch(/^Confirm: \/c\/…$/)
})
