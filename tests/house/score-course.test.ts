import { describe, expect, it } from 'vitest'
import { interestThen, scoreThen } from '#core/scoring/course'
import type { CrossedLine, ProofView, ScoreCourseView } from '#core/team'
import { readDatabase, send, signedIn, somebody } from '../support/house'

describe('a score over time', () => {
  it('comes to what the lead has now, and each label to the one that it carries', async () => {
    const as = await signedIn('jonah')
    const leads = await readDatabase(
      sql => sql<{ id: string; label: string | null; fit: number }[]>`
      select id, label, fit from lead where submitted_at is not null order by md5(id::text) limit 40`,
    )
    for (const { id, label, fit } of leads) {
      const { moments, next } = (await (await as(`/api/team/leads/${id}/score`)).json()) as ScoreCourseView
      const { lead } = (await (await as(`/api/team/leads/${id}`)).json()) as { lead: { fit: number; interest: number } }
      const now = Date.now()
      const then = scoreThen(moments, now)
      expect([then.fit, then.label]).toEqual([fit, label])
      // Between the two answers a rounding may have turned.
      expect(Math.abs(then.interest - lead.interest)).toBeLessThanOrEqual(1)
      expect(moments.map(m => m.at)).toEqual(moments.map(m => m.at).toSorted((a, b) => a - b))
      for (const m of moments) expect(m.sentence.length).toBeGreaterThan(0)
      if (next) {
        expect(Date.parse(next.at)).toBeGreaterThan(now)
        expect(next.label).not.toBe(label)
        expect(interestThen(moments, Date.parse(next.at))).toBeLessThan(interestThen(moments, now))
      }
    }
    expect((await as('/api/team/leads/00000000-0000-7000-8000-000000000000/score')).status).toBe(404)
  })
})

describe('the proof', () => {
  const proof = async (query: string) => {
    const answer = await (await signedIn('jonah'))(`/api/team/scorecard/proof?${query}`)
    return { status: answer.status, body: (await answer.json()) as ProofView & { detail: string } }
  }
  it('is of all who came in the time, counted or said to be left out, by a plain count of what they came to', async () => {
    const { body } = await proof('goal=won&days=0&span=365')
    const [{ leads, won }] = await readDatabase(
      sql => sql<[{ leads: number; won: number }]>`
      select count(*)::int as leads, count(*) filter (where w.at > l.created_at and l.created_at <= now() - make_interval(days => ${body.within}))::int as won
      from lead l left join lateral (select min(at) as at from lead_event where lead_id = l.id and changes->'status'->>'to' = 'won') w on true
      where l.submitted_at is not null and l.created_at > now() - interval '365 days'`,
    )
    expect(Math.abs(body.whole.people + body.young + body.early - leads)).toBeLessThanOrEqual(2)
    expect(body.whole.reached).toBe(won)
    expect(won).toBeGreaterThan(0)
    expect(body.rules.length).toBeGreaterThan(5)
    expect(body.cards.map(c => c.number)).toEqual([1])
  })
  it('refuses a goal that is none, and times beyond sense', async () => {
    for (const query of ['goal=nothing', 'days=-1', 'days=x', 'span=0', 'span=99999999', 'goal=won&goal=lost'])
      expect([query, (await proof(query)).status]).toEqual([query, 422])
  })
})

describe('who has just crossed a line', () => {
  it('is who came to another label in the last days, the latest first, with what brought them there', async () => {
    const email = somebody('crossed')
    await send(
      'form_visit',
      JSON.stringify({
        answers: { email, sector: 'school', size: 'large', timing: 'this_season', first_name: 'Cross', last_name: 'Line' },
        took: 9000,
      }),
    )
    const { crossed } = (await (await (await signedIn('jonah'))('/api/team/scorecard/crossed')).json()) as { crossed: CrossedLine[] }
    const [lead] = await readDatabase(
      sql => sql<{ id: string; label: string | null }[]>`select id, label from lead where email_key = ${email}`,
    )
    expect(crossed.find(c => c.lead === lead!.id)).toMatchObject({
      from: null,
      to: lead!.label,
      why: expect.stringMatching(/^filled in “/),
    })
    expect(crossed.map(c => c.at)).toEqual(
      crossed
        .map(c => c.at)
        .toSorted()
        .reverse(),
    )
    expect(crossed.length).toBeLessThanOrEqual(12)
  })
})
