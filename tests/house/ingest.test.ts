import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Intake } from '#core/capture/intake'
import { decayed, interestSum, type ReasonLine } from '#core/scoring/lines'
import type { Sql } from '#db/client'
import { pointByKey } from '#db/points'
import { receive } from '#server/capture/receive'
import { changeLeads } from '#server/ingest/change'
import { accept } from '#server/ingest/entries'
import { bringIn, goOnWithImports, takeBack } from '#server/lists/import'
import { retried } from '#server/ingest/micro-batcher'
import { readRuleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'

let db: TestDatabase
let sql: Sql
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
})
afterAll(() => db.drop())

let n = 0
const somebody = () => `one${++n}@batch.example`
async function intake(email: string, message = `${++n}`): Promise<Intake> {
  const { intake: read, flaws } = receive(
    (await pointByKey(sql, 'form_visit'))!,
    {
      answers: { email, first_name: 'A', last_name: 'B', sector: 'school', size: 'small', message },
    },
    null,
    Date.now(),
  )
  if (!read) throw new Error(JSON.stringify(flaws))
  return read
}
const enter = async (from: Sql, emails: string[]) => {
  const [ruleset, intakes] = [await readRuleset(sql), await Promise.all(emails.map(e => intake(e)))]
  return await from.begin(tx => accept(tx, ruleset, intakes, { mails: true }))
}
const leadOf = async (email: string) =>
  (
    await sql<
      { id: string; ownerId: string | null; label: string | null }[]
    >`select id, owner_id, label from lead where email_key = ${email}`
  )[0]!

describe('batches', () => {
  it('that touch the same people crosswise, in two processes, never lock each other up', async () => {
    const people = Array.from({ length: 12 }, somebody)
    await enter(sql, people)
    const other = db.another()
    for (let round = 0; round < 12; round++) {
      const results = await Promise.all([enter(sql, people), enter(other, [...people].reverse())])
      expect(results.flat().every(r => r.kind === 'accepted')).toBe(true)
    }
    const [{ entries }] = await sql<
      [{ entries: number }]
    >`select count(*)::int as entries from entry e join lead l on l.id = e.lead_id where l.email_key = any(${people})`
    expect(entries).toBe(12 * 25)
  })
  it('lose nothing when an act and an entry meet at one lead', async () => {
    const email = somebody()
    await enter(sql, [email])
    const { id } = await leadOf(email)
    const [ruleset, other] = [await readRuleset(sql), db.another()]
    const note = () => other.begin(tx => changeLeads(tx, ruleset, [{ kind: 'note', at: Date.now(), by: null, lead: id, text: 'A note' }]))
    await Promise.all(Array.from({ length: 10 }, (_, i) => (i % 2 ? note() : enter(sql, [email]))))
    const [row] = await sql<{ reasons: { rule: string }[] }[]>`select reasons from lead where id = ${id}`
    expect(row!.reasons.filter(r => r.rule === 'asked_visit')).toHaveLength(6)
    expect(await sql`select 1 from lead_event where lead_id = ${id} and changes ? 'note'`).toHaveLength(5)
  })
  it('wait for no rehearsal, however long it takes', async () => {
    const email = somebody()
    await enter(sql, [email])
    const ruleset = await readRuleset(sql)
    const rehearsed = await intake(email)
    await db.another().begin('read only', async tx => {
      const [result] = await accept(tx, ruleset, [rehearsed], { mails: false, rehearsed: true })
      expect(result!.kind).toBe('accepted')
      expect((await enter(sql, [email, somebody()])).map(r => r.kind)).toEqual(['accepted', 'accepted'])
      return { done: true }
    })
    expect(await sql`select 1 from entry where id = ${rehearsed.entryId}`).toHaveLength(0)
  })
  it('of known people take as many statements as of one', async () => {
    const people = Array.from({ length: 16 }, somebody)
    await enter(sql, people)
    const counted = async (emails: string[]) => {
      const [ruleset, intakes] = [await readRuleset(sql), await Promise.all(emails.map(e => intake(e)))]
      let statements = 0
      await sql.begin(async tx => {
        const count = <F extends (...args: never[]) => unknown>(call: F) =>
          ((...args: never[]) => {
            statements++
            return call(...args)
          }) as unknown as F
        const counting = Object.assign(count(tx as never), tx, { unsafe: count(tx.unsafe as never) }) as unknown as typeof tx
        return await accept(counting, ruleset, intakes, { mails: true })
      })
      return statements
    }
    const one = await counted(people.slice(0, 1))
    expect(one).toBeGreaterThan(3)
    // Seven are one part of a batch; sixteen are worked on in two, each written by itself.
    expect(await counted(people.slice(0, 7))).toBe(one)
    expect(await counted(people)).toBeLessThan(2 * one)
  })
})

it('of somebody with a long history keeps all of it: each entry is an event, and what it earned is in the sum', async () => {
  const email = somebody()
  const MANY = 320
  const ruleset = await readRuleset(sql)
  for (let done = 0; done < MANY; done += 16) {
    const intakes = await Promise.all(Array.from({ length: 16 }, () => intake(email)))
    await sql.begin(tx => accept(tx, ruleset, intakes, { mails: true }))
  }
  const { id } = await leadOf(email)
  const [lead] = await sql<{ reasons: ReasonLine[]; version: number }[]>`select reasons, version from lead where id = ${id}`
  const versions = (await sql<{ version: number }[]>`select version from lead_event where lead_id = ${id} order by version`).map(
    e => e.version,
  )
  expect([versions, lead!.version]).toEqual([Array.from({ length: MANY }, (_, i) => i + 1), MANY])
  expect((await sql`select 1 from entry where lead_id = ${id}`).length).toBe(MANY)
  // The last of so many lines stand for themselves, the first for all together: nothing of them is lost.
  const [rule] = ruleset.scorecard.interest.filter(r => r.key === 'asked_visit')
  const now = Date.now()
  const at = await sql<{ at: Date }[]>`select at from entry where lead_id = ${id}`
  const whole = at.reduce((sum, e) => sum + decayed(rule!.points, e.at.getTime(), now, ruleset.scorecard.halfLifeDays), 0)
  expect(lead!.reasons.length).toBeLessThan(MANY)
  // Within what some seconds of fading make of it: a line that was lost would be thirty points.
  expect(interestSum(lead!.reasons, now, ruleset.scorecard.halfLifeDays)).toBeCloseTo(whole, 1)
})

describe('an import', () => {
  const people = (some: number) =>
    Array.from({ length: some }, (_, i) => {
      const email = `row${++n}@table.example`
      return { line: i + 2, email, emailKey: email, values: { first_name: `Row ${i}` } }
    })
  const aList = async () => {
    const id = randomUUID()
    await sql`insert into list (id, name) values (${id}, ${`List ${++n}`})`
    return { id }
  }
  const member = async () => (await sql<{ id: string }[]>`select id from member limit 1`)[0]!.id
  const onList = async (id: string) => (await sql`select 1 from list_member where list_id = ${id}`).length
  const known = async (some: { emailKey: string }[]) =>
    (await sql`select 1 from lead where email_key = any(${some.map(p => p.emailKey)})`).length

  it('that is interrupted keeps what it had taken in, publishes nobody, and is gone on with to its end', async () => {
    const [list, some] = [await aList(), people(1200)]
    await sql`create function pull_the_plug() returns trigger language plpgsql as $$ begin raise exception 'pulled the plug'; end $$`
    await sql.unsafe(
      `create trigger pull_the_plug before insert on lead for each row when (new.email_key = '${some[777]!.emailKey}') execute function pull_the_plug()`,
    )
    await expect(
      bringIn(sql, await readRuleset(sql), list, some, { replace: false, owners: 'nobody' }, await member(), Date.now()),
    ).rejects.toThrow('pulled the plug')
    expect([await known(some), await onList(list.id)]).toEqual([500, 0])
    // Nobody goes on with one that somebody else has in hand.
    expect(await goOnWithImports(sql)).toEqual([])
    await sql`drop trigger pull_the_plug on lead`
    await sql`update import set touched_at = now() - interval '5 minutes'`
    expect((await goOnWithImports(sql)).length).toBe(1200)
    expect([await known(some), await onList(list.id)]).toEqual([1200, 1200])
    expect(
      await sql<{ phase: string; fresh: number; known: number }[]>`select phase, fresh, known from import where list_id = ${list.id}`,
    ).toEqual([{ phase: 'done', fresh: 1200, known: 0 }])
    expect(await goOnWithImports(sql)).toEqual([])
  })
  it('says who is new and who is known, and leaves owners and bells alone', async () => {
    const [list, some] = [await aList(), people(3)]
    await enter(sql, [some[0]!.email])
    const { ownerId } = await leadOf(some[0]!.emailKey)
    const before = (await sql`select 1 from delivery where kind = 'notice'`).length
    expect(
      await bringIn(sql, await readRuleset(sql), list, some, { replace: false, owners: 'nobody' }, await member(), Date.now()),
    ).toMatchObject({ fresh: 2, known: 1 })
    expect((await leadOf(some[0]!.emailKey)).ownerId).toBe(ownerId)
    expect((await leadOf(some[1]!.emailKey)).ownerId).toBeNull()
    expect((await sql`select 1 from delivery where kind = 'notice'`).length).toBe(before)
  })
  it('gives people to whose turn it is, or to one member, and tells each once, also who brought them in only if it is not themselves', async () => {
    const [list, some, by] = [await aList(), people(40), await member()]
    await enter(sql, [some[0]!.email])
    const { ownerId: before } = await leadOf(some[0]!.emailKey)
    const ruleset = await readRuleset(sql)
    const turns = async () =>
      new Map(
        (await sql<{ memberId: string; given: number }[]>`select member_id, sum(given)::int as given from turn group by 1`).map(t => [
          t.memberId,
          t.given,
        ]),
      )
    const start = await turns()
    const came = await bringIn(sql, ruleset, list, some, { replace: false, owners: 'plan' }, by, Date.now())
    const owners = await sql<
      { ownerId: string; n: number }[]
    >`select owner_id, count(*)::int as n from lead where email_key = any(${some.slice(1).map(p => p.emailKey)}) group by 1`
    const given = [...(await turns())].map(([m, n]) => [m, n - (start.get(m) ?? 0)] as const).filter(([, n]) => n > 0)
    expect(new Map(owners.map(o => [o.ownerId, o.n]))).toEqual(new Map(given))
    expect(given.reduce((sum, [, n]) => sum + n, 0)).toBe(39)
    expect((await leadOf(some[0]!.emailKey)).ownerId).toBe(before)
    const told = await sql<{ memberId: string; subject: string }[]>`select member_id, subject from delivery where list_id = ${list.id}`
    expect(told.map(t => t.memberId).sort()).toEqual(
      given
        .map(([m]) => m)
        .filter(m => m !== by)
        .sort(),
    )
    expect(came.told.sort()).toEqual(told.map(t => t.memberId).sort())
    for (const t of told)
      expect(t.subject).toMatch(new RegExp(`^${given.find(([m]) => m === t.memberId)![1]} people of “List \\d+” are yours now$`))
    const [other, more] = [await aList(), people(3)]
    await bringIn(sql, ruleset, other, more, { replace: false, owners: by }, by, Date.now())
    expect((await Promise.all(more.map(p => leadOf(p.emailKey)))).map(l => l.ownerId)).toEqual([by, by, by])
    expect(await sql`select 1 from delivery where list_id = ${other.id}`).toHaveLength(0)
  })
  it('is taken back as a whole: who came by it goes, who was known is as before, and what happened since stays', async () => {
    const [list, some, by] = [await aList(), people(6), await member()]
    const [known, changedSince, listedBefore, fresh, since, twice] = some.map(p => p.email) as [
      string,
      string,
      string,
      string,
      string,
      string,
    ]
    await enter(sql, [known, changedSince, listedBefore])
    const ruleset = await readRuleset(sql)
    const table = some.map(p => ({ ...p, values: { company: 'The table says', town: 'Tableton' } }))
    const facts = async (email: string) =>
      (await sql<Record<string, unknown>[]>`select company, properties, fit, label, owner_id from lead where email_key = ${email}`)[0]
    const before = await facts(known)
    const idOf = async (email: string) => (await leadOf(email)).id
    await sql.begin(async tx =>
      changeLeads(tx, ruleset, [{ kind: 'lists', at: Date.now(), by, lead: await idOf(listedBefore), lists: [list.id] }]),
    )
    const { id, ...came } = await bringIn(sql, ruleset, list, table, { replace: true, owners: by }, by, Date.now())
    expect(came).toMatchObject({ fresh: 3, known: 3 })
    expect(await facts(known)).toMatchObject({ company: 'The table says', properties: { town: 'Tableton' } })
    await sql.begin(async tx => changeLeads(tx, ruleset, [{ kind: 'note', at: Date.now(), by, lead: await idOf(since), text: 'Called' }]))
    await bringIn(
      sql,
      ruleset,
      await aList(),
      [{ ...table[1]!, values: { company: 'They say' } }],
      { replace: true, owners: 'nobody' },
      by,
      Date.now(),
    )
    await bringIn(sql, ruleset, await aList(), [table[5]!], { replace: false, owners: 'nobody' }, by, Date.now())
    expect(await takeBack(sql, ruleset, id, by)).toMatchObject({ gone: 1, stayed: 2 })
    expect(await sql`select 1 from lead where email_key = ${fresh}`).toHaveLength(0)
    expect(await facts(known)).toEqual(before)
    expect((await facts(changedSince))!.company).toBe('They say')
    expect(await facts(since)).toMatchObject({ company: 'The table says' })
    expect((await leadOf(twice)).ownerId).toBe(by)
    expect(
      await sql<{ email: string }[]>`select l.email from list_member m join lead l on l.id = m.lead_id where m.list_id = ${list.id}`,
    ).toEqual([{ email: listedBefore }])
    // Once is enough, and nothing else is left of it.
    expect(await takeBack(sql, ruleset, id, by)).toBeUndefined()
    expect(await sql`select 1 from import_row where import_id = ${id}`).toHaveLength(0)
  })
  it('cannot be taken back while it comes, and goes on being taken back where that was interrupted', async () => {
    const [list, some, by] = [await aList(), people(1100), await member()]
    const ruleset = await readRuleset(sql)
    const { id } = await bringIn(sql, ruleset, list, some, { replace: false, owners: 'nobody' }, by, Date.now())
    await sql`update import set phase = 'list' where id = ${id}`
    expect(await takeBack(sql, ruleset, id, by)).toBeUndefined()
    await sql`update import set phase = 'done' where id = ${id}`
    await sql`create function hold_fast() returns trigger language plpgsql as $$ begin raise exception 'held fast'; end $$`
    await sql.unsafe(
      `create trigger hold_fast before delete on lead for each row when (old.email_key = '${some[777]!.emailKey}') execute function hold_fast()`,
    )
    await expect(takeBack(sql, ruleset, id, by)).rejects.toThrow('held fast')
    expect(await known(some)).toBe(600)
    await sql`drop trigger hold_fast on lead`
    await sql`update import set touched_at = now() - interval '5 minutes'`
    await goOnWithImports(sql)
    expect([await known(some), await onList(list.id)]).toEqual([0, 0])
  })
  it('gives the same fit and label as a form that was told the same, and leaves interest as it was', async () => {
    const told = { sector: 'school', size: 'small' }
    const [byForm, known, fresh, untold] = Array.from({ length: 4 }, somebody) as [string, string, string, string]
    await enter(sql, [byForm])
    await sql.begin(async tx => accept(tx, await readRuleset(tx), [{ ...(await intake(known)), values: {} }], { mails: false }))
    const scores = async (email: string) =>
      (
        await sql<{ fit: number; label: string; reasons: ReasonLine[] }[]>`select fit, label, reasons from lead where email_key = ${email}`
      )[0]!
    const of = (reasons: ReasonLine[], axis: string) => reasons.filter(r => r.axis === axis).map(r => [r.rule, r.points])
    const [like, before] = [await scores(byForm), await scores(known)]
    expect([like.fit > before.fit, of(before.reasons, 'interest')]).toEqual([true, of(like.reasons, 'interest')])
    const table = [known, fresh, untold].map((email, i) => ({ line: i + 2, email, emailKey: email, values: email === untold ? {} : told }))
    await bringIn(sql, await readRuleset(sql), await aList(), table, { replace: true, owners: 'nobody' }, await member(), Date.now())
    const [after, blank] = [await scores(fresh), await scores(untold)]
    expect(of(after.reasons, 'fit')).toEqual(of(like.reasons, 'fit'))
    expect([after.fit, of(after.reasons, 'interest'), of(blank.reasons, 'interest')]).toEqual([like.fit, [], []])
    const { label, fit, reasons } = await scores(known)
    expect([label, fit, of(reasons, 'interest')]).toEqual([like.label, like.fit, of(before.reasons, 'interest')])
  })
  it('holds entries up for no more than one of its pieces', async () => {
    const [list, some] = [await aList(), people(1500)]
    const there = some.filter((_, i) => i % 100 === 0).map(p => p.email)
    await enter(sql, there)
    let ended = false
    const running = bringIn(
      sql,
      await readRuleset(sql),
      list,
      some,
      { replace: false, owners: 'nobody' },
      await member(),
      Date.now(),
    ).finally(() => {
      ended = true
    })
    const other = db.another()
    let meanwhile = 0
    while (!ended) {
      await retried(() => enter(other, [there[n % there.length]!, somebody()]), 10)
      if (!ended) meanwhile++
    }
    await running
    expect(meanwhile).toBeGreaterThan(2)
    expect([await known(some), await onList(list.id)]).toEqual([1500, 1500])
  })
})
