import { createHash, randomUUID, scryptSync } from 'node:crypto'
import { describe, expect, it } from 'vitest'
import { demo, eventually, mails, member, readDatabase, signedIn } from '../support/house'

const attempt = (email: string, password: string, ip: string) =>
  fetch(`${demo().url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', 'x-forwarded-for': ip },
    body: JSON.stringify({ email, password }),
  })
/** A member of this test's own, with a password. */
async function colleague(role = 'sales', hash?: string) {
  const password = `pass ${randomUUID()}`
  const email = `c${randomUUID().slice(0, 8)}@larkmoss.example`
  const { hashPassword } = await import('#server/passwords')
  const made = hash ?? (await hashPassword(password))
  const id = randomUUID()
  await readDatabase(
    sql =>
      sql`insert into member (id, email, email_key, name, role, password_hash) values (${id}, ${email}, ${email}, 'A Colleague', ${role}, ${made})`,
  )
  return { id, email, password }
}
let nets = 0
const net = () => `198.18.${Math.floor(++nets / 250)}.${nets % 250}`
const cookieOf = (answer: Response) => answer.headers.getSetCookie()[0]!.split(';')[0]!
const me = (cookie: string) => fetch(`${demo().url}/api/session`, { headers: { cookie } }).then(r => r.status)
const enter = async (c: { email: string; password: string }, ip = net()) => {
  const answer = await attempt(c.email, c.password, ip)
  expect(answer.status).toBe(200)
  return cookieOf(answer)
}
/** A stream of what changes; tells when it ends. */
async function stream(cookie: string) {
  const answer = await fetch(`${demo().url}/api/team/live?leads=*`, { headers: { cookie } })
  const reader = answer.body!.getReader()
  await reader.read()
  let ended = false
  void (async () => {
    while (!(await reader.read()).done);
    ended = true
  })().catch(() => {
    ended = true
  })
  return () => ended
}

describe('guessing passwords', () => {
  it.each([
    ['from one place', () => '198.51.100.7'],
    ['from a hundred places', net],
  ])('of a hundred at once, %s, five are looked at, and the right one at place 91 is not let in', async (_, from) => {
    const c = await colleague()
    const answers = await Promise.all(Array.from({ length: 100 }, (_, i) => attempt(c.email, i === 90 ? c.password : `guess ${i}`, from())))
    const statuses = answers.map(a => a.status)
    expect(statuses.filter(s => s === 401 || s === 200).length).toBeLessThanOrEqual(5)
    expect(statuses.filter(s => s === 429).length).toBeGreaterThanOrEqual(95)
    const refused = answers.find(a => a.status === 429)!
    expect(Number(refused.headers.get('retry-after'))).toBeGreaterThan(60)
    expect(((await refused.json()) as { detail: string }).detail).toMatch(/^Too many attempts to sign in\. Try again in \d+ minutes\.$/)
    // The right password does not help now, either; and the member is told.
    if (!statuses.includes(200)) expect((await attempt(c.email, c.password, net())).status).toBe(429)
    const mail = await eventually(async () => (await mails()).find(m => m.to === c.email))
    expect([mail.subject, (await mails()).filter(m => m.to === c.email).length]).toEqual(['Somebody tries to sign in as you', 1])
  })
  it('sounds the same for accounts that there are and that there are not', async () => {
    const c = await colleague()
    const words = async (email: string) => {
      const from = net()
      const said: unknown[] = []
      for (let n = 0; n < 7; n++) {
        const answer = await attempt(email, `wrong ${n}`, from)
        said.push([answer.status, ((await answer.json()) as { detail: string }).detail])
      }
      return said
    }
    expect(await words(c.email)).toEqual(await words(`nobody.${randomUUID()}@larkmoss.example`))
  })
  it('from elsewhere does not shut a member out where they signed in before', async () => {
    const c = await colleague()
    const home = net()
    await enter(c, home)
    for (let n = 0; n < 8; n++) await attempt(c.email, 'wrong', net())
    expect((await attempt(c.email, c.password, net())).status).toBe(429)
    expect((await attempt(c.email, c.password, home)).status).toBe(200)
    // But there, too, only five wrong ones in a row.
    const statuses = await Promise.all(Array.from({ length: 20 }, () => attempt(c.email, 'wrong', home).then(r => r.status)))
    expect(statuses.filter(s => s === 401)).toHaveLength(5)
  })
  it('counts one household of IPv6 as one', async () => {
    const statuses = await Promise.all(
      Array.from({ length: 60 }, (_, i) =>
        attempt(`n${i}.${randomUUID()}@larkmoss.example`, 'x', `2001:db8:77:1::${i + 1}`).then(r => r.status),
      ),
    )
    expect(statuses.filter(s => s === 429)).toHaveLength(10)
  })
})

describe('a session', () => {
  it('is a word that means nothing, which scripts cannot read', async () => {
    // Somebody of its own: others' wrong passwords from here may still be waited for.
    const { email, password } = await colleague()
    const answer = await attempt(email, password, net())
    expect(answer.status).toBe(200)
    const cookie = answer.headers.getSetCookie()[0]!
    expect(cookie).toMatch(/^cavlin=[\w-]{43}; .*HttpOnly.*SameSite=Lax/i)
    expect(JSON.stringify(await answer.json())).not.toContain('hash')
    expect(await me(cookie.split(';')[0]!.slice(0, -4) + 'AAAA')).toBe(401)
    expect(await readDatabase(sql => sql`select 1 from session where encode(hash, 'escape') like ${`%${cookie.slice(7, 20)}%`}`)).toEqual(
      [],
    )
  })
  it('ends with signing out, for whoever copied it, and its stream', async () => {
    const c = await colleague()
    const [one, other] = [await enter(c), await enter(c)]
    const ended = await stream(one)
    await fetch(`${demo().url}/api/session`, { method: 'DELETE', headers: { cookie: one } })
    expect([await me(one), await me(other)]).toEqual([401, 200])
    await eventually(async () => ended())
  })
  it.each([
    ['another role', (id: string) => readDatabase(sql => sql`update member set role = 'marketer' where id = ${id}`)],
    ['being taken out', (id: string) => readDatabase(sql => sql`update member set active = false where id = ${id}`)],
    [
      'another password',
      async (id: string) => {
        const { hashPassword } = await import('#server/passwords')
        const hash = await hashPassword('another one')
        await readDatabase(sql => sql`update member set password_hash = ${hash} where id = ${id}`)
      },
    ],
  ])('ends everywhere with %s, streams included', async (_, change) => {
    const c = await colleague()
    const [one, other] = [await enter(c), await enter(c)]
    const ended = [await stream(one), await stream(other)]
    await change(c.id)
    expect([await me(one), await me(other)]).toEqual([401, 401])
    await eventually(async () => ended.every(e => e()))
  })
  it('ends when nobody used it for long, and at last in any case', async () => {
    const c = await colleague()
    const [idle, old, good] = [await enter(c), await enter(c), await enter(c)]
    const hash = (cookie: string) => createHash('sha256').update(cookie.split('=')[1]!).digest()
    await readDatabase(async sql => {
      await sql`update session set seen_at = now() - interval '80 hours' where hash = ${hash(idle)}`
      await sql`update session set made_at = now() - interval '15 days' where hash = ${hash(old)}`
    })
    expect([await me(idle), await me(old), await me(good)]).toEqual([401, 401, 200])
  })
  it('outlives a better hash of the same password, which is made at the next sign-in', async () => {
    const salt = Buffer.from('0123456789abcdef')
    const password = `old ${randomUUID()}`
    const weak = `$scrypt$n=16384,r=8,p=1$${salt.toString('base64').replace(/=+$/, '')}$${scryptSync(password, salt, 64).toString('base64').replace(/=+$/, '')}`
    const c = await colleague('sales', weak)
    const first = await enter({ ...c, password })
    const [row] = await readDatabase(sql => sql<{ passwordHash: string }[]>`select password_hash from member where id = ${c.id}`)
    expect(row!.passwordHash).toMatch(/^\$scrypt\$n=32768,r=8,p=3\$/)
    expect([await me(first), (await attempt(c.email, password, net())).status]).toEqual([200, 200])
  })
})

it('a member changes their own password, and stays signed in here', async () => {
  const c = await colleague()
  const [here, elsewhere] = [await enter(c), await enter(c)]
  const put = (body: object) =>
    fetch(`${demo().url}/api/session/password`, {
      method: 'PUT',
      headers: { cookie: here, 'content-type': 'application/json' },
      body: JSON.stringify(body),
    })
  expect((await put({ present: 'wrong', next: 'three or four words' })).status).toBe(422)
  expect((await put({ present: c.password, next: 'short' })).status).toBe(422)
  const done = await put({ present: c.password, next: 'three or four words' })
  expect(done.status).toBe(204)
  expect([await me(here), await me(elsewhere), await me(cookieOf(done))]).toEqual([401, 401, 200])
  expect([(await attempt(c.email, c.password, net())).status, (await attempt(c.email, 'three or four words', net())).status]).toEqual([
    401, 200,
  ])
})

it('an admin changes what colleagues may do, and somebody stays admin', async () => {
  const c = await colleague()
  const cookie = await enter(c)
  const orla = await signedIn('orla')
  expect((await orla(`/api/team/members/${c.id}`, 'PUT', { role: 'marketer', active: true })).status).toBe(204)
  expect(await me(cookie)).toBe(401)
  const all = (await (await orla('/api/team/members')).json()) as { id: string; role: string; email: string }[]
  expect(all.find(m => m.id === c.id)!.role).toBe('marketer')
  const own = all.find(m => m.email === member('orla').email)!
  expect((await orla(`/api/team/members/${own.id}`, 'PUT', { role: 'sales', active: true })).status).toBe(409)
  expect((await orla(`/api/team/members/${c.id}`, 'PUT', { role: 'marketer', active: false })).status).toBe(204)
  expect((await attempt(c.email, c.password, net())).status).toBe(401)
})
