import { spawn } from 'node:child_process'
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { demoFile, openHouse, type House } from '../../scripts/house'
import { connect } from '#db/client'
import { run } from '../../scripts/run'
import { placeToTry } from '../../scripts/try-place'
import { browser } from '../support/browser'
import { begun, insist, Listener } from '../support/talk-listener'
import { ask, eventually, mails, send, type Demo } from '../support/house'

// A house of its own, which is damaged here.
let house: House
let demo: Demo

beforeAll(async () => {
  const place = await placeToTry(process.cwd())
  house = await openHouse(place, { demo: { days: 3 }, env: { CAVLIN_LIMITS: 'off' } })
  demo = JSON.parse(readFileSync(demoFile(place.data), 'utf8')) as Demo
})
afterAll(async () => {
  await house?.stop()
  if (house) rmSync(house.place.data, { recursive: true, force: true })
})

const health = async () => (await fetch(`${demo.url}/health`).catch(() => null))?.status
const mailbox = (mode: string) =>
  fetch(`${demo.standins.mailbox}/api/mode`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ mode }),
  })
const hasMail = (email: string) => async () => (await mails(demo)).some(m => m.text.includes(email))

describe('killed in the midst of it', () => {
  it('the application loses no entry that it answered 201 and no trail that it answered 204, and tells the owners all the same', async () => {
    const kept: string[] = []
    let going = true
    const sender = async (n: number) => {
      for (let i = 0; going; i++) {
        const email = `kill-${n}-${i}@faults.example`
        const reply = await send('form_journal', { email }, { 'idempotency-key': email }, demo.url).catch(() => null)
        if (reply?.status === 201) kept.push(email)
        else await new Promise(r => setTimeout(r, 50))
      }
    }
    // Trails come in beside them.
    const trails: string[] = []
    const visitor = async () => {
      while (going) {
        const b = browser(demo.url)
        if ((await b.reads('/prices').catch(() => 0)) === 204) trails.push(b.visit)
        else await new Promise(r => setTimeout(r, 50))
      }
    }
    const senders = [...Array.from({ length: 4 }, (_, n) => sender(n)), visitor(), visitor()]
    for (let n = 0; n < 2; n++) {
      await new Promise(r => setTimeout(r, 500))
      const before = kept.length
      process.kill(house.children.app.pid()!, 'SIGKILL')
      await eventually(async () => kept.length > before + 20)
    }
    going = false
    await Promise.all(senders)
    expect(kept.length).toBeGreaterThan(40)
    for (let at = 0; at < kept.length; at += 50) {
      await Promise.all(
        kept.slice(at, at + 50).map(async email => {
          const { leads } = await ask<{ leads: { email: string }[] }>(`/api/v1/leads?email=${email}`, demo)
          expect([email, leads.length]).toEqual([email, 1])
        }),
      )
    }
    expect(trails.length).toBeGreaterThan(10)
    const sql = connect(house.databaseUrl, { max: 1 })
    const [{ n } = { n: 0 }] = await sql<
      { n: number }[]
    >`select count(distinct visit_id)::int as n from trail_event where visit_id = any(${trails}::uuid[])`
    await sql.end()
    expect(n).toBe(trails.length)
    const told = await eventually(async () => {
      const text = (await mails(demo)).map(m => m.text).join('\n')
      return kept.every(email => text.includes(email)) && text
    })
    expect(told).toBeTruthy()
  })

  it('a conversation loses nothing that was acknowledged and doubles nothing, in one order on both sides, over cut lines and a killed server', async () => {
    const talks = await Promise.all([begun(demo.url), begun(demo.url)])
    const sides = talks.flatMap(c => [0, 1].map(() => new Listener(demo.url, c.id, c.secret).start()))
    const kept: string[][] = talks.map(() => [])
    let going = true
    const writers = talks.map(async (c, i) => {
      for (let n = 0; going; n++) {
        kept[i]!.push(await insist(demo.url, c, `Kept ${n}`))
        await new Promise(r => setTimeout(r, 80))
      }
    })
    for (let n = 0; n < 10; n++) {
      await new Promise(r => setTimeout(r, 300))
      sides[n % sides.length]!.drop()
      if (n % 5 < 4) continue
      process.kill(house.children.app.pid()!, 'SIGKILL')
      await eventually(async () => (await health()) === 200)
    }
    going = false
    await Promise.all(writers)
    const sql = connect(house.databaseUrl, { max: 1 })
    for (const [i, c] of talks.entries()) {
      const rows = await sql<{ id: string; n: number }[]>`select id, n from message where conversation_id = ${c.id} order by n`
      expect(rows.map(r => r.n)).toEqual(rows.map((_, at) => at + 1))
      const own = await sql<{ id: string }[]>`select id from message where conversation_id = ${c.id} and by = 'visitor' order by n`
      expect([...own.map(r => r.id)].sort()).toEqual([...kept[i]!].sort())
      for (const side of [sides[2 * i]!, sides[2 * i + 1]!]) {
        await eventually(async () => side.last >= rows.length)
        expect(side.order.filter(l => l.by === 'visitor').map(l => l.id)).toEqual(own.map(r => r.id))
      }
    }
    await sql.end()
    sides.forEach(side => side.end())
  })

  it('the worker is missed by /health until it is back, and then does what was left', async () => {
    expect(await health()).toBe(200)
    const email = 'worker@faults.example'
    process.kill(house.children.worker.pid()!, 'SIGSTOP')
    expect((await send('form_journal', { email }, {}, demo.url)).status).toBe(201)
    await eventually(async () => (await health()) === 503)
    process.kill(house.children.worker.pid()!, 'SIGKILL')
    await eventually(async () => (await health()) === 200)
    await eventually(hasMail(email), 70_000)
  })
})

describe('the mailbox', () => {
  it.each(['closed', 'refuse'])('%s: the entry is accepted, the mail comes later, once', async mode => {
    await mailbox(mode)
    const email = `${mode}@faults.example`
    expect((await send('form_journal', { email }, {}, demo.url)).status).toBe(201)
    await new Promise(r => setTimeout(r, 2500))
    expect(await hasMail(email)()).toBe(false)
    await mailbox('well')
    await eventually(hasMail(email))
    await new Promise(r => setTimeout(r, 1500))
    expect((await mails(demo)).filter(m => m.text.includes(email))).toHaveLength(1)
  })
})

it('starts again on the same data, with the same key, and refuses a second start in the same folder', async () => {
  const another = (data: string) =>
    run(process.execPath, ['scripts/demo.mjs'], { env: { ...process.env, CAVLIN_PORT: String(house.place.ports.app), CAVLIN_DATA: data } })
  const empty = mkdtempSync(join(tmpdir(), 'cavlin-second-'))
  for (const [data, sentence] of [
    [house.place.data, 'Cavlin runs from this folder already'],
    [empty, `Port ${house.place.ports.app} (for the application) is taken by another program`],
    ['/proc/nowhere', 'The data folder /proc/nowhere cannot be written'],
  ] as const) {
    const { code, output } = await another(data)
    expect([code, output]).toEqual([1, expect.stringContaining(sentence)])
    expect(output).not.toMatch(/^ +at /m)
  }
  expect((await run(process.execPath, ['scripts/demo.mjs'], { env: { ...process.env, CAVLIN_PORT: 'eighty' } })).output).toContain(
    'CAVLIN_PORT is “eighty”',
  )
  rmSync(empty, { recursive: true, force: true })
  const before = await ask<{ leads: { id: string }[] }>('/api/v1/leads?limit=5', demo)
  // A screen that stays open holds nobody up.
  const { email, password } = demo.members[0]!
  const signed = await fetch(`${demo.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email, password }),
  })
  const screen = (
    await fetch(`${demo.url}/api/team/live?leads=*`, { headers: { cookie: signed.headers.getSetCookie()[0]!.split(';')[0]! } })
  ).body!.getReader()
  expect(new TextDecoder().decode((await screen.read()).value)).toContain('hello')
  const [how, read] = await Promise.all([house.children.app.stop(), screen.read()])
  expect([how, read.done]).toEqual(['ended', true])
  await house.stop()
  house = await openHouse(house.place)
  expect((await ask<{ leads: { id: string }[] }>('/api/v1/leads?limit=5', demo)).leads.map(l => l.id)).toEqual(before.leads.map(l => l.id))
})

it('the demo starts what was killed again, and a start that was killed leaves nothing in the way of the next', async () => {
  const data = mkdtempSync(join(tmpdir(), 'cavlin-demo-'))
  chmodSync(data, 0o755)
  const { ports } = await placeToTry(process.cwd())
  const start = () => {
    const child = spawn(process.execPath, ['scripts/demo.mjs'], {
      env: { ...process.env, CAVLIN_PORT: String(ports.app), CAVLIN_DATA: data, CAVLIN_DEMO_DAYS: '3' },
      stdio: ['ignore', 'pipe', 'pipe'],
    })
    let said = ''
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (text: Buffer) => {
        said += text.toString()
      })
    return { child, said: () => said, says: (words: string) => eventually(async () => said.includes(words), 90_000) }
  }
  const postmaster = () => Number(readFileSync(join(data, 'postgres/postmaster.pid'), 'utf8').split('\n')[0])
  const answers = async () => (await fetch(`http://127.0.0.1:${ports.app}/health`).catch(() => null))?.status === 200
  const first = start()
  await first.says('Cavlin is running')
  process.kill(postmaster(), 'SIGKILL')
  await first.says('The database ended (SIGKILL); starting it again.')
  await eventually(answers)
  first.child.kill('SIGKILL')
  await eventually(async () => first.child.signalCode === 'SIGKILL')
  // The database knows nothing of it, and holds its port.
  expect(() => process.kill(postmaster(), 0)).not.toThrow()
  const second = start()
  await second.says('Cavlin is running')
  expect(second.said()).not.toContain('taken')
  second.child.kill('SIGTERM')
  await eventually(async () => second.child.exitCode !== null)
  expect(second.child.exitCode).toBe(0)
  rmSync(data, { recursive: true, force: true })
})
