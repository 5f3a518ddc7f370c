import { copyFileSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { upgraded, upgradedPage } from '#core/points/upgrade'
import { connect, type Sql } from '#db/client'
import { migrate } from '#db/migrate'
import { countFigures, readFigures } from '#server/consumers/figures'
import { newId } from '#server/ids'

const name = `migrated_${process.pid}`
let admin: Sql
let sql: Sql
let url: string
let folder: string
beforeEach(async () => {
  admin = connect(process.env.CAVLIN_TEST_ADMIN!, { max: 1 })
  await admin.unsafe(`create database ${name} owner cavlin`)
  url = process.env.CAVLIN_TEST_CLUSTER!.replace(/\/[^/]*$/, `/${name}`)
  sql = connect(url, { max: 4 })
  folder = mkdtempSync(join(tmpdir(), 'cavlin-migrations-'))
})
afterEach(async () => {
  await sql.end({ timeout: 2 })
  await admin.unsafe(`drop database ${name} with (force)`)
  await admin.end()
  rmSync(folder, { recursive: true, force: true })
})
const write = (file: string, text: string) => writeFileSync(join(folder, file), text)
const done = async () => (await sql<{ name: string }[]>`select name from migration order by name`).map(r => r.name)

describe('migrations', () => {
  it('are carried out one by one: what went well before one that fails stays, and the rest follows when it is mended', async () => {
    write('0001_a.sql', 'create table a (n int);')
    write('0002_b.sql', 'create table b (n int);\ninsert into a values (1);\nselect 1 / 0;')
    write('0003_c.sql', 'create table c (n int);')
    await expect(migrate(url, folder)).rejects.toThrow('division by zero')
    expect([await done(), await sql`select to_regclass('b') as b, (select count(*)::int from a) as n`]).toEqual([
      ['0001_a.sql'],
      [{ b: null, n: 0 }],
    ])
    write('0002_b.sql', 'create table b (n int);')
    expect(await migrate(url, folder)).toEqual(['0002_b.sql', '0003_c.sql'])
    expect(await migrate(url, folder)).toEqual([])
  })
  it('are carried out once, by whichever of several processes comes first', async () => {
    write('0001_a.sql', 'create table a (n int);\nselect pg_sleep(0.3);')
    write('0002_b.sql', 'insert into a values (1);')
    const all = await Promise.all([1, 2, 3].map(() => migrate(url, folder)))
    expect(all.flat().sort()).toEqual(['0001_a.sql', '0002_b.sql'])
    expect(await sql`select n from a`).toHaveLength(1)
  })
  it('build an index while others write, and make one anew that was left half built, also with somebody waiting for their turn', async () => {
    write('0001_a.sql', 'create table a (n int);\ninsert into a select 1 from generate_series(1, 2);')
    write('0002_i.sql', '-- each statement by itself\n-- why\ncreate unique index concurrently if not exists a_n on a (n);\nanalyze a;\n')
    await expect(migrate(url, folder)).rejects.toThrow('could not create unique index')
    expect(await sql`select indisvalid from pg_index where indexrelid = 'a_n'::regclass`).toMatchObject([{ indisvalid: false }])
    await sql`delete from a where ctid = '(0,1)'`
    const all = await Promise.all([migrate(url, folder), migrate(url, folder)])
    expect(all.flat()).toEqual(['0002_i.sql'])
    expect(await sql`select indisvalid from pg_index where indexrelid = 'a_n'::regclass`).toMatchObject([{ indisvalid: true }])
  })
  it('fill in pieces, and go on where they were interrupted', async () => {
    write(
      '0001_a.sql',
      "create table a (n int primary key, twice int);\ninsert into a select generate_series(1, 25);\ncreate function stop() returns trigger language plpgsql as $$ begin if new.n = 17 then raise exception 'pulled the plug'; end if; return new; end $$;\ncreate trigger stop before update on a for each row execute function stop();",
    )
    write('0002_fill.sql', '-- in pieces\nupdate a set twice = n * 2 where n in (select n from a where twice is null order by n limit 10)')
    const seen: number[] = []
    await expect(migrate(url, folder, (_, rows) => seen.push(rows))).rejects.toThrow('pulled the plug')
    expect(seen).toEqual([10])
    expect(await sql`select 1 from a where twice is not null`).toHaveLength(10)
    await sql`drop trigger stop on a`
    expect(await migrate(url, folder, (_, rows) => seen.push(rows))).toEqual(['0002_fill.sql'])
    expect(seen).toEqual([10, 10, 15])
    expect(await sql`select 1 from a where twice = n * 2`).toHaveLength(25)
  })
  it('are not held to the time that statements may take', async () => {
    await admin.unsafe(`alter database ${name} set statement_timeout = '50ms'`)
    write('0001_a.sql', 'select pg_sleep(0.2);')
    expect(await migrate(url, folder)).toEqual(['0001_a.sql'])
  })
  it('say so when the connection is lost, and let the next one go on', async () => {
    write('0001_a.sql', 'create table a (n int);\ninsert into a values (0);')
    write('0002_b.sql', '-- in pieces\nupdate a set n = 1 where n = (select 0 from pg_sleep(20))')
    const running = migrate(url, folder).then(
      () => 'done',
      (error: Error) => error.message,
    )
    await expect
      .poll(
        async () =>
          (
            await admin`select pid from pg_stat_activity where datname = ${name} and query like '%pg_sleep%' and application_name = 'cavlin migrations' and state = 'active'`
          ).length,
      )
      .toBe(1)
    await admin`select pg_terminate_backend(pid) from pg_stat_activity where datname = ${name} and application_name = 'cavlin migrations'`
    expect(await running).not.toBe('done')
    write('0002_b.sql', '-- in pieces\nupdate a set n = 1 where n = 0')
    expect(await migrate(url, folder)).toEqual(['0002_b.sql'])
  })
})

it('of names bring what is stored to what is read of an earlier definition', async () => {
  const ours = 'db/migrations'
  for (const file of readdirSync(ours).filter(f => f < '0035')) copyFileSync(join(ours, file), join(folder, file))
  await migrate(url, folder)
  const mail = { key: 'later', subject: 'S', text: 'A “"attribute": "given"” in a text', days: 3, goal: null }
  const form = {
    version: 1,
    title: 'T',
    intro: '',
    look: { ink: '#112233' },
    appears: { on: true, audience: { all: [{ attribute: 'given', is: 'equal', value: 'yes' }] } },
    letters: [{ ...mail, unlessFollowed: true }, mail],
    wordings: [{ key: 'b' }],
  }
  const page = { version: 1, title: 'P', look: { ink: '#445566' } }
  const older = { version: 1, title: 'O' }
  for (const [i, copy] of [form, page, older].entries())
    await sql`insert into point (id, key, slug, name, kind, working_copy, updated_at) values (gen_random_uuid(), ${`p${i}`}, ${`p${i}`}, 'P', ${i === 1 ? 'page' : 'form'}, ${copy as never}, now())`
  for (const file of readdirSync(ours)) copyFileSync(join(ours, file), join(folder, file))
  await migrate(url, folder)
  const stored = (await sql<{ workingCopy: unknown }[]>`select working_copy from point order by key`).map(p => p.workingCopy)
  const given = (all: unknown) => JSON.parse(JSON.stringify(all).replaceAll('"attribute":"given"', '"attribute":"submitted"')) as unknown
  // The file brings them to version 2; what came since is done when they are read.
  const read = (all: unknown[]) => all.map((d, i) => (i === 1 ? upgradedPage : upgraded)(d))
  expect(read(stored)).toEqual(read([form, page, older]).map(given))
})

it('of what happened move every line into one event of its cause, in pieces, and lose nothing', async () => {
  const ours = 'db/migrations'
  for (const file of readdirSync(ours).filter(f => f < '0036')) copyFileSync(join(ours, file), join(folder, file))
  await migrate(url, folder)
  await sql`insert into status values ('untouched', 'Untouched', 1, 'first'), ('won', 'Won', 2, 'won')`
  await sql`insert into label values ('warm', 'Warm', 1, true, 60)`
  const list = newId()
  await sql`insert into list (id, name) values (${list}, 'L')`
  const [point, edition] = [newId(), newId()]
  await sql`insert into point (id, key, slug, name, kind, working_copy, updated_at) values (${point}, 'p', 'p', 'P', 'form', '{}', now())`
  await sql`insert into edition (id, point_id, number, definition, revision, made_at) values (${edition}, ${point}, 1, '{}', 1, now())`
  const day = (n: number) => new Date(Date.UTC(2026, 5, n))
  const lead = async (id: string) =>
    void (await sql`insert into lead (id, email, email_key, status, status_at, created_at, updated_at, half_life_days, card)
    values (${id}, ${`${id}@x.example`}, ${`${id}@x.example`}, 'untouched', now(), now(), now(), 14, 1)`)
  const entry = async (of: string, at: Date, brought: object | null) => {
    const id = newId()
    await sql`insert into entry (id, point_id, edition_id, lead_id, at, state, answers, fingerprint, brought) values (${id}, ${point}, ${edition}, ${of}, ${at}, 'complete', '{}', '', ${brought as never})`
    return id
  }
  const line = (of: string, at: Date, kind: string, payload: object, actor: string | null = null) =>
    sql`insert into timeline (id, lead_id, at, kind, actor_id, payload) values (${newId()}, ${of}, ${at}, ${kind}, ${actor}, ${payload as never})`
  const label = { from: null, to: 'warm', because: 'score', fit: 30, interest: 12 }
  const member = newId()
  const [kept, older, oldest, nobody] = [newId(), newId(), newId(), newId()]
  for (const id of [kept, older, oldest, nobody]) await lead(id)
  // As the last version wrote: with the entry; then a member, a mail, and two notes in one moment.
  const changed = [{ property: 'town', from: 'A', to: 'B' }]
  const first = await entry(kept, day(1), {
    changed,
    agreed: ['Yes'],
    also: { came: { point: 'P' }, label, owner: { from: null, to: member, lane: 'L', by: 'plan' } },
    answers: [{ question: 'Q', text: 'at first' }],
  })
  await line(kept, day(1), 'claimed', { address: 'c@x.example' })
  await line(kept, day(2), 'status', { from: 'untouched', to: 'won' }, member)
  await line(kept, day(2), 'label', { ...label, fit: 31 })
  await line(kept, day(3), 'mailed', { subject: 'S', kind: 'letter' })
  await line(kept, day(3), 'note', { text: 'one' }, member)
  await line(kept, day(3), 'note', { text: 'two' }, member)
  await line(kept, day(4), 'left', { email: 'k@x.example' })
  await line(kept, day(5), 'followed', { subject: 'S' })
  await line(kept, day(6), 'label', { from: 'warm', to: null, because: 'none', fit: 30, interest: 0 })
  // As the one before: in the entry's line; and the first: a line each.
  const second = await entry(older, day(1), null)
  await line(older, day(1), 'entry', { entry: second, point: 'P', edition: 1, changed: [], also: { came: { point: 'P' }, label } })
  const third = await entry(oldest, day(1), null)
  await line(oldest, day(1), 'came', { point: 'P' })
  await line(oldest, day(1), 'entry', { entry: third, point: 'P', edition: 1, changed, answers: [{ question: 'Q', text: 'said' }] })
  await line(oldest, day(1), 'label', label)

  await sql`insert into list_member (list_id, lead_id, added_at) values (${list}, ${oldest}, ${day(9)})`

  for (const file of readdirSync(ours)) copyFileSync(join(ours, file), join(folder, file))
  const pieces: string[] = []
  await migrate(url, folder, name => pieces.push(name))
  expect(pieces).toEqual(['0037_move_events.sql', '0040_count_leads.sql'])

  const events = async (id: string) =>
    (
      await sql<
        { version: number; at: Date; cause: string; actorId: string | null; changes: object; fit: number | null; interest: number | null }[]
      >`
    select version, at, cause, actor_id, changes, fit, interest from lead_event where lead_id = ${id} order by version`
    ).map(e => [e.version, e.at.getUTCDate(), e.cause, e.actorId, e.changes, e.fit, e.interest])
  expect(await events(kept)).toEqual([
    [
      1,
      1,
      'entry',
      null,
      {
        entry: { entry: first, key: 'p', changed, agreed: ['Yes'] },
        created: { point: 'P' },
        label,
        owner: { from: null, to: member, lane: 'L', by: 'plan' },
        claimed: { address: 'c@x.example' },
      },
      30,
      12,
    ],
    [2, 2, 'status', member, { status: { from: 'untouched', to: 'won' }, label: { ...label, fit: 31 } }, 31, 12],
    [3, 3, 'note', member, { note: { text: 'one' } }, null, null],
    [4, 3, 'note', member, { note: { text: 'two' } }, null, null],
    [5, 4, 'unsubscribed', null, { unsubscribed: { email: 'k@x.example' } }, null, null],
    [6, 5, 'clicked', null, { clicked: { subject: 'S' } }, null, null],
    [7, 6, 'label', null, { label: { from: 'warm', to: null, because: 'none', fit: 30, interest: 0 } }, 30, 0],
  ])
  expect(await events(older)).toEqual([
    [1, 1, 'entry', null, { entry: { entry: second, key: 'p' }, created: { point: 'P' }, label }, 30, 12],
  ])
  expect(await events(oldest)).toEqual([
    [1, 1, 'entry', null, { entry: { entry: third, key: 'p', changed }, created: { point: 'P' }, label }, 30, 12],
    [2, 9, 'listed', null, { lists: { on: [list], off: [] } }, null, null],
  ])
  // Of whom nothing was told, who is counted all the same.
  expect(await events(nobody)).toEqual([[1, new Date().getUTCDate(), 'known', null, {}, null, null]])
  expect((await sql<{ counted: object }[]>`select counted from lead where id = ${kept}`)[0]!.counted).toEqual({
    first: ['p', 'direct'],
    qualified: true,
    last: { entry: day(1).getTime(), owner: day(1).getTime(), worked: day(2).getTime(), closed: day(2).getTime(), won: day(2).getTime() },
  })
  while ((await countFigures(sql, 'UTC')) > 0);
  const { sums } = await readFigures(
    sql,
    'UTC',
    [{ figure: 'standing' }, { figure: 'passed' }, { figure: 'entries' }, { figure: 'list' }],
    async () => {},
  )
  expect(sums.map(s => Object.fromEntries(s.map(({ key, n }) => [key.join(), n])))).toEqual([
    { ',,untouched,,yes': 4 },
    { entry: 3, owner: 1, worked: 1, closed: 1, won: 1 },
    { p: 3 },
    { [list]: 1 },
  ])
  expect((await sql<{ id: string; version: number }[]>`select id, version from lead`).map(l => [l.id, l.version]).sort()).toEqual(
    [
      [kept, 7],
      [older, 1],
      [oldest, 2],
      [nobody, 1],
    ].sort(),
  )
  expect(
    (await sql<{ id: string; firstAnswers: object }[]>`select id, first_answers from entry where first_answers is not null`)
      .map(e => [e.id, e.firstAnswers])
      .sort(),
  ).toEqual(
    [
      [first, [{ question: 'Q', text: 'at first' }]],
      [third, [{ question: 'Q', text: 'said' }]],
    ].sort(),
  )
})
