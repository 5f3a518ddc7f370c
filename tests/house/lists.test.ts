import { expect, it } from 'vitest'
import { does, form } from '../support/forms'
import { ask, send, signedIn, somebody } from '../support/house'

it('people are put on lists by a form and by hand, and found by them', async () => {
  const orla = await signedIn('orla')
  const name = `Spring ${Date.now()}`
  const { id } = (await (await orla('/api/team/lists', 'POST', { name })).json()) as { id: string }
  expect((await orla('/api/team/lists', 'POST', { name: name.toUpperCase() })).status).toBe(422)
  const { key } = await form(d => {
    does(d, 'list', { lists: [id] })
  })
  const [one, two] = [somebody('list'), somebody('list')]
  for (const email of [one, one, two]) await send(key, { email })
  const on = async () => (await ask<{ leads: { id: string; email: string }[] }>(`/api/v1/leads?list=${id}`)).leads
  expect((await on()).map(l => l.email).sort()).toEqual([one, two].sort())
  const lead = (await on()).find(l => l.email === one)!
  expect(((await (await orla(`/api/team/leads/${lead.id}`)).json()) as { lists: string[] }).lists).toEqual([id])
  expect((await orla(`/api/team/leads/${lead.id}/lists`, 'PUT', { lists: [] })).status).toBe(204)
  expect((await on()).map(l => l.email)).toEqual([two])
  expect((await orla(`/api/team/leads/${lead.id}/lists`, 'PUT', { lists: ['nonsense'] })).status).toBe(422)
})
it('a form does not go live with a list that is not there', async () => {
  const gone = await form(d => {
    does(d, 'list', { lists: ['01930000-0000-7000-8000-0000000000fd'] })
  })
  expect((await gone.publish(gone.revision)).body.errors!.map(e => e.field)).toEqual(['actions.0.lists'])
})
