import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Sql } from '#db/client'
import { dropLeads } from '#db/drop-leads'
import { addList } from '#db/lists'
import { activeMembers } from '#db/members'
import { addPlan } from '#db/routing'
import { addScorecard } from '#db/scoring'
import { funnelOf, funnelWants } from '#core/figures/readings'
import { countFigures, readFigures } from '#server/consumers/figures'
import { findAlike } from '#server/consumers/likeness'
import { carryOut, type LeadAct } from '#server/follow-up/acts'
import { merge, split } from '#server/review/merge'
import { readRuleset } from '#server/ruleset'
import { freshDatabase, type TestDatabase } from '../support/database'
import { does, visitorMail } from '../support/forms'
import { lane, planOf, seated } from '../support/plans'
import { portrait } from '../support/portrait'
import { ways } from '../support/ways'

/** Two leads that are one person become one, and come apart again with nothing lost. */
const START = Date.UTC(2026, 5, 1, 8)
let db: TestDatabase
let sql: Sql
const [spring, autumn] = [randomUUID(), randomUUID()]
let member: (name: string) => string
const { live, at, enter, entered, reads } = ways(() => sql, START)

beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
  process.env.CAVLIN_DATABASE = db.url
  process.env.CAVLIN_URL = 'https://cavlin.example'
  const members = await activeMembers(sql)
  member = name => members.find(m => m.name.startsWith(name))!.id
  await addList(sql, spring, 'Spring')
  await addList(sql, autumn, 'Autumn')
  await addScorecard(
    sql,
    {
      version: 1,
      halfLifeDays: 14,
      fit: [{ key: 'school', name: 'A school', points: 30, when: { attribute: 'property.sector', is: 'equal', value: 'school' } }],
      interest: [
        { key: 'asked', name: 'Asked', points: 20, on: 'entry', when: null },
        { key: 'read', name: 'Read', points: 5, on: 'page_view', when: null },
      ],
      labels: [
        { label: 'early', fit: -1000, interest: 0 },
        { label: 'warming', fit: 0, interest: 30 },
        { label: 'marketing_qualified', fit: 20, interest: 38 },
      ],
    },
    new Date(START),
  )
  await addPlan(sql, planOf(lane('all', { name: 'All', pool: seated(member('Mireille')) })), new Date(START))
  await live('form_one', d => {
    does(d, 'list', { lists: [spring] })
    d.actions.push(visitorMail('thanks', 'Thank you', 'We have it.', 0))
  })
  await live('form_two', d => {
    does(d, 'list', { lists: [autumn] })
    does(d, 'tag', { tags: ['second'] })
  })
  await live('form_phone', d => {
    d.people = { ...d.people, same: ['phone'] }
  })
  await sql`select make_trail_part('2026-06-01'::date), make_trail_part('2026-07-01'::date)`
  vi.useFakeTimers({ toFake: ['Date'], now: START })
})
afterAll(async () => {
  vi.useRealTimers()
  await db.drop()
})

const act = async (lead: string, minutes: number, what: LeadAct) => {
  await sql.begin(async tx => carryOut(tx, await readRuleset(tx), lead, member('Orla'), what, new Date(at(minutes))))
}
/** All that is kept of a lead but what was told of it since a minute, when it was changed last, and since when it has its owner. */
const of = async (lead: string, until: number) =>
  (await portrait(sql, lead, START))
    .replace(/changed \+\d+m|(?<=owner [^,]+) since \+\d+m/g, '')
    .split('\n')
    .filter(line => !(Number(/^\+(\d+)m/.exec(line)?.[1] ?? 0) >= until || line.includes('was joined with')))
    .join('\n')
const joins = async (kept: string, gone: string, minutes: number, take: string[] = []) => {
  at(minutes)
  return await merge(sql, await readRuleset(sql), { kept, gone, take, by: member('Orla') })
}
const apart = async (id: string, minutes: number) => {
  at(minutes)
  return await split(sql, await readRuleset(sql), id, member('Orla'))
}
const there = async (lead: string) => (await sql`select from lead where id = ${lead}`).length === 1
const figures = async () => {
  await countFigures(sql, 'Europe/Paris')
  const wanted = funnelWants(Date.now())
  const { sums } = await readFigures(sql, 'Europe/Paris', wanted, tx => tx`select 1`)
  const { labels, statuses } = await readRuleset(sql)
  return { ...funnelOf(sums, { labels, statuses }, member('Mireille')), lists: await lists() }
}
const lists = async () => {
  const { sums } = await readFigures(sql, 'Europe/Paris', [{ figure: 'list' }], tx => tx`select 1`)
  return Object.fromEntries(sums[0]!.map(s => [s.key[0], s.n]))
}
/** What the figures say, asked of the leads themselves. */
const counted = async () => {
  const [row] = await sql<
    { leads: number; waiting: number; spring: number; autumn: number }[]
  >`select count(*)::int as leads, count(waiting_since)::int as waiting,
    (select count(*)::int from list_member where list_id = ${spring}) as spring, (select count(*)::int from list_member where list_id = ${autumn}) as autumn from lead`
  return row!
}

let numbers = 12345600
/** Two leads with a history each, by names and numbers of their own. */
async function two(name: string, minutes: number) {
  const tel = `+336${numbers++}`
  const [a, b] = [randomUUID(), randomUUID()].map(id => id.replace(/^./, 'c'))
  await reads(a!, minutes, [{ kind: 'page', path: '/one' }])
  const one = await entered('form_one', { mail: `${name}@one.example`, first: 'Ida', sector: 'school', words: 'Glass' }, minutes + 1, {
    visitor: a!,
  })
  await reads(b!, minutes + 2, [
    { kind: 'page', path: '/two' },
    { kind: 'page', path: '/three' },
  ])
  const other = await entered('form_two', { mail: `${name}@two.example`, first: 'Idah', tel, words: 'Steel' }, minutes + 3, { visitor: b! })
  await act(other.lead, minutes + 4, { do: 'note', text: 'Called from the other number' })
  return { kept: one.lead, gone: other.lead, browser: b!, tel, mail: `${name}@two.example` }
}

describe('two leads that are one person', () => {
  it('are one: nothing of either is lost, where they differ the choice stands, and the score is of both', async () => {
    const { kept, gone, tel } = await two('one', 0)
    await joins(kept, gone, 10, ['first_name'])
    expect(await there(gone)).toBe(false)
    const [lead] = await sql<
      { firstName: string; properties: Record<string, string>; tags: string[]; label: string; reasons: { rule: string }[]; fit: number }[]
    >`select * from lead where id = ${kept}`
    expect(lead).toMatchObject({
      firstName: 'Idah',
      properties: { sector: 'school', phone: tel, message: 'Glass' },
      fit: 30,
      label: 'marketing_qualified',
    })
    expect(lead!.tags).toContain('second')
    expect(lead!.reasons.map(r => r.rule).sort()).toEqual(['asked', 'asked', 'read', 'read', 'read', 'school'])
    const story = await portrait(sql, kept, START)
    for (const said of ['Called from the other number', '/two', '/one', 'Thank you', 'Autumn', 'Spring', 'merged'])
      expect(story).toContain(said)
    expect(await sql`select from lead_event where lead_id = ${gone} and cause = 'merged_into'`).toHaveLength(1)
  })

  it('come apart as they were, however both were chosen', async () => {
    for (const take of [[], ['email', 'first_name', 'message', 'owner', 'status']]) {
      const { kept, gone } = await two(`apart${take.length}`, 100 + take.length * 20)
      await act(gone, 106 + take.length * 20, { do: 'status', status: 'in_talks' })
      await act(gone, 107 + take.length * 20, { do: 'owner', owner: member('Jonah') })
      const until = 110 + take.length * 20
      const [before, other] = [await of(kept, until), await of(gone, until)]
      const id = await joins(kept, gone, until, take)
      expect(await of(kept, until)).not.toBe(before)
      expect(await apart(id, 111 + take.length * 20)).toEqual({ kept, gone })
      expect(await of(kept, until)).toBe(before)
      expect(await of(gone, until)).toBe(other)
      await expect(apart(id, 112 + take.length * 20)).rejects.toThrow('They are apart already.')
    }
  })

  it('are found by either address and number, and by no third', async () => {
    const { kept, gone, mail, tel } = await two('found', 300)
    const id = await joins(kept, gone, 310)
    expect((await entered('form_one', { mail, words: 'Again' }, 311)).lead).toBe(kept)
    expect((await entered('form_phone', { tel }, 312)).lead).toBe(kept)
    expect(await sql`select from claimed_address where lead_id = ${kept}`).toHaveLength(0)
    await apart(id, 313)
    expect((await entered('form_two', { mail }, 314)).lead).toBe(gone)
  })

  it('give back what came since under the address of the one that went, and what their browsers did', async () => {
    const { kept, gone, mail, browser } = await two('since', 400)
    const id = await joins(kept, gone, 410)
    const { lead, entry } = await entered('form_one', { mail, words: 'Since then' }, 411)
    expect(lead).toBe(kept)
    await reads(browser, 412, [{ kind: 'page', path: '/since' }])
    await act(kept, 413, { do: 'note', text: 'Said on the one that stays' })
    await apart(id, 414)
    const [own, other] = [await portrait(sql, kept, START), await portrait(sql, gone, START)]
    expect(await sql`select lead_id from entry where id = ${entry}`).toEqual([{ leadId: gone }])
    expect(other).toContain('/since')
    expect(own).not.toContain('/since')
    expect(own).toContain('Said on the one that stays')
    const rules = async (of: string) =>
      (await sql<{ reasons: { rule: string }[] }[]>`select reasons from lead where id = ${of}`)[0]!.reasons.map(r => r.rule).sort()
    expect(await rules(kept)).toEqual(['asked', 'read', 'school'])
    expect(await rules(gone)).toEqual(['asked', 'asked', 'read', 'read', 'read'])
  })

  it('keep what was changed since, and go the way through a third', async () => {
    const first = await two('chain', 500)
    const third = (await entered('form_one', { mail: 'chain@three.example', first: 'Third' }, 506)).lead
    const inner = await joins(first.kept, first.gone, 510)
    const outer = await joins(third, first.kept, 511)
    expect((await entered('form_two', { mail: first.mail }, 512)).lead).toBe(third)
    await act(first.gone, 513, { do: 'note', text: 'Meant for whom it went into' })
    expect(await portrait(sql, third, START)).toContain('Meant for whom it went into')
    await expect(apart(inner, 514)).rejects.toThrow('Take that apart first.')
    await apart(outer, 515)
    expect((await entered('form_two', { mail: first.mail }, 516)).lead).toBe(first.kept)
    await apart(inner, 517)
    for (const lead of [third, first.kept, first.gone]) expect(await there(lead)).toBe(true)
  })

  it('leave a mail list when one of them has left it', async () => {
    const { kept, gone } = await two('left', 600)
    await sql`update lead set unsubscribed_at = now() where id = ${gone}`
    const id = await joins(kept, gone, 610)
    expect(await sql`select from lead where id = ${kept} and unsubscribed_at is not null`).toHaveLength(1)
    await apart(id, 611)
    expect(await sql`select from lead where id = ${kept} and unsubscribed_at is null`).toHaveLength(1)
  })

  it('are erased apart: what the other one’s events say of a person goes, too', async () => {
    const { kept, gone } = await two('erased', 650)
    const other = (await entered('form_one', { mail: 'erased@four.example' }, 655)).lead
    await sql`update lead set last_name = 'Wexelblatt', owner_id = ${member('Jonah')} where id = ${gone}`
    const id = await joins(kept, gone, 660, ['first_name', 'email'])
    expect(await sql`select from delivery where lead_id = ${kept} and subject like '%Wexelblatt%'`).toHaveLength(1)
    const third = (await entered('form_one', { mail: 'erased@three.example' }, 661)).lead
    const later = await joins(kept, third, 662)
    await apart(id, 664)
    // Who is erased has no entries any more.
    for (const table of ['consent', 'entry']) await sql`update ${sql(table)} set lead_id = ${other} where lead_id = ${gone}`
    await sql.begin(tx => dropLeads(tx, [gone]))
    const rest = await sql<
      { said: string }[]
    >`select changes::text as said from lead_event where lead_id = ${kept} union all select states::text || row::text || moved::text from lead_merge where root = ${kept}`
    expect(rest.map(r => r.said).join()).not.toMatch(/Wexelblatt|Idah|erased@two/)
    expect(await sql`select from delivery where lead_id = ${kept} and subject like '%Wexelblatt%'`).toEqual([])
    await apart(later, 665)
    expect((await sql`select email, first_name from lead where id = ${kept}`)[0]).toEqual({ email: 'erased@one.example', firstName: 'Ida' })
  })

  it('are counted once in every figure, and twice again', async () => {
    const { kept, gone } = await two('count', 700)
    const before = await figures()
    const id = await joins(kept, gone, 710)
    const once = await figures()
    expect(once).toMatchObject({
      waiting: (await counted()).waiting,
      lists: { [spring]: (await counted()).spring, [autumn]: (await counted()).autumn },
    })
    expect(once.entries).toBe(before.entries)
    expect(once.passed.toQualify).toBe(before.passed.toQualify - 1)
    await apart(id, 711)
    expect(await figures()).toEqual(before)
  })

  it('are joined once by two who do it at once, and an entry that comes meanwhile is not lost', async () => {
    const { kept, gone, mail } = await two('race', 800)
    at(810)
    const ruleset = await readRuleset(sql)
    const attempts = await Promise.allSettled([
      merge(sql, ruleset, { kept, gone, take: [], by: member('Orla') }),
      merge(sql, ruleset, { kept: gone, gone: kept, take: [], by: member('Orla') }),
      ...[1, 2, 3].map(n => enter('form_one', { mail, words: `Meanwhile ${n}` }, 810)),
    ])
    expect(attempts.slice(0, 2).filter(a => a.status === 'fulfilled')).toHaveLength(1)
    expect(attempts.slice(2).map(a => a.status)).toEqual(['fulfilled', 'fulfilled', 'fulfilled'])
    const left = await sql<
      { id: string; n: number }[]
    >`select l.id, (select count(*)::int from entry where lead_id = l.id) as n from lead l where l.id in (${kept}, ${gone})`
    expect(left).toHaveLength(1)
    expect(left[0]!.n).toBe(5)
    expect(await sql`select from lead where email_key like 'race@%'`).toHaveLength(1)
  })
})

describe('people who are here twice', () => {
  const pairs = async () => {
    while ((await findAlike(sql, ['phone'])).took > 0);
    return await sql<
      { a: string; b: string; reasons: { by: string }[]; strength: number; apartAt: Date | null }[]
    >`select * from likely_pair`
  }
  it('are found by number, by name and firm, and by an address that looks alike; colleagues are not', async () => {
    const lead = async (mail: string, first: string, last: string, company: string, tel = '') => {
      const { lead } = await entered('form_one', { mail, first, ...(tel && { tel }) }, 900)
      await sql`update lead set first_name = ${first}, last_name = ${last}, company = ${company} where id = ${lead}`
      return lead
    }
    const called = new Map<string, string>()
    for (const [name, ...given] of [
      ['greta', 'greta.holm@kale.example', 'Greta', 'Holm', 'Kale & Co Ltd'],
      ['typo', 'greta.hom@kale.example', 'Greta', 'Holm', ''],
      ['home', 'gretchen77@post.example', 'Greta', 'Hólm', 'Kale'],
      ['colleague', 'bruno.kay@kale.example', 'Bruno', 'Kay', 'Kale & Co'],
      ['info', 'info@moss.example', '', '', 'Moss'],
      ['info2', 'info@mosses.example', '', '', 'Mosses'],
      ['desk', 'odile@fern.example', 'Odile', 'Fern', 'Fern', '01 42 68 53 00'],
      ['desk2', 'odile.fern@bank.example', 'Odile', 'Fern', 'Bank', '01 42 68 53 00'],
      ['other', 'kurt@fern.example', 'Kurt', 'Weiss', 'Fern', '01 42 68 53 00'],
    ] as [string, string, string, string, string, string?][])
      called.set(await lead(...(given as [string, string, string, string])), name)
    await sql`delete from consumer where name = 'likeness'`
    const found = (await pairs()).flatMap(p =>
      called.has(p.a) && called.has(p.b)
        ? [`${[called.get(p.a)!, called.get(p.b)!].sort().join(' ')}: ${p.reasons.map(r => r.by).join()}`]
        : [],
    )
    expect(found.sort()).toEqual(['desk desk2: phone', 'greta home: name_firm', 'greta typo: address'])
  })

  it('are brought up no more once they are one, or were found to be two', async () => {
    const between = async (a: string, b: string) => (await pairs()).find(p => [a, b].sort().join() === [p.a, p.b].sort().join())
    const { kept, gone } = await two('ida.hofmann.garden', 1000)
    const twin = (await entered('form_two', { mail: 'ida.hofman.garden@two.example', first: 'Idah' }, 1005)).lead
    expect(await between(gone, twin)).toBeDefined()
    const id = await joins(kept, gone, 1006)
    expect(await between(gone, twin)).toBeUndefined()
    await apart(id, 1007)
    expect((await between(kept, gone))?.apartAt).not.toBeNull()
    expect((await between(gone, twin))?.apartAt).toBeNull()
  })
})
