import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import type { Condition } from '#core/conditions/condition'
import { openClaim } from '#db/claims'
import type { Sql } from '#db/client'
import { mailById } from '#db/mails'
import { addList } from '#db/lists'
import { activeMembers } from '#db/members'
import { addPlan } from '#db/routing'
import { addScorecard } from '#db/scoring'
import { saveSegment } from '#db/segments'
import { correcting, correctTo } from '#server/capture/correction'
import { approve } from '#server/capture/approve'
import { confirmAddressOf } from '#server/claims/confirm'
import { judgeClaim, vouchFor } from '#server/claims/judge'
import { carryOut, type LeadAct } from '#server/follow-up/acts'
import { judgeDue } from '#server/jobs/due'
import { signedToken } from '#server/signed-addresses'
import { bringIn } from '#server/lists/import'
import { readTable } from '#server/lists/table'
import { unsubscribe } from '#server/claims/unsubscribe'
import { readRuleset } from '#server/ruleset'
import { eraseVisitor, part, rejoin } from '#server/trail/take'
import { freshDatabase, type TestDatabase } from '../support/database'
import { does, visitorMail } from '../support/forms'
import { lane, planOf, seated } from '../support/plans'
import { portrait } from '../support/portrait'
import { ways } from '../support/ways'

/**
 * What every way to a changed lead makes of it, as a whole: its row, its reasons, its lists, what was told and mailed, its
 * timeline. Card and plan ask for lists, a segment and the trail, so that what is known beside the lead counts as well.
 */
const START = Date.UTC(2026, 5, 1, 8)
const DAY = 86_400_000
const attribute = (name: string, is: 'equal' | 'filled', value?: string): Condition => ({
  attribute: name,
  is,
  ...(value !== undefined && { value }),
})
const did = (kind: 'page' | 'entry', where: Condition | null, times = 1): Condition => ({ did: kind, where, times, days: null })
const ids = { list: randomUUID(), other: randomUUID(), segment: randomUUID() }

let db: TestDatabase
let sql: Sql
let orla: string
beforeAll(async () => {
  db = await freshDatabase()
  sql = db.sql
  process.env.CAVLIN_DATABASE = db.url
  process.env.CAVLIN_URL = 'https://cavlin.example'
  const members = await activeMembers(sql)
  const member = (name: string) => members.find(m => m.name.startsWith(name))!.id
  orla = member('Orla')
  await addList(sql, ids.list, 'Spring')
  await addList(sql, ids.other, 'Autumn')
  await saveSegment(sql, { id: ids.segment, name: 'Came twice', condition: did('entry', null, 2) }, new Date(START))
  await addScorecard(
    sql,
    {
      version: 1,
      halfLifeDays: 14,
      fit: [
        { key: 'school', name: 'A school', points: 30, when: attribute('property.sector', 'equal', 'school') },
        { key: 'phone', name: 'Has a phone', points: 3, when: attribute('property.phone', 'filled') },
        { key: 'spring', name: 'On the list Spring', points: 7, when: attribute('list', 'equal', ids.list) },
        { key: 'twice', name: 'Came twice', points: 5, when: attribute('segment', 'equal', ids.segment) },
        { key: 'tagged', name: 'Tagged', points: 2, when: attribute('tag', 'equal', 'hot') },
      ],
      interest: [
        { key: 'asked', name: 'Asked', points: 20, on: 'entry', when: null },
        { key: 'prices', name: 'Read the prices', points: 10, on: 'page_view', when: attribute('page.path', 'equal', '/prices') },
        { key: 'sum', name: 'Did a sum', points: 6, on: 'event', when: attribute('event', 'equal', 'sum') },
      ],
      labels: [
        { label: 'early', fit: -1000, interest: 0 },
        { label: 'warming', fit: 0, interest: 18 },
        { label: 'marketing_qualified', fit: 35, interest: 24 },
      ],
    },
    new Date(START),
  )
  await addPlan(
    sql,
    planOf(
      lane('readers', {
        name: 'Read the prices',
        when: did('page', attribute('page.path', 'equal', '/prices')),
        pool: seated(member('Jonah')),
      }),
      lane('listed', { name: 'On the list', when: attribute('list', 'equal', ids.list), pool: seated(member('Desmond')) }),
      lane('rest', { name: 'The rest', pool: seated(member('Mireille')) }),
    ),
    new Date(START),
  )
  await live('form_plain', d => {
    does(d, 'tag', { tags: ['came'] })
  })
  await live('form_rich', d => {
    does(d, 'label', { label: 'warming' })
    does(d, 'tag', { tags: ['rich'] })
    does(d, 'list', { lists: [ids.list] })
    does(d, 'next_step', { text: 'Call', days: 2 })
    does(d, 'tell', {
      members: [orla],
      when: attribute('list', 'equal', ids.list),
      subject: '{{lead.first_name}} is on Spring',
      text: 'Look.',
    })
    d.returns = { ...d.returns, correct: true }
    d.actions.push(visitorMail('thanks', 'Thank you', 'We have it.', 0))
  })
  await live('form_phone', d => {
    d.people = { ...d.people, same: ['phone'] }
    d.actions.push(visitorMail('thanks', 'Thank you', 'We have it.', 0))
  })
  await live('form_sure', d => {
    d.confirm = { subject: 'Is it you?', text: 'Say so: {{link}}', done: '', then: { kind: 'message' } }
    d.actions.push(visitorMail('later', 'Later', 'We have it.', 3))
  })
  await live('form_held', d => {
    d.people = { ...d.people, unknown: 'hold' }
  })
  await live('form_fill', d => {
    d.people = { ...d.people, known: 'fill' }
  })
  await sql`select make_trail_part('2026-05-01'::date), make_trail_part('2026-06-01'::date), make_trail_part('2026-07-01'::date)`
  vi.useFakeTimers({ toFake: ['Date'], now: START })
})
afterAll(async () => {
  vi.useRealTimers()
  await db.drop()
})

const { live, at, enter, entered, reads, types } = ways(() => sql, START)
const act = async (lead: string, minutes: number, what: LeadAct) => {
  await sql.begin(async tx => carryOut(tx, await readRuleset(tx), lead, orla, what, new Date(at(minutes))))
}
const bring = async (csv: string, minutes: number, replace = false) => {
  const ruleset = await readRuleset(sql)
  return await bringIn(
    sql,
    ruleset,
    { id: ids.list },
    readTable(csv, null, ruleset).people,
    { replace, owners: 'nobody' },
    orla,
    at(minutes),
  )
}
const asked = async (lead: string) =>
  (await mailById(
    sql,
    (await sql<{ id: string }[]>`select id from delivery where lead_id = ${lead} and kind = 'confirm' order by id limit 1`)[0]!.id,
  ))!
const leaves = (lead: string, minutes: number) =>
  sql.begin(async tx => unsubscribe(tx, await readRuleset(tx), await asked(lead), at(minutes)))
const of = (lead: string) => portrait(sql, lead, START)
const held = async () => (await sql<{ id: string }[]>`select id from entry where state = 'held' order by at desc limit 1`)[0]!.id

describe('a lead that is changed', () => {
  it('by a first entry', async () => {
    expect(
      await of(
        (
          await entered(
            'form_plain',
            { mail: 'ida@ways.example', first: 'Ida', sector: 'school', tel: '06 12 34 56 78', words: 'Glass' },
            0,
          )
        ).lead,
      ),
    ).toMatchSnapshot()
  })
  it('by all that a point does afterwards', async () => {
    expect(
      await of((await entered('form_rich', { mail: 'rich@ways.example', first: 'Rick', sector: 'school', news: 'yes' }, 0)).lead),
    ).toMatchSnapshot()
  })
  it('by a second entry, which differs, adds, and changes who has a rule', async () => {
    const mail = 'again@ways.example'
    await entered('form_plain', { mail, first: 'Ada', sector: 'private', words: 'Glass' }, 0)
    expect(
      await of((await entered('form_rich', { mail: ' AGAIN@ways.example', first: 'Adele', sector: 'school', words: 'And wood' }, 60)).lead),
    ).toMatchSnapshot()
  })
  it('by one that only fills gaps', async () => {
    const mail = 'gaps@ways.example'
    await entered('form_plain', { mail, first: 'Ada' }, 0)
    expect(await of((await entered('form_fill', { mail, first: 'Adele', sector: 'school' }, 10)).lead)).toMatchSnapshot()
  })
  it('by the same entry twice: not at all', async () => {
    const [mail, other] = ['twin@ways.example', 'key@ways.example']
    const { lead } = await entered('form_plain', { mail, first: 'Ada' }, 0)
    const { lead: keyed } = await entered('form_plain', { mail: other, first: 'Ada' }, 0, { key: 'k1' })
    const before = [await of(lead), await of(keyed)]
    expect([
      (await enter('form_plain', { mail, first: 'Ada' }, 0.5)).kind,
      (await enter('form_plain', { mail: other, first: 'Ada' }, 90, { key: 'k1' })).kind,
    ]).toEqual(['repeated', 'repeated'])
    expect([await of(lead), await of(keyed)]).toEqual(before)
    expect((await enter('form_plain', { mail, first: 'Ada' }, 2)).kind).toBe('accepted')
  })
  it('by an entry of an archive, which mails nobody', async () => {
    expect(
      await of((await entered('form_rich', { mail: 'past@ways.example', first: 'Pia' }, 0, { via: 'archive', mails: false })).lead),
    ).toMatchSnapshot()
  })
  it('by an entry from a browser that had read before, and reads on', async () => {
    const visitor = randomUUID()
    await reads(visitor, 0, [
      { kind: 'page', path: '/' },
      { kind: 'page', path: '/prices' },
    ])
    const { lead } = await entered('form_plain', { mail: 'reader@ways.example', first: 'Rea' }, 1, { visitor })
    const first = await of(lead)
    await reads(visitor, 5, [
      { kind: 'page', path: '/prices' },
      { kind: 'event', path: '/prices', name: 'sum' },
    ])
    await reads(visitor, 24 * 60, [{ kind: 'page', path: '/prices' }])
    expect(first + (await of(lead))).toMatchSnapshot()
  })
  it('by a browser that is taken from them, and given back', async () => {
    const visitor = randomUUID()
    await reads(visitor, 0, [{ kind: 'page', path: '/prices' }])
    const { lead } = await entered('form_plain', { mail: 'browser@ways.example', first: 'Bo' }, 1, { visitor })
    await sql.begin(async tx => part(tx, await readRuleset(tx), lead, visitor, new Date(at(10))))
    const parted = await of(lead)
    await sql.begin(async tx => rejoin(tx, await readRuleset(tx), lead, visitor, new Date(at(20))))
    expect(parted + (await of(lead))).toMatchSnapshot()
  })
  it('by a browser that two share', async () => {
    const visitor = randomUUID()
    await reads(visitor, 0, [{ kind: 'page', path: '/prices' }])
    const { lead } = await entered('form_plain', { mail: 'shared-a@ways.example', first: 'A' }, 1, { visitor })
    const { lead: other } = await entered('form_plain', { mail: 'shared-b@ways.example', first: 'B' }, 2, { visitor })
    await reads(visitor, 3, [{ kind: 'event', path: '/', name: 'sum' }])
    expect((await of(lead)) + (await of(other))).toMatchSnapshot()
  })
  it('by a browser whose person asks that it be forgotten', async () => {
    const visitor = randomUUID()
    await reads(visitor, 0, [{ kind: 'page', path: '/prices' }])
    const { lead } = await entered('form_plain', { mail: 'forget@ways.example', first: 'Fo' }, 1, { visitor })
    await sql.begin(async tx => eraseVisitor(tx, await readRuleset(tx), visitor, at(10)))
    expect(await of(lead)).toMatchSnapshot()
  })
  it('by what they type and do not send, mend, and send at last', async () => {
    const [visitor, id] = [randomUUID(), randomUUID()]
    await reads(visitor, 0, [{ kind: 'page', path: '/prices' }])
    const [typed] = await types(id, visitor, 1, { mail: 'wrogn@ways.example', first: 'Ty' }, 1)
    const first = await of(typed!)
    const [mended] = await types(id, visitor, 2, { mail: 'wrong@ways.example', first: 'Ty', sector: 'school' }, 2)
    const second = await of(mended!)
    const { lead } = await entered('form_plain', { mail: 'wrong@ways.example', first: 'Ty', sector: 'school' }, 3, {
      visitor,
      unfinished: id,
    })
    expect(first + second + (await of(lead))).toMatchSnapshot()
  })
  it('by what somebody types who is known: not at all, but for a line', async () => {
    const { lead } = await entered('form_plain', { mail: 'known@ways.example', first: 'Kim' }, 0)
    await types(randomUUID(), randomUUID(), 5, { mail: 'known@ways.example', first: 'Thief', sector: 'school' }, 1)
    expect(await of(lead)).toMatchSnapshot()
  })
  it('by letting in what was held', async () => {
    expect((await enter('form_held', { mail: 'held@ways.example', first: 'Hel' }, 0)).kind).toBe('to review')
    const id = await held()
    at(120)
    expect(await of(await approve(sql, await readRuleset(sql), id))).toMatchSnapshot()
  })
  it('by a correction, which moves what hangs on the answers', async () => {
    const { lead, entry } = await entered('form_rich', { mail: 'correct@ways.example', first: 'Cor', sector: 'private' }, 0)
    await entered('form_plain', { mail: 'correct@ways.example', words: 'Since' }, 5)
    at(30)
    const token = signedToken('correct', entry)
    expect(await correctTo((await correcting(token))!, { mail: 'no@ways.example', first: 'Cora', sector: 'school', words: '' })).toEqual([])
    expect(await of(lead)).toMatchSnapshot()
  })
  it('by a key that is not an address, an address that is claimed for it, confirmed, and judged', async () => {
    const { lead } = await entered('form_phone', { tel: '06 98 76 54 32', first: 'Phi' }, 0)
    const plain = await of(lead)
    await entered('form_phone', { tel: '+33 6 98 76 54 32', mail: 'phi@ways.example' }, 10)
    const claimed = await of(lead)
    await confirmAddressOf(sql, await readRuleset(sql), await asked(lead), at(20))
    const confirmed = await of(lead)
    await entered('form_phone', { tel: '06 98 76 54 32', mail: 'other-phi@ways.example' }, 30)
    const claim = (await openClaim(sql, lead, 'other-phi@ways.example'))!
    at(40)
    await judgeClaim(sql, await readRuleset(sql), lead, claim.id, true, orla)
    const judged = await of(lead)
    expect([plain, claimed, confirmed, judged].join('')).toMatchSnapshot()
  })
  it('by confirming their own address, and by leaving', async () => {
    const { lead } = await entered('form_sure', { mail: 'sure@ways.example', first: 'Su', news: 'yes' }, 0)
    const before = await of(lead)
    await confirmAddressOf(sql, await readRuleset(sql), await asked(lead), at(20))
    const confirmed = await of(lead)
    await leaves(lead, 30)
    expect([before, confirmed, await of(lead)].join('')).toMatchSnapshot()
  })
  it('by a member who vouches for an address', async () => {
    const { lead } = await entered('form_plain', { mail: 'vouch@ways.example', first: 'Vo' }, 0)
    await sql`update lead set guarded_at = ${new Date(START)} where id = ${lead}`
    at(15)
    await vouchFor(sql, await readRuleset(sql), lead, orla)
    expect(await of(lead)).toMatchSnapshot()
  })
  it('by the acts of the follow-up', async () => {
    const { lead } = await entered('form_plain', { mail: 'acts@ways.example', first: 'Ac' }, 0)
    const seen: string[] = []
    const acts: LeadAct[] = [
      { do: 'note', text: 'They called.' },
      { do: 'status', status: 'in_talks' },
      { do: 'status', status: 'in_talks' },
      { do: 'next_step', step: { text: 'Offer', due: new Date(START + DAY) } },
      { do: 'next_step', step: null, done: true },
      { do: 'owner', owner: orla },
      { do: 'owner', owner: orla },
    ]
    for (const [i, what] of acts.entries()) {
      await act(lead, 10 * (i + 1), what)
      seen.push(await of(lead))
    }
    await entered('form_plain', { mail: 'acts@ways.example' }, 100)
    expect([...seen, await of(lead)].join('')).toMatchSnapshot()
  })
  it('by lists that somebody puts them on and takes them from', async () => {
    const { lead } = await entered('form_plain', { mail: 'lists@ways.example', first: 'Li' }, 0)
    await act(lead, 10, { do: 'lists', lists: [ids.list, ids.other, randomUUID()] })
    const on = await of(lead)
    await act(lead, 20, { do: 'lists', lists: [ids.other] })
    const off = await of(lead)
    await entered('form_plain', { mail: 'lists@ways.example' }, 30)
    expect([on, off, await of(lead)].join('')).toMatchSnapshot()
  })
  it('by a table of people, which fills gaps or replaces', async () => {
    const { lead } = await entered('form_plain', { mail: 'table@ways.example', first: 'Tab' }, 0)
    const csv =
      'email,first name,sector,phone\ntable@ways.example,Tabea,school,06 11 22 33 44\nfresh@ways.example,Fre,school,06 11 22 33 55\n'
    const { leads } = await bring(csv, 10)
    const fresh = leads.find(l => l !== lead)!
    const filled = (await of(lead)) + (await of(fresh))
    await bring(csv, 20, true)
    expect(filled + (await of(lead))).toMatchSnapshot()
  })
  it('by interest that fades, until the label falls', async () => {
    const { lead } = await entered('form_plain', { mail: 'fade@ways.example', first: 'Fa' }, 0)
    const fresh = await of(lead)
    at(3 * 24 * 60)
    await sql`update lead set judge_at = null where id <> ${lead}`
    await judgeDue(sql, Date.now)
    expect(fresh + (await of(lead))).toMatchSnapshot()
  })
})
