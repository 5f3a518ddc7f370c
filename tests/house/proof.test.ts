import { solveChallenge } from 'altcha-lib/v1'
import { describe, expect, it } from 'vitest'
import { form } from '../support/forms'
import { ask, demo, signedIn, somebody } from '../support/house'
import { letIn, reviewed } from '../support/review'

interface Challenge {
  algorithm: string
  challenge: string
  salt: string
  signature: string
  maxnumber: number
}
const post = async (key: string, body: object) => {
  const answer = await fetch(`${demo().url}/w/points/${key}/entries`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  return { status: answer.status, body: (await answer.json()) as { challenge?: Challenge; entry?: string } }
}
const guarded = (challenge: 'always' | 'never') =>
  form(d => {
    d.guards = { ...d.guards, challenge }
  })
const solved = async (c: Challenge) =>
  Buffer.from(
    JSON.stringify({ ...c, number: (await solveChallenge(c.challenge, c.salt, c.algorithm, c.maxnumber).promise)!.number }),
  ).toString('base64')

describe('a form that asks for a proof of work', () => {
  it('takes an entry with a proof, once, for this form, and only one that was worked out', async () => {
    const { key } = await guarded('always')
    const answers = { email: somebody('proof') }
    const asked = await post(key, { answers })
    expect(asked.status).toBe(428)
    const proof = await solved(asked.body.challenge!)
    const guessed = Buffer.from(JSON.stringify({ ...asked.body.challenge, number: -1 })).toString('base64')
    for (const bad of ['', 'x', guessed, Buffer.from('null').toString('base64'), Buffer.from('{"signature":1}').toString('base64')])
      expect((await post(key, { answers, proof: bad })).status).toBe(428)
    const other = await guarded('always')
    expect((await post(other.key, { answers, proof })).status).toBe(428)
    expect((await post(key, { answers, proof })).status).toBe(201)
    expect((await post(key, { answers: { email: somebody('proof') }, proof })).status).toBe(428)
    expect((await ask<{ leads: unknown[] }>(`/api/v1/leads?email=${answers.email}`)).leads).toHaveLength(1)
  })
  it('holds what comes without a script, for somebody to look at', async () => {
    const f = await guarded('always')
    const email = somebody('noscript')
    const answer = await fetch(`${demo().url}/w/points/${f.key}/entries`, {
      method: 'POST',
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      body: new URLSearchParams({ email }).toString(),
      redirect: 'manual',
    })
    expect(answer.status).toBe(303)
    const orla = await signedIn('orla')
    const review = (await reviewed(orla)).find(a => a.email === email)!
    expect(review).toMatchObject({ state: 'held', reason: 'unproven' })
    await letIn(orla, review.id)
  })
})

it('a form asks for a proof by itself while machines are at it, and no other form does', async () => {
  const [f, quiet] = [await form(() => {}), await form(() => {})]
  expect((await post(f.key, { answers: { email: somebody('calm') } })).status).toBe(201)
  for (let i = 0; i < 20; i++) await post(f.key, { answers: { email: somebody('machine') }, homepage: 'https://spam.example' })
  expect((await post(f.key, { answers: { email: somebody('now') } })).status).toBe(428)
  expect((await post(quiet.key, { answers: { email: somebody('now') } })).status).toBe(201)
})
