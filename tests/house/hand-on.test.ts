import { beforeAll, describe, expect, it } from 'vitest'
import type { HandOnLead, HandOnView, LeadView } from '#core/team'
import { cookieOf, demo, eventually, send, signedIn, somebody } from '../support/house'

type Ask = Awaited<ReturnType<typeof signedIn>>
let [ansel, tamsin] = [] as unknown as [Ask, Ask]
let jonah = ''
beforeAll(async () => {
  ;[ansel, tamsin] = (await Promise.all(['ansel', 'tamsin'].map(signedIn))) as [Ask, Ask]
  jonah = ((await (await ansel('/api/team/house')).json()) as { members: { id: string; name: string }[] }).members.find(m =>
    m.name.startsWith('Jonah'),
  )!.id
})
const json = async <T>(answer: Response) => (await answer.json()) as T

describe('handing on', () => {
  it('names who is away or will be soon, and their open leads, who waits first', async () => {
    const day = (n: number) => new Date(Date.now() + n * 86_400_000).toISOString().slice(0, 10)
    const before = await json<HandOnView>(await ansel('/api/team/hand-on'))
    const away = await ansel('/api/team/absences', 'POST', { member: jonah, from: day(9), until: day(12), standIn: null })
    expect(away.status).toBe(201)
    const { id } = await json<{ id: string }>(away)
    try {
      const { people } = await json<HandOnView>(await ansel('/api/team/hand-on'))
      expect(people.find(p => p.id === jonah)).toMatchObject({ why: 'soon', standIn: null, open: expect.any(Number) })
      const email = somebody('hand-on')
      await send('form_visit', { email, first_name: 'Ida', last_name: 'Quay', company: 'Quay', sector: 'school', size: 'large' })
      const lead = await eventually(
        async () => (await json<{ leads: LeadView[] }>(await ansel(`/api/team/leads?search=${email}`))).leads[0],
      )
      await ansel(`/api/team/leads/${lead.id}/owner`, 'PUT', { owner: jonah })
      const { leads } = await json<{ leads: HandOnLead[] }>(await ansel(`/api/team/hand-on/${jonah}`))
      const waiting = leads.map(l => l.waitingSince !== null)
      expect([leads.some(l => l.id === lead.id), waiting]).toEqual([true, waiting.toSorted((a, b) => Number(b) - Number(a))])
    } finally {
      await ansel(`/api/team/absences/${id}`, 'DELETE')
    }
    expect((await json<HandOnView>(await ansel('/api/team/hand-on'))).people.map(p => p.id)).toEqual(before.people.map(p => p.id))
    expect((await tamsin('/api/team/hand-on')).status).toBe(403)
  })
})

const event = (lines: string[]) => [
  'BEGIN:VEVENT',
  `UID:${Math.random()}@calendar.example`,
  'DTSTAMP:20260101T000000Z',
  ...lines,
  'END:VEVENT',
]
const calendar = (...events: string[][]) =>
  ['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//A//B//EN', ...events.flat(), 'END:VCALENDAR'].join('\r\n')
describe('holidays out of a calendar file', () => {
  let cookie = ''
  beforeAll(async () => {
    cookie = await cookieOf('ansel')
  })
  const bring = (text: string, look = false) =>
    fetch(`${demo().url}/api/team/holidays/calendar${look ? '?look=true' : ''}`, {
      method: 'POST',
      headers: { cookie, 'content-type': 'text/calendar' },
      body: text,
    })
  it('are looked at first, added once, and go away again one by one', async () => {
    const year = new Date().getUTCFullYear() + 1
    const file = calendar(event([`DTSTART;VALUE=DATE:${year}0704`, `DTEND;VALUE=DATE:${year}0706`, 'SUMMARY:Moss fair']))
    const days = [{ from: `${year}-07-04`, until: `${year}-07-05`, name: 'Moss fair', isNew: true }]
    expect(await json(await bring(file, true))).toEqual({ days, passed: 0 })
    expect(await json(await bring(file))).toEqual({ days, passed: 0 })
    expect(await json(await bring(file))).toEqual({ days: [{ ...days[0], isNew: false }], passed: 0 })
    const { house } = await json<{ house: { holidays: { id: string; name: string }[] } }>(await ansel('/api/team/house'))
    const own = house.holidays.filter(h => h.name === 'Moss fair')
    expect(own).toHaveLength(1)
    expect((await ansel(`/api/team/holidays/${own[0]!.id}`, 'DELETE')).status).toBe(204)
    for (const bad of ['nonsense', calendar(), 'BEGIN:VCALENDAR\r\nEND:VCARD']) expect((await bring(bad)).status).toBe(422)
  })
})
