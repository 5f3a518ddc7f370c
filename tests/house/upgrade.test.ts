import { copyFileSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { blankDefinition, blankQuestion } from '#core/points/definition'
import { connect, type Sql } from '#db/client'
import { migrate } from '#db/migrate'
import { newId } from '#server/ids'
import { browserId } from '#server/trail/browser'

// A database as it was before addresses could be claimed, with what stood in it then.
const name = `before_claims_${process.pid}`
let admin: Sql
let sql: Sql
let folder: string
const visitor = '0193b7f0-1111-4000-8000-4cab11270001'
const leads: Record<string, string> = {}
beforeAll(async () => {
  admin = connect(process.env.CAVLIN_TEST_ADMIN!, { max: 1 })
  await admin.unsafe(`create database ${name} owner cavlin`)
  const url = process.env.CAVLIN_TEST_CLUSTER!.replace(/\/[^/]*$/, `/${name}`)
  sql = connect(url, { max: 2 })
  folder = mkdtempSync(join(tmpdir(), 'cavlin-migrations-'))
  for (const file of readdirSync('db/migrations').filter(f => f < '0025')) copyFileSync(join('db/migrations', file), join(folder, file))
  await migrate(url, folder)
  await sql`insert into status values ('untouched', 'Untouched', 1, 'first')`
  const question = (key: string, property: string, kind: 'email' | 'phone') => blankQuestion({ key, kind, label: key, property })
  const editions: Record<string, string> = {}
  for (const same of [['email'], ['phone']]) {
    const [point, edition] = [newId(), (editions[same[0]!] = newId())]
    const definition = {
      ...blankDefinition('F'),
      questions: [question('mail', 'email', 'email'), question('tel', 'phone', 'phone')],
      people: { known: 'update', unknown: 'create', same },
    }
    await sql`insert into point (id, key, slug, name, kind, working_copy) values (${point}, ${same[0]!}, ${same[0]!}, 'F', 'form', ${definition as never})`
    await sql`insert into edition (id, point_id, number, definition, revision, made_at) values (${edition}, ${point}, 1, ${definition as never}, 1, now())`
    editions[`${same[0]!} point`] = point
  }
  /** Somebody with an address and a number, and the entries through which they came. */
  const somebody = async (who: string, confirmed: boolean, entries: [point: string, answers: Record<string, string>][]) => {
    const id = (leads[who] = newId())
    const email = `${who}@x.example`
    await sql`insert into lead (id, email, email_key, status, scored_at, status_at, created_at, updated_at, confirmed_at) values (${id}, ${email}, ${email}, 'untouched', now(), now(), now(), now(), ${confirmed ? new Date() : null})`
    await sql`insert into lead_key (rule, key, lead_id) values ('phone', ${who}, ${id})`
    for (const [i, [point, answers]] of entries.entries()) {
      const entry = newId()
      await sql`insert into entry (id, point_id, edition_id, lead_id, at, state, answers, fingerprint, visitor_id)
        values (${entry}, ${editions[`${point} point`]!}, ${editions[point]!}, ${id}, ${new Date(Date.now() - 1000 * (10 - i))}, 'complete', ${answers as never}, '', ${visitor})`
      if (i === entries.length - 1)
        await sql`insert into letter (id, lead_id, entry_id, kind, subject, body, due_at, sent_at) values (${newId()}, ${id}, ${entry}, 'letter', 'waits', 'b', now(), null), (${newId()}, ${id}, ${entry}, 'letter', 'went', 'b', now(), now())`
    }
  }
  await somebody('taken', false, [
    ['phone', { tel: '1' }],
    ['phone', { tel: '1', mail: 'taken@x.example' }],
  ])
  await somebody('confirmed', true, [
    ['phone', { tel: '2' }],
    ['phone', { tel: '2', mail: 'confirmed@x.example' }],
  ])
  await somebody('made', false, [
    ['phone', { tel: '3', mail: ' Made@x.example' }],
    ['phone', { tel: '3' }],
  ])
  await somebody('byaddress', false, [
    ['email', { mail: 'byaddress@x.example' }],
    ['phone', { tel: '4' }],
  ])
  await sql`insert into visitor_lead (id, visitor_id, lead_id) values (${newId()}, ${visitor}, ${leads.made!})`
  await sql`insert into api_key (id, name, hash, hint) values (${newId()}, 'Old', '\\x00', 'cavlin_')`
  await sql`insert into segment (id, name, condition, made_at, updated_at) values (${newId()}, 'Old', ${{ all: [{ fact: 'tag', is: 'equal', value: 'a "fact": "x"' }] } as never}, now(), now())`
  await migrate(url, 'db/migrations')
})
afterAll(async () => {
  await sql.end({ timeout: 2 })
  await admin.unsafe(`drop database ${name} with (force)`)
  await admin.end()
  rmSync(folder, { recursive: true, force: true })
})

describe('a database of before', () => {
  it('claims the addresses that stood unconfirmed on people who were found otherwise, and only those', async () => {
    const rows = await sql<{ id: string; email: string | null }[]>`select id, email from lead`
    expect(Object.fromEntries(Object.entries(leads).map(([who, id]) => [who, rows.find(r => r.id === id)!.email]))).toEqual({
      taken: null,
      confirmed: 'confirmed@x.example',
      made: 'made@x.example',
      byaddress: 'byaddress@x.example',
    })
    expect(await sql`select lead_id, address, email_key, confirmed_at from claimed_address`).toEqual([
      { leadId: leads.taken, address: 'taken@x.example', emailKey: 'taken@x.example', confirmedAt: null },
    ])
  })
  it('says of each mail whom it is for, and what waited for a claim goes on waiting', async () => {
    const mails = await sql<
      { lead: string; subject: string; recipient: string; waits: boolean; claimed: boolean }[]
    >`select lead_id as lead, subject, recipient, due_at is null as waits, claim_id is not null as claimed from delivery`
    expect(mails.every(l => l.recipient === `${Object.entries(leads).find(([, id]) => id === l.lead)![0]}@x.example`)).toBe(true)
    expect(mails.filter(l => l.waits || l.claimed).map(l => [l.lead, l.subject])).toEqual([[leads.taken, 'waits']])
  })
  it('knows browsers by what the application makes of their secrets', async () => {
    expect(
      (await sql<{ visitorId: string }[]>`select distinct visitor_id from entry union select visitor_id from visitor_lead`).map(
        r => r.visitorId,
      ),
    ).toEqual([browserId(visitor)])
  })
  it('lets keys of programs do what they could', async () =>
    expect(await sql`select scopes, expires_at from api_key`).toEqual([
      { scopes: ['leads:read', 'files:read', 'events:write'], expiresAt: null },
    ]))
})

it('a condition asks for attributes, which were called facts; what people wrote stays as it was', async () => {
  const [row] = await sql<{ condition: object }[]>`select condition from segment where name = 'Old'`
  expect(row!.condition).toEqual({ all: [{ attribute: 'tag', is: 'equal', value: 'a "fact": "x"' }] })
})
