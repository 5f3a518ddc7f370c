import { beforeAll, describe, expect, it } from 'vitest'
import { ask, signedIn, somebody } from '../support/house'

type As = Awaited<ReturnType<typeof signedIn>>
const NOBODY = '01930000-0000-7000-8000-0000000000ff'
const tag = (value: string) => ({ attribute: 'tag', is: 'equal', value })
let tamsin: As
const made = async (path: string, body: object) => ((await (await tamsin(path, 'POST', body)).json()) as { id: string }).id
const flaws = async (answer: Promise<Response>) => {
  const came = await answer
  return [came.status, came.status === 422 ? ((await came.json()) as { errors: { field: string }[] }).errors.map(e => e.field) : []]
}
beforeAll(async () => {
  tamsin = await signedIn('tamsin')
})

describe('a segment', () => {
  it('is made, found by programs, used by another, and not taken away while it is', async () => {
    const [one, two] = [`One ${Date.now()}`, `Two ${Date.now()}`]
    const first = await made('/api/team/segments', { name: one, condition: { attribute: 'property.sector', is: 'equal', value: 'school' } })
    const second = await made('/api/team/segments', {
      name: two,
      condition: {
        all: [
          { attribute: 'segment', is: 'equal', value: first },
          { attribute: 'fit', is: 'at_least', value: 40 },
        ],
      },
    })
    const leads = async (id: string) =>
      (await ask<{ leads: { id: string; properties: { sector?: string }; fit: number }[] }>(`/api/v1/leads?segment=${id}&limit=200`)).leads
    const [schools, some] = [await leads(first), await leads(second)]
    expect(schools.length).toBeGreaterThan(some.length)
    expect(new Set(schools.map(l => l.properties.sector))).toEqual(new Set(['school']))
    expect(some.every(l => l.fit >= 40 && l.properties.sector === 'school')).toBe(true)
    expect((await tamsin(`/api/team/segments/${first}`, 'DELETE')).status).toBe(409)
    // Round a corner it would come back to itself.
    expect(
      await flaws(
        tamsin(`/api/team/segments/${first}`, 'PUT', {
          name: one,
          condition: { none: [{ attribute: 'segment', is: 'equal', value: second }] },
        }),
      ),
    ).toEqual([422, ['condition']])
    for (const id of [second, first]) expect((await tamsin(`/api/team/segments/${id}`, 'DELETE')).status).toBe(204)
    expect((await (await signedIn('jonah'))('/api/team/segments', 'POST', { name: 'Mine', condition: { all: [] } })).status).toBe(403)
  })
  it.each([
    [{ name: ' ', condition: { all: [] } }, ['name']],
    [{ name: 'gone QUIET', condition: { all: [] } }, ['name']],
    [{ name: 'x', condition: { did: 'fly' } }, ['condition.did']],
    [{ name: 'x', condition: { all: [{ did: 'page', where: { did: 'page' } }] } }, ['condition.all.0.where']],
    [{ name: 'x', condition: { did: 'page', times: 0 } }, ['condition.times']],
  ])('that cannot be is refused with the place: %j', async (body, fields) => {
    expect(await flaws(tamsin('/api/team/segments', 'POST', body))).toEqual([422, fields])
  })
  it('is counted whatever is typed into it', async () => {
    for (const value of ['%_\\\'"; drop table lead; --', '\u0000\ud800', '🌱'.repeat(40)]) {
      const answer = await tamsin('/api/team/segments/count', 'POST', {
        condition: { any: [tag(value), { attribute: 'property.first_name', is: 'contains', value }] },
      })
      expect([answer.status, ((await answer.json()) as { leads: number }).leads]).toEqual([200, 0])
    }
  })
})

describe('people of a table', () => {
  it('come onto a list, new ones and known ones, and only gaps are filled unless somebody says otherwise', async () => {
    const id = await made('/api/team/lists', { name: `Table ${Date.now()}` })
    const [one, two] = [somebody('table'), somebody('table')]
    const bring = async (csv: string, replace = false, dryRun = false) =>
      (await (await tamsin(`/api/team/lists/${id}/people`, 'POST', { csv, replace, dryRun })).json()) as {
        fresh: number
        known: number
        wrong: number
      }
    const csv = `First name\tE-mail\tSector\nIda\t${one}\tA school or college\nBo\t${two}\t\n`
    expect(await bring(csv, false, true)).toMatchObject({ fresh: 2, known: 0, wrong: 0 })
    expect((await ask<{ leads: object[] }>(`/api/v1/leads?list=${id}`)).leads).toEqual([])
    expect(await bring(csv)).toMatchObject({ fresh: 2, known: 0 })
    expect(await bring(`email,first name\n${one.toUpperCase()},Other`)).toMatchObject({ fresh: 0, known: 1 })
    const names = async () =>
      (
        await ask<{ leads: { email: string; firstName: string; owner: object | null; submitted: boolean; fit: number }[] }>(
          `/api/v1/leads?list=${id}`,
        )
      ).leads.sort((a, b) => (a.email < b.email ? -1 : 1))
    expect(await names()).toMatchObject([
      { firstName: 'Ida', owner: null, submitted: true, fit: 35 },
      { firstName: 'Bo', fit: 0 },
    ])
    await bring(`email,first name\n${one},Other`, true)
    expect((await names())[0]).toMatchObject({ firstName: 'Other' })
  })
  it('that cannot be read are refused with what to do, and nothing is kept', async () => {
    const id = await made('/api/team/lists', { name: `Refused ${Date.now()}` })
    const bring = (csv: string, more: object = {}) =>
      flaws(tamsin(`/api/team/lists/${id}/people`, 'POST', { csv, replace: false, dryRun: false, ...more }))
    for (const csv of ['', 'email,name', 'email,x\n"a,b']) expect(await bring(csv)).toEqual([422, ['csv']])
    expect(await bring('x,y\n1,2')).toEqual([422, ['line 1']])
    expect(await bring('email\nnobody')).toEqual([422, ['line 2']])
    expect(await bring('a,b\n1,2', { columns: ['email', 'email'] })).toEqual([422, ['csv']])
    expect(
      (await tamsin(`/api/team/lists/${NOBODY}/people`, 'POST', { csv: 'email\nx@y.example', replace: false, dryRun: true })).status,
    ).toBe(404)
    expect((await ask<{ leads: object[] }>(`/api/v1/leads?list=${id}`)).leads).toEqual([])
  })
})
