import { afterAll, describe, expect, it } from 'vitest'
import { connect } from '#db/client'
import { createHub } from '#server/live/hub'
import { say, type Change } from '#server/live/say'
import { rulesetCache } from '#server/ruleset'
import { eventually, send, signedIn, somebody } from '../support/house'

const url = process.env.CAVLIN_TEST_CLUSTER!
const sql = connect(url, { max: 2 })
afterAll(() => sql.end())

/** What a screen hears that looks at these. */
async function stream(as: Awaited<ReturnType<typeof signedIn>>, query: string) {
  const answer = await as(`/api/team/live?${query}`)
  expect(answer.headers.get('content-type')).toBe('text/event-stream')
  const reader = answer.body!.getReader()
  let text = ''
  void (async () => {
    for (let part = await reader.read(); !part.done; part = await reader.read()) text += new TextDecoder().decode(part.value)
  })().catch(() => {})
  const heard = () => [...text.matchAll(/^data: (\{.*\})$/gm)].map(m => JSON.parse(m[1]!) as Change & { hello?: true })
  await eventually(async () => heard()[0]?.hello)
  return { heard: () => heard().slice(1), close: () => reader.cancel().catch(() => {}) }
}
const pointsOf = async (as: Awaited<ReturnType<typeof signedIn>>) =>
  (await (await as('/api/team/points')).json()) as { id: string; name: string }[]

describe('a screen', () => {
  it('hears of what it looks at, and of nothing else', async () => {
    const marketer = await signedIn('tamsin')
    const [one, two] = await pointsOf(marketer)
    const [first, second, leads] = await Promise.all([
      stream(marketer, `drafts=${one!.id}`),
      stream(marketer, `drafts=${two!.id}&presence=${two!.id}`),
      stream(marketer, 'leads=*'),
    ])
    const { name, workingCopy, revision } = (await (await marketer(`/api/team/points/${one!.id}`)).json()) as {
      name: string
      workingCopy: object
      revision: number
    }
    expect((await marketer(`/api/team/points/${one!.id}`, 'PUT', { name, definition: workingCopy, revision })).status).toBe(200)
    await marketer(`/api/team/points/${two!.id}/here`, 'POST')
    await eventually(async () => second.heard().length)
    await send('form_journal', { email: somebody('live') })
    await eventually(async () => leads.heard().length)
    expect(first.heard()).toEqual([{ drafts: [one!.id] }])
    expect(second.heard().map(c => Object.keys(c))).toEqual([['presence', 'here']])
    expect(
      leads
        .heard()
        .flatMap(c => Object.keys(c))
        .filter(k => k !== 'leads'),
    ).toEqual([])
    for (const s of [first, second, leads]) await s.close()
  })
  it('hears of its own notices only, and begins with what it asks for of the last moments', async () => {
    const [jonah, tamsin] = [await signedIn('jonah'), await signedIn('tamsin')]
    const id = async (as: typeof jonah) => ((await (await as('/api/session')).json()) as { id: string }).id
    const [his, hers] = [await id(jonah), await id(tamsin)]
    const own = await stream(jonah, `notices=${hers}`)
    await say(sql, { notices: [hers, his] })
    await eventually(async () => own.heard().length)
    expect(own.heard()).toEqual([{ notices: [his] }])
    const later = await stream(jonah, 'notices=*&lately=5000')
    expect(later.heard()).toEqual([{ notices: [his] }])
    const newcomer = await stream(jonah, 'notices=*')
    const longAway = await stream(jonah, 'leads=*&lately=999999999')
    expect([newcomer.heard(), longAway.heard()]).toEqual([[], [{ leads: true }]])
    for (const s of [own, later, newcomer, longAway]) await s.close()
  })
  it.each(['leads=', 'leads=a%20b', 'leads=a&leads=b', 'lately=soon', 'lately=-1'])('is told that %s cannot be read', async query => {
    const answer = await (await signedIn('jonah'))(`/api/team/live?${query}`)
    expect([answer.status, ((await answer.json()) as { detail: string }).detail]).toEqual([
      422,
      expect.stringMatching(/^“(leads|lately)” cannot be read: write /),
    ])
  })
})

it('a hub hears changes of more ids than one notification carries, whole, and remembers them for a moment', async () => {
  const hub = createHub(url)
  const heard: Change[] = []
  expect(hub.lately(0)).toMatchObject({ leads: true, segments: true })
  const stop = hub.start()
  hub.hear(change => heard.push(change))
  const ids = Array.from({ length: 950 }, (_, i) => `00000000-0000-7000-8000-${String(i).padStart(12, '0')}`)
  await eventually(async () => {
    await say(sql, { styles: true })
    return heard.length
  })
  const listening = Date.now()
  await say(sql, { leads: ids, site: true, jobs: true })
  await eventually(
    async () => new Set(heard.flatMap(c => (c.leads === true ? [] : (c.leads ?? []))).filter(id => ids.includes(id))).size === ids.length,
  )
  const lately = hub.lately(Date.now() - listening)
  expect((lately.leads as string[]).filter(id => ids.includes(id)).length).toBe(ids.length)
  expect(lately.site).toBe(true)
  expect(lately).not.toHaveProperty('jobs')
  expect(lately).not.toHaveProperty('segments')
  await stop()
})

it('what is kept in memory falls when something changed of which it is made, and only then', async () => {
  const cache = rulesetCache(sql)
  const [journal, guide] = await Promise.all([cache.point('form_journal'), cache.point('form_guide')])
  const kept = () => [cache.ruleset(), cache.point('form_journal'), cache.point('form_guide'), cache.point('form_that_is_none')]
  const fallenBy = async (change: Change) => {
    const before = kept()
    await Promise.all(before)
    cache.forget(change)
    const after = kept()
    return ['ruleset', 'journal', 'guide', 'none'].filter((_, i) => before[i] !== after[i])
  }
  expect(await fallenBy({ drafts: [journal!.id], leads: true, trail: true, deliveries: true, presence: true })).toEqual([])
  expect(await fallenBy({ lists: true })).toEqual(['ruleset'])
  expect(await fallenBy({ points: [guide!.id] })).toEqual(['ruleset', 'guide', 'none'])
  expect(await fallenBy({ styles: true })).toEqual(['journal', 'guide', 'none'])
  expect(await fallenBy({ colleagues: true, segments: true })).toEqual(['ruleset'])
})
